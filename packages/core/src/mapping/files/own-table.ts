import { CUSTOM_PREFIX, STANDARD_FIELDS, type Catalogue, type FieldDefinition, type FieldType } from '../../fields';
import { KIND } from '../../model';
import type { ColumnMapping, Mapping } from '../mapping';
import { ACTIVITY_TARGETS } from '../rows/activity-cells';
import { PERMISSION_TARGETS } from '../rows/permission-cells';
import { ADDRESS_PARTS, PART_NAMES, type AddressPart } from '../targets';

/** First headings of a table of contacts that was taken out here; by them it is known when it comes back. */
export const OWN_HEADINGS = ['Contact number', 'Kind'] as const;

/** Whether a table was taken out here, by its headings. */
export const isOwnTable = (headers: readonly (string | null)[]): boolean =>
  OWN_HEADINGS.every((heading, i) => headers[i] === heading);

/** Types of which a contact may have several values, each in a column of its own. */
const IN_COLUMNS: readonly FieldType[] = ['email', 'tel', 'url', 'address'];

/** Whether a field's values stand in columns of their own, and not together in one cell. */
export function standsInColumns({ key, type, several }: FieldDefinition): boolean {
  return several && (IN_COLUMNS.includes(type) || key === 'externalId' || key === 'otherDate');
}

/** "E-mail", "E-mail 2", ...: heading of the nth value of a field, from 0. */
export function ownHeading(name: string, nth: number): string {
  return nth ? `${name} ${nth + 1}` : name;
}

export function ownLabelHeading(name: string, nth: number): string {
  return `${ownHeading(name, nth)} label`;
}

interface Meaning {
  target: string;
  nth: number;
  isLabel: boolean;
}

function meaningsOf(fields: readonly FieldDefinition[], most: number): Map<string, Meaning> {
  const meanings = new Map<string, Meaning>([['Kind', { target: KIND, nth: 0, isLabel: false }]]);
  const put = (heading: string, target: string, nth: number, isLabel = false) => {
    if (!meanings.has(heading)) meanings.set(heading, { target, nth, isLabel });
  };
  for (const [key, name] of [...PERMISSION_TARGETS, ...ACTIVITY_TARGETS]) put(name, key, 0);
  for (const field of fields) {
    const times = standsInColumns(field) ? most : 1;
    for (let nth = 0; nth < times; nth++) {
      if (field.type === 'address') for (const part of ADDRESS_PARTS) put(ownHeading(PART_NAMES[part], nth), part, nth);
      else put(ownHeading(field.type === 'tag' ? 'Tags' : field.name, nth), field.key, nth);
      if (standsInColumns(field)) put(ownLabelHeading(field.name, nth), field.key, nth, true);
    }
  }
  return meanings;
}

/**
 * The mapping of a table that was taken out of a workspace, told by its headings alone; null for any other table. What
 * stands in it is read back as it was: labels from their own columns, dates and numbers as they were written.
 */
export function ownMapping(headers: readonly (string | null)[], catalogue: Catalogue, base: Mapping): Mapping | null {
  if (!isOwnTable(headers)) return null;
  const own = catalogue.fields.filter(({ key }) => key.startsWith(CUSTOM_PREFIX));
  const meanings = meaningsOf([...STANDARD_FIELDS, ...own], headers.length);
  const labelColumns = new Map<string, number>();
  headers.forEach((header, column) => {
    const meaning = meanings.get(header ?? '');
    if (meaning?.isLabel) labelColumns.set(`${meaning.target}\n${meaning.nth}`, column);
  });
  const columns = headers.map((header, column): ColumnMapping => {
    const meaning = meanings.get(header ?? '');
    const used = meaning && !meaning.isLabel && meaning.target !== 'related';
    const family = used ? ((ADDRESS_PARTS as readonly string[]).includes(meaning.target) ? 'adr' : meaning.target) : '';
    const labelFrom = used ? labelColumns.get(`${family}\n${meaning.nth}`) : undefined;
    return {
      column,
      header,
      target: used ? meaning.target : null,
      label: null,
      ...(labelFrom === undefined ? {} : { labelFrom }),
      ...(used && meaning.nth && family === 'adr' ? { nth: meaning.nth } : {}),
      dateOrder: 'iso',
      decimal: '.',
      separator: ';',
      newField: null,
      onBad: 'hold',
    };
  });
  return { ...base, columns, numberColumn: 0 };
}

/** Headings of an address's parts. */
export function addressHeading(part: AddressPart, nth: number): string {
  return ownHeading(PART_NAMES[part], nth);
}
