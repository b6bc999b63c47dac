import { countryName, STANDARD_FIELDS, typeValue } from '../../fields';
import type { JsonObject } from '../../formats';
import { isAddress, isRelation, type ValueContent } from '../../model';
import { OWN_HEADINGS, ownHeading, ownLabelHeading, standsInColumns } from './own-table';
import { PERMISSION_TARGETS } from '../rows/permission-cells';
import { ADDRESS_PARTS, PART_NAMES } from '../targets';

/** A field of a line that was taken out here. */
interface OwnField {
  field: string;
  values: { value: ValueContent; label?: string }[];
}

const byName = new Map(STANDARD_FIELDS.map((field) => [field.name, field]));
/** Made from other fields, or of no use in a table. */
const LEFT_OUT = new Set(['fullName', 'photo', 'related']);

function fieldsOf(line: JsonObject): OwnField[] | null {
  const { id, kind, fields } = line;
  if (typeof id !== 'number' || typeof kind !== 'string' || !Array.isArray(fields)) return null;
  return fields.every((one) => typeof one === 'object' && one !== null && 'field' in one && 'values' in one)
    ? (fields as unknown as OwnField[])
    : null;
}

function partsOf({ field: name, values }: OwnField): [heading: string, text: string][] {
  const field = byName.get(name);
  if (field && LEFT_OUT.has(field.key)) return [];
  if (!field || !standsInColumns(field)) {
    const texts = values.filter(({ value }) => !isRelation(value)).map(({ value }) => typeValue({ v: value }));
    return [[field?.type === 'tag' ? 'Tags' : name, texts.join('; ')]];
  }
  return values.flatMap(({ value, label }, nth): [string, string][] => {
    const said: [string, string][] = isAddress(value)
      ? ADDRESS_PARTS.map((part) => [
          ownHeading(PART_NAMES[part], nth),
          part === 'country' && value.country ? countryName(value.country) : (value[part] ?? ''),
        ])
      : [[ownHeading(name, nth), typeValue({ v: value })]];
    return label ? [...said, [ownLabelHeading(name, nth), label]] : said;
  });
}

/** What a line says of permissions, by the headings of a table. */
function permissionsOf({ permissions }: JsonObject): [heading: string, text: string][] {
  return Object.entries(permissions ?? {}).flatMap(([channel, state]): [string, string][] => {
    const heading = PERMISSION_TARGETS.find(([key]) => key === `may.${channel}`)?.[1];
    return heading ? [[heading, state === 'optedOut' ? 'stop' : String(state)]] : [];
  });
}

/**
 * The table of contacts that were taken out of a workspace as lines of JSON, as it would have been taken out as a table; null
 * for any other lines. The first row is the heading.
 */
export function tableOfOwnLines(lines: readonly JsonObject[]): string[][] | null {
  const columns = new Map<string, number>(OWN_HEADINGS.map((heading, i) => [heading, i]));
  const rows: string[][] = [];
  for (const line of lines) {
    const fields = fieldsOf(line);
    if (!fields) return null;
    const row = [String(line.id), String(line.kind)];
    for (const [heading, text] of [...fields.flatMap(partsOf), ...permissionsOf(line)]) {
      const at = columns.get(heading) ?? columns.size;
      columns.set(heading, at);
      row[at] = text;
    }
    rows.push(row);
  }
  const headings = [...columns.keys()];
  return [headings, ...rows.map((row) => headings.map((_, i) => row[i] ?? ''))];
}
