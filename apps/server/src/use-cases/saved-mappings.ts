import { createHash } from 'node:crypto';
import { desc, eq, sql } from 'drizzle-orm';
import {
  defaultMapping,
  fitMapping,
  layoutKey,
  layoutLikeness01,
  LIKE_FROM01,
  mappingTargets,
  ownMapping,
  OWN_HEADINGS,
  type ColumnGuess,
  type Mapping,
} from '@gray-loom/core/mapping';
import type { Catalogue } from '@gray-loom/core/fields';
import type { SavedMapping } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../db/connect';
import { intake, savedMapping, type ReadAsBefore } from '../db/schema';
import { tell } from '../events';
import { Problem } from '../problem';
import { mendedFile } from './mended-file';
import { loadCatalogue } from './picks';

/** Layouts that a new file is compared with, latest first. */
const LOOKED_AT = 300;

type Headers = readonly (string | null)[];

/** The layout as it is kept: headings of a wide file are longer than an index takes. */
function layoutHash(headers: Headers): string | null {
  const key = layoutKey(headers);
  return key === null ? null : createHash('sha256').update(key).digest('hex');
}

function knownTargets(catalogue: Catalogue): Set<string> {
  return new Set(
    mappingTargets(catalogue.fields.filter((field) => field.key.startsWith('custom.'))).map((target) => target.key),
  );
}

/** How a file that came in is read: as the last one of its layout was, or by guesses. */
export async function mappingFor(
  tx: Tx,
  headers: Headers,
  guesses: readonly ColumnGuess[],
  country: string,
): Promise<{ mapping: Mapping; readAs: ReadAsBefore | null; mends: number | null }> {
  const fallback = defaultMapping(guesses, country);
  const catalogue = await loadCatalogue(tx.db);
  const known = knownTargets(catalogue);
  const own = ownMapping(headers, catalogue, fallback);
  if (own) return { mapping: own, readAs: null, mends: null };
  const mended = await mendedFile(tx, headers, guesses, fallback, known);
  if (mended) return mended;
  const layout = layoutHash(headers);
  if (layout === null) return { mapping: fallback, readAs: null, mends: null };
  const rows = await tx.db.select().from(savedMapping).orderBy(desc(savedMapping.usedAt)).limit(LOOKED_AT);
  const alike = rows
    .map((row) => ({ row, likeness01: row.layout === layout ? 2 : layoutLikeness01(row.headers, headers) }))
    .filter(({ likeness01 }) => likeness01 >= LIKE_FROM01)
    // Of layouts equally alike the latest used counts; the sort keeps their order.
    .sort((a, b) => b.likeness01 - a.likeness01)[0]?.row;
  if (!alike) return { mapping: fallback, readAs: null, mends: null };
  const { mapping, ...differs } = fitMapping(alike, guesses, fallback, known);
  return {
    mapping,
    mends: null,
    readAs: { savedId: alike.id, name: alike.name, usedAt: alike.usedAt.toISOString(), rows: alike.rows, ...differs },
  };
}

/** Keeps the mapping by which a file is brought in, for the next one of its layout. */
export async function keepMapping(tx: Tx, file: typeof intake.$inferSelect): Promise<void> {
  // A table made of cards, or taken out here, says itself what its columns mean; one of held rows come back is read as its import's file.
  const isOwn = OWN_HEADINGS.every((heading, i) => file.shape.headers[i] === heading);
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
    if (!file) throw new Problem(404, 'noSuchFile', 'There is no such file in Intake.');
    if (file.importRun)
      throw new Problem(409, 'tooLate', 'This file was brought in already, so its mapping is kept as it was.');
    await tx.db
      .update(intake)
      .set({ mapping: defaultMapping(file.guesses, country), readAs: null, mends: null, state: 'read' })
      .where(eq(intake.id, id));
    await tell(tx.client, { topic: 'intakes', id });
  });
}

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

export async function renameSavedMapping({ db }: Database, id: number, name: string): Promise<void> {
  const changed = await db.update(savedMapping).set({ name }).where(eq(savedMapping.id, id)).returning();
  if (!changed.length) throw new Problem(404, 'noSuchMapping', 'There is no such saved mapping any more.');
}

export async function forgetSavedMapping({ db }: Database, id: number): Promise<void> {
  await db.delete(savedMapping).where(eq(savedMapping.id, id));
}
