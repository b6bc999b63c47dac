import { isRelation, kindOf, valuesOf, type AddressValue, type ContactRecord, type Value } from '@gray-loom/core/model';
import {
  countryName,
  displayNameOf,
  formatPhone,
  showValue,
  typeValue,
  type Catalogue,
  type FieldDefinition,
} from '@gray-loom/core/fields';
import { CHANNELS, type Channel, type PermissionState } from '@gray-loom/core/writing';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import {
  ADDRESS_PARTS,
  addressHeading,
  OWN_HEADINGS,
  ownHeading,
  ownLabelHeading,
  PERMISSION_TARGETS,
  standsInColumns,
} from '@gray-loom/core/mapping';
import type { ContactFilter } from '@gray-loom/wire';
import { activitiesOfContacts } from '../../book/statements/activities';
import type { Database } from '../../db/connect';
import { contactConditions } from './contact-filter';
import { readyFilter, type ReadyFilter } from './ready-filter';
import { mostOfEachField, recordsAfter } from './statements/filtered-contacts';
import { loadCatalogue } from '../../book/picks';
import { channelStates } from './permissions';

const PAGE = 1000;
/** Made from other fields, or of no use in a table. */
const LEFT_OUT = new Set(['fullName', 'photo']);

/** Where the channels of a contact stand. */
type States = Record<Channel, PermissionState>;

export interface ExportColumn {
  header: string;
  read: (record: ContactRecord, states: States | undefined) => string;
}

/** What an export calls the permissions, all channels at once. */
const PERMISSIONS_KEY = 'permissions';
const STATE_WORDS: Record<PermissionState, string> = { allowed: 'allowed', optedOut: 'stop', unknown: '' };

/** A column for each channel, which reads back as what it says. */
const PERMISSION_COLUMNS: readonly ExportColumn[] = CHANNELS.map((channel) => ({
  header: PERMISSION_TARGETS.find(([key]) => key === `may.${channel}`)?.[1] ?? channel,
  read: (_record, states) => STATE_WORDS[states?.[channel] ?? 'unknown'],
}));

/** How many columns the values of each field take, and whether any of them has a label. */
export type ColumnNeeds = ReadonlyMap<string, { most: number; labelled: boolean }>;

function textOfPart(address: AddressValue | undefined, part: keyof AddressValue): string {
  if (!address) return '';
  return part === 'country' && address.country ? countryName(address.country) : (address[part] ?? '');
}

function columnsOf(field: FieldDefinition, needs: ColumnNeeds): ExportColumn[] {
  if (!standsInColumns(field))
    return [
      {
        header: field.type === 'tag' ? 'Tags' : field.name,
        read: (record) =>
          valuesOf(record, field.key)
            .map((value) => textOf(field.key, value))
            .join('; '),
      },
    ];
  const { most = 1, labelled = false } = needs.get(field.key) ?? {};
  return Array.from({ length: Math.max(1, most) }, (_, nth): ExportColumn[] => {
    const value = (record: ContactRecord) => valuesOf(record, field.key)[nth];
    const own: ExportColumn[] =
      field.type === 'address'
        ? ADDRESS_PARTS.map((part) => ({
            header: addressHeading(part, nth),
            read: (record) => textOfPart(value(record)?.v as AddressValue | undefined, part),
          }))
        : [
            {
              header: ownHeading(field.name, nth),
              read: (record) => {
                const one = value(record);
                if (!one) return '';
                return field.type === 'tel' && one.norm ? formatPhone(one.norm) : typeValue(one);
              },
            },
          ];
    if (!labelled) return own;
    return [...own, { header: ownLabelHeading(field.name, nth), read: (record) => value(record)?.label ?? '' }];
  }).flat();
}

/** Fields that get a column for each value. */
const SEVERAL = ['email', 'tel', 'url', 'adr', 'externalId', 'otherDate'];

/** Looks at what a filter finds: how many values of each field one contact has at most. */
async function needsOf({ pool }: Database, filter: ReadyFilter): Promise<ColumnNeeds> {
  const { rows } = await mostOfEachField(pool, contactConditions(filter), SEVERAL);
  return new Map(rows.map(({ key, most, labelled }) => [key, { most, labelled }]));
}

/** What reads back as the same value; for a relationship its words. */
function textOf(field: string, value: Value): string {
  if (!isRelation(value.v)) return typeValue(value);
  const { relation, to, name } = value.v;
  return to === null ? showValue(field, value) : `${relation}: contact ${to}${name ? ` (${name})` : ''}`;
}

export interface ExportedContact {
  id: number;
  touchedAt: Date;
  record: ContactRecord;
}

/** The contacts of a filter as a stream of text, page by page; memory does not grow with their number. Ordered by id. */
export function streamContacts(
  { pool }: Database,
  filter: ReadyFilter,
  start: string,
  render: (rows: ExportedContact[]) => string | Promise<string>,
): ReadableStream<Uint8Array> {
  const condition = contactConditions(filter);
  const encoder = new TextEncoder();
  let after = 0;
  let text = start;
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      // A page of which nothing is written is passed over: a pull that brings nothing is never asked for again.
      for (let last = false; !last;) {
        const rows = await recordsAfter(pool, condition, after, PAGE);
        text += await render(rows.map(({ id, touched_at, record }) => ({ id, touchedAt: touched_at, record })));
        after = rows[rows.length - 1]?.id ?? after;
        last = rows.length < PAGE;
        if (text) controller.enqueue(encoder.encode(text));
        if (last) controller.close();
        if (text) break;
      }
      text = '';
    },
  });
}

/** Fields of a table: those asked for in their order, else all. Retired fields are left out. */
function chosenColumns(catalogue: Catalogue, fields: readonly string[], needs: ColumnNeeds): ExportColumn[] {
  const all = catalogue.fields.filter((field) => !LEFT_OUT.has(field.key) && !field.retired);
  if (!fields.length) return [...all.flatMap((field) => columnsOf(field, needs)), ...PERMISSION_COLUMNS];
  return fields.flatMap((key) => {
    if (key === PERMISSIONS_KEY) return [...PERMISSION_COLUMNS];
    if (key === 'name') return [{ header: 'Name', read: displayNameOf }];
    return all.filter((field) => field.key === key).flatMap((field) => columnsOf(field, needs));
  });
}

/** A table of what a filter finds: its headings, and how a contact becomes a row of it. */
export async function tableOf(
  database: Database,
  filter: ReadyFilter,
  fields: readonly string[],
): Promise<{ headings: string[]; rows: (contacts: Pick<ExportedContact, 'id' | 'record'>[]) => Promise<string[][]> }> {
  const columns = chosenColumns(await loadCatalogue(database.db), fields, await needsOf(database, filter));
  return {
    headings: [...OWN_HEADINGS, ...columns.map((column) => column.header)],
    rows: async (contacts) => {
      const asks = columns.some((column) => PERMISSION_COLUMNS.includes(column));
      const states = asks ? await channelStates(database, contacts) : new Map<number, States>();
      return contacts.map(({ id, record }) => [
        String(id),
        kindOf(record),
        ...columns.map((column) => column.read(record, states.get(id))),
      ]);
    },
  };
}

/** The contacts of a filter as delimited text (by commas or tabs): one column for a field, several for what one has several of. */
export async function exportTable(
  database: Database,
  filter: ContactFilter,
  delimiter: ',' | '\t',
  fields: readonly string[],
): Promise<ReadableStream<Uint8Array>> {
  const ready = await readyFilter(database.pool, filter);
  const { headings, rows: rowsOf } = await tableOf(database, ready, fields);
  const line = (cells: string[]) => writeDelimitedLine(cells, delimiter);
  return streamContacts(database, ready, line(headings), async (rows) => (await rowsOf(rows)).map(line).join(''));
}

/** What happened with contacts, by contact, as it is kept; who of us is named. */
async function activitiesByContact(
  { pool }: Database,
  contacts: readonly { id: number }[],
): Promise<Map<number, object[]>> {
  const { rows } = await activitiesOfContacts(
    pool,
    contacts.map(({ id }) => id),
  );
  const byContact = new Map<number, object[]>();
  for (const { holder_id, record, who } of rows) {
    const list = byContact.get(holder_id) ?? [];
    list.push({ ...record, ...(who ? { who } : {}) });
    byContact.set(holder_id, list);
  }
  return byContact;
}

/** The contacts of a filter as lines of JSON, each with all its values and their labels, for other programs. */
export async function exportLines(database: Database, filter: ContactFilter): Promise<ReadableStream<Uint8Array>> {
  const catalogue = await loadCatalogue(database.db);
  return streamContacts(database, await readyFilter(database.pool, filter), '', async (rows) => {
    const states = await channelStates(database, rows);
    const happened = await activitiesByContact(database, rows);
    return rows
      .map(({ id, record, touchedAt }) => {
        const said = Object.entries(states.get(id) ?? {}).filter(([, state]) => state !== 'unknown');
        const permissions = said.length ? { permissions: Object.fromEntries(said) } : {};
        const fields = catalogue.fields.flatMap((field) => {
          const values = valuesOf(record, field.key).map(({ v, label }) => ({ value: v, ...(label ? { label } : {}) }));
          return values.length ? [{ field: field.name, values }] : [];
        });
        const activities = happened.get(id);
        const line = {
          id,
          kind: kindOf(record),
          name: displayNameOf(record),
          changedAt: touchedAt.toISOString(),
          fields,
          ...permissions,
          ...(activities ? { activities } : {}),
        };
        return `${JSON.stringify(line)}\n`;
      })
      .join('');
  });
}
