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
import { writeDelimitedLine } from '@gray-loom/core/formats';
import type { ContactFilter } from '@gray-loom/wire';
import type { Database } from '../db/connect';
import { contactConditions } from '../db/queries/contact-filter';
import { loadCatalogue } from './picks';
import { selectRecords } from '../db/record-codec';

const PAGE = 1000;
const SEVERAL = 3;
/** Made from other fields, or of no use in a table. */
const LEFT_OUT = new Set(['fullName', 'photo']);
const ADDRESS: (keyof AddressValue)[] = ['street', 'locality', 'region', 'postalCode', 'country'];
const ADDRESS_NAMES = ['Street', 'Town', 'Region', 'Postal code', 'Country'];

interface ExportColumn {
  header: string;
  read: (record: ContactRecord) => string;
}

function columnsOf(field: FieldDefinition): ExportColumn[] {
  const nth = (record: ContactRecord, n: number) => valuesOf(record, field.key)[n];
  switch (field.type) {
    case 'address':
      return ADDRESS.map((part, i) => ({
        header: ADDRESS_NAMES[i] ?? part,
        read: (record) => {
          const address = nth(record, 0)?.v as AddressValue | undefined;
          return part === 'country' && address?.country ? countryName(address.country) : (address?.[part] ?? '');
        },
      }));
    case 'email':
    case 'tel':
      return Array.from({ length: SEVERAL }, (_, n) => ({
        header: n === 0 ? field.name : `${field.name} ${n + 1}`,
        read: (record) => {
          const value = nth(record, n);
          return value ? (field.type === 'tel' && value.norm ? formatPhone(value.norm) : String(value.v)) : '';
        },
      }));
    default:
      return [
        {
          header: field.type === 'tag' ? 'Tags' : field.name,
          read: (record) =>
            valuesOf(record, field.key)
              .map((value) => textOf(field.key, value))
              .join('; '),
        },
      ];
  }
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
  filter: ContactFilter,
  start: string,
  render: (rows: ExportedContact[]) => string | Promise<string>,
): ReadableStream<Uint8Array> {
  const { where, values } = contactConditions(filter);
  const encoder = new TextEncoder();
  let after = 0;
  let text = start;
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      const rows = await selectRecords<{ id: number; touched_at: Date; record: ContactRecord }>(
        pool,
        `select c.id, c.touched_at, c.record from contact c where ${where} and c.id > $${values.length + 1} order by c.id limit ${PAGE}`,
        [...values, after],
      );
      text += await render(rows.map(({ id, touched_at, record }) => ({ id, touchedAt: touched_at, record })));
      if (text) controller.enqueue(encoder.encode(text));
      text = '';
      after = rows[rows.length - 1]?.id ?? after;
      if (rows.length < PAGE) controller.close();
    },
  });
}

/** Fields of a table: those asked for in their order, else all. Retired fields are left out. */
function chosenColumns(catalogue: Catalogue, fields: readonly string[]): ExportColumn[] {
  const all = catalogue.fields.filter((field) => !LEFT_OUT.has(field.key) && !field.retired);
  if (!fields.length) return all.flatMap(columnsOf);
  return fields.flatMap((key) => {
    if (key === 'name') return [{ header: 'Name', read: displayNameOf }];
    return all.filter((field) => field.key === key).flatMap(columnsOf);
  });
}

/** The contacts of a filter as a table (CSV or separated by tabs): one column for a field, several for what one has several of. */
export async function exportTable(
  database: Database,
  filter: ContactFilter,
  delimiter: ',' | '\t',
  fields: readonly string[],
): Promise<ReadableStream<Uint8Array>> {
  const columns = chosenColumns(await loadCatalogue(database.db), fields);
  const line = (cells: string[]) => writeDelimitedLine(cells, delimiter);
  return streamContacts(
    database,
    filter,
    line(['Contact number', 'Kind', ...columns.map((column) => column.header)]),
    (rows) =>
      rows
        .map(({ id, record }) => line([String(id), kindOf(record), ...columns.map((column) => column.read(record))]))
        .join(''),
  );
}

/** The contacts of a filter as lines of JSON, each with all its values and their labels, for other programs. */
export async function exportLines(database: Database, filter: ContactFilter): Promise<ReadableStream<Uint8Array>> {
  const catalogue = await loadCatalogue(database.db);
  return streamContacts(database, filter, '', (rows) =>
    rows
      .map(({ id, record, touchedAt }) => {
        const fields = catalogue.fields.flatMap((field) => {
          const values = valuesOf(record, field.key).map(({ v, label }) => ({ value: v, ...(label ? { label } : {}) }));
          return values.length ? [{ field: field.name, values }] : [];
        });
        return `${JSON.stringify({ id, kind: kindOf(record), name: displayNameOf(record), changedAt: touchedAt.toISOString(), fields })}\n`;
      })
      .join(''),
  );
}
