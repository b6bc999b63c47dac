import { displayNameOf, type Catalogue } from '@gray-loom/core/fields';
import { writeCard } from '@gray-loom/core/formats';
import { firstText, isRelation, valuesOf } from '@gray-loom/core/model';
import type { ContactFilter } from '@gray-loom/wire';
import sharp from 'sharp';
import type { Database } from '../../db/connect';
import { refuseContact } from '../../book/refusals';
import { streamContacts, type ExportedContact } from './export-contacts';
import { loadCatalogue } from '../../book/picks';
import { recordsOf } from '../../book/statements/contact-records';
import { picturesByHash, recordToExport } from './statements/export-cards';
import { readyFilter } from './ready-filter';

export type CardVersion = '3.0' | '4.0';

/** Cards of a page of contacts, with their pictures and the names that relationships lead to. */
async function cardsOf(
  { pool }: Database,
  catalogue: Catalogue,
  version: CardVersion,
  contacts: readonly ExportedContact[],
): Promise<string> {
  const hashes = contacts.map(({ record }) => firstText(record, 'photo')).filter(Boolean);
  const others = contacts.flatMap(({ record }) =>
    valuesOf(record, 'related').flatMap(({ v }) => (isRelation(v) && v.to !== null ? [v.to] : [])),
  );
  const pictures = new Map<string, string>();
  if (hashes.length) {
    const { rows } = await picturesByHash(pool, hashes);
    // Other programs know JPEG best.
    for (const { hash, bytes } of rows)
      pictures.set(hash, (await sharp(bytes).flatten({ background: '#ffffff' }).jpeg().toBuffer()).toString('base64'));
  }
  const names = new Map<number, string>();
  if (others.length) {
    const rows = await recordsOf(pool, others);
    for (const { id, record } of rows) names.set(id, displayNameOf(record));
  }
  return contacts
    .map(({ id, record, touchedAt }) => {
      const base64 = pictures.get(firstText(record, 'photo'));
      const picture = base64 ? { mediaType: 'image/jpeg', base64 } : null;
      return writeCard(
        { id, record, picture, nameOf: (other) => names.get(other) ?? '', changedAt: touchedAt },
        catalogue,
        version,
      );
    })
    .join('');
}

/** The contacts of a filter as vCard, streamed. */
export async function exportCards(
  database: Database,
  filter: ContactFilter,
  version: CardVersion,
): Promise<ReadableStream<Uint8Array>> {
  const catalogue = await loadCatalogue(database.db);
  return streamContacts(database, await readyFilter(database.pool, filter), '', (rows) =>
    cardsOf(database, catalogue, version, rows),
  );
}

/** One contact as vCard. */
export async function exportCard(database: Database, id: number, version: CardVersion): Promise<string> {
  const catalogue = await loadCatalogue(database.db);
  const rows = await recordToExport(database.pool, id);
  if (!rows.length) throw refuseContact.noSuchContact();
  return cardsOf(
    database,
    catalogue,
    version,
    rows.map((row) => ({ id: row.id, touchedAt: row.touched_at, record: row.record })),
  );
}
