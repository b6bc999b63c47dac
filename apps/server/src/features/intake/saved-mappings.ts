import { createHash } from 'node:crypto';
import { desc, eq, sql } from 'drizzle-orm';
import {
  defaultMapping,
  fitMapping,
  isOwnTable,
  layoutKey,
  layoutLikeness01,
  learnedGuesses,
  LIKE_FROM01,
  mappingTargets,
  ownMapping,
  wholeFileSettings,
  withoutSetting,
  type ColumnGuess,
  type Mapping,
} from '@gray-loom/core/mapping';
import { CUSTOM_PREFIX, type Catalogue, type FieldType } from '@gray-loom/core/fields';
import type { MappingChange, SavedMapping } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { intake, savedMapping, type ReadAsBefore } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { mendedFile } from './rows/mended-file';
import { loadCatalogue } from '../../book/picks';

/** Layouts that a new file is compared with, latest first. */
const LOOKED_AT = 300;

type Headers = readonly (string | null)[];

/** The layout as it is kept: headings of a wide file are longer than an index takes. */
function layoutHash(headers: Headers): string | null {
  const key = layoutKey(headers);
  return key === null ? null : createHash('sha256').update(key).digest('hex');
}

/** Types of the meanings that a column can have, by their keys. */
function knownTargets(catalogue: Catalogue): Map<string, FieldType> {
  const own = catalogue.fields.filter(({ key }) => key.startsWith(CUSTOM_PREFIX));
  return new Map(mappingTargets(own).map((target) => [target.key, target.type]));
}

/** How a file is read, and what its columns seem to mean by all that is known here. */
interface ReadBy {
  guesses: ColumnGuess[];
  mapping: Mapping;
  readAs: ReadAsBefore | null;
  mends: number | null;
}

/** How a file that came in is read: as the last one of its layout was, or by guesses. */
export async function mappingFor(
  tx: Tx,
  headers: Headers,
  byItself: readonly ColumnGuess[],
  country: string,
): Promise<ReadBy> {
  const catalogue = await loadCatalogue(tx.db);
  const types = knownTargets(catalogue);
  const known = new Set(types.keys());
  const own = catalogue.fields.filter(({ key, retired }) => key.startsWith(CUSTOM_PREFIX) && !retired);
  const rows = await tx.db.select().from(savedMapping).orderBy(desc(savedMapping.usedAt)).limit(LOOKED_AT);
  const guesses = learnedGuesses(byItself, { own, earlier: rows, typeOf: types });
  const fallback = defaultMapping(guesses, country, own);
  const ofHere = ownMapping(headers, catalogue, fallback);
  if (ofHere) return { guesses, mapping: ofHere, readAs: null, mends: null };
  const mended = await mendedFile(tx, headers, guesses, fallback, known);
  if (mended) return { guesses, ...mended };
  const layout = layoutHash(headers);
  if (layout === null) return { guesses, mapping: fallback, readAs: null, mends: null };
  const alike = rows
    .map((row) => ({ row, likeness01: row.layout === layout ? 2 : layoutLikeness01(row.headers, headers) }))
    .filter(({ likeness01 }) => likeness01 >= LIKE_FROM01)
    // Of layouts equally alike the latest used counts; the sort keeps their order.
    .sort((a, b) => b.likeness01 - a.likeness01)[0]?.row;
  if (!alike) return { guesses, mapping: fallback, readAs: null, mends: null };
  const { mapping, ...differs } = fitMapping(alike, guesses, fallback, known);
  return {
    guesses,
    mapping,
    mends: null,
    readAs: { savedId: alike.id, name: alike.name, usedAt: alike.usedAt.toISOString(), rows: alike.rows, ...differs },
  };
}

/** Keeps the mapping by which a file is brought in, for the next one of its layout. */
export async function keepMapping(tx: Tx, file: typeof intake.$inferSelect): Promise<void> {
  // A table made of cards, or taken out here, says itself what its columns mean; one of held rows come back is read as its import's file.
  const isOwn = isOwnTable(file.shape.headers);
  const layout = file.shape.cards || file.mends !== null || isOwn ? null : layoutHash(file.shape.headers);
  if (layout === null) return;
  const kept = { headers: file.shape.headers, mapping: file.mapping, rows: file.rowCount };
  await tx.db
    .insert(savedMapping)
    .values({ name: file.name, layout, ...kept })
    .onConflictDoUpdate({
      target: savedMapping.layout,
      set: { ...kept, used: sql`${savedMapping.used} + 1`, usedAt: sql`now()` },
    });
}

/** Leaves the saved mapping and goes back to what is guessed. */
export async function guessAnew(database: Database, id: number, country: string): Promise<void> {
  await inTransaction(database, async (tx) => {
    const [file] = await tx.db.select().from(intake).where(eq(intake.id, id)).for('update');
    if (!file) throw refuse.noSuchFile();
    if (file.importRun) throw refuse.tooLate();
    await tx.db
      .update(intake)
      .set({
        mapping: defaultMapping(file.guesses, country, await ownFields(tx)),
        readAs: null,
        mends: null,
        state: 'read',
      })
      .where(eq(intake.id, id));
    await tell(tx.client, { topic: 'intakes', id });
  });
}

/** Fields that people here made. */
const ownFields = async (tx: Tx) =>
  (await loadCatalogue(tx.db)).fields.filter(({ key }) => key.startsWith(CUSTOM_PREFIX));

export async function listSavedMappings({ db }: Database): Promise<SavedMapping[]> {
  const [rows, catalogue] = [
    await db.select().from(savedMapping).orderBy(desc(savedMapping.usedAt)),
    await loadCatalogue(db),
  ];
  return rows.map(({ id, name, headers, mapping, used, usedAt, rows: lastRows }) => ({
    id,
    name,
    used,
    usedAt: usedAt.toISOString(),
    rows: lastRows,
    settings: wholeFileSettings(mapping.wholeFile),
    columns: mapping.columns.map(({ column, target, label }) => ({
      header: headers[column] ?? null,
      meaning: target === null ? null : meaningOf(catalogue, target),
      label,
    })),
  }));
}

function meaningOf(catalogue: Catalogue, target: string): string {
  return mappingTargets([...catalogue.fields]).find((one) => one.key === target)?.name ?? catalogue.nameOf(target);
}

export async function changeSavedMapping(
  database: Database,
  id: number,
  { name, without }: MappingChange,
): Promise<void> {
  await inTransaction(database, async (tx) => {
    const [saved] = await tx.db.select().from(savedMapping).where(eq(savedMapping.id, id)).for('update');
    if (!saved) throw refuse.noSuchMapping();
    const { mapping } = saved;
    const wholeFile = without ? withoutSetting(mapping.wholeFile, without) : mapping.wholeFile;
    await tx.db
      .update(savedMapping)
      .set({ name: name ?? saved.name, mapping: { ...mapping, wholeFile } })
      .where(eq(savedMapping.id, id));
    await tell(tx.client, { topic: 'setup' });
  });
}

export async function forgetSavedMapping({ db }: Database, id: number): Promise<void> {
  await db.delete(savedMapping).where(eq(savedMapping.id, id));
}
