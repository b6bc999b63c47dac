import { valuesOf, type AddressValue, type ContactRecord } from '@gray-loom/core/model';
import { countryName, formatPhone, type FieldDefinition } from '@gray-loom/core/fields';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import type { ContactFilter } from '@gray-loom/wire';
import type { Database } from '../db/connect';
import { contactConditions } from '../db/queries/contact-filter';
import { loadCatalogue } from './picks';
import { selectRecords } from '../db/record-codec';

const PAGE = 1000;
const SEVERAL = 3;
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
    case 'tag':
      return [
        {
          header: 'Tags',
          read: (record) =>
            valuesOf(record, field.key)
              .map((value) => String(value.v))
              .join('; '),
        },
      ];
    case 'email':
    case 'tel':
      return Array.from({ length: SEVERAL }, (_, n) => ({
        header: n === 0 ? field.name : `${field.name} ${n + 1}`,
        read: (record) => {
          const value = nth(record, n);
          return value ? (field.type === 'tel' && value.norm ? formatPhone(value.norm) : String(value.v)) : '';
        },
      }));
    case 'yesNo':
      return [{ header: field.name, read: (record) => (nth(record, 0) ? (nth(record, 0)?.v ? 'yes' : 'no') : '') }];
    default:
      return [{ header: field.name, read: (record) => (nth(record, 0) ? String(nth(record, 0)?.v) : '') }];
  }
}

/** The contacts of a filter as CSV, streamed page by page; memory does not grow with their number. Ordered by id. */
export async function exportContacts(database: Database, filter: ContactFilter): Promise<ReadableStream<Uint8Array>> {
  const catalogue = await loadCatalogue(database.db);
  const columns = catalogue.fields.filter((field) => field.key !== 'fullName').flatMap(columnsOf);
  const { where, values } = contactConditions(filter);
  const encoder = new TextEncoder();
  let after = 0;
  let started = false;
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      const rows = await selectRecords<{ id: number; record: ContactRecord }>(
        database.pool,
        `select c.id, c.record from contact c where ${where} and c.id > $${values.length + 1} order by c.id limit ${PAGE}`,
        [...values, after],
      );
      let text = '';
      if (!started) {
        text += writeDelimitedLine(['Contact number', ...columns.map((column) => column.header)]);
        started = true;
      }
      for (const { id, record } of rows)
        text += writeDelimitedLine([String(id), ...columns.map((column) => column.read(record))]);
      if (text) controller.enqueue(encoder.encode(text));
      after = rows[rows.length - 1]?.id ?? after;
      if (rows.length < PAGE) controller.close();
    },
  });
}
