import { eq, sql } from 'drizzle-orm';
import { fitMapping, type ColumnGuess, type Mapping } from '@gray-loom/core/mapping';
import type { Database, Tx } from '../../../db/connect';
import { importRow, intake, type ReadAsBefore } from '../../../db/schema';
import { readRows } from '../files/read-file';
import { settleRows, unsettleRows } from './statements/mended-file';

/** Headings that stand before those of the file in the download of an import's rows; the first names the import. */
export const ROW_HEADINGS = (runId: number) => [`Row of import ${runId}`, 'Outcome', 'Reasons'];
const FIRST_HEADING = /^Row of import (\d{1,9})$/;

/**
 * Whether a file is the download of an import's rows come back: then it is read as that import's file was, and its rows
 * take the place of the held ones. Null for any other file.
 */
export async function mendedFile(
  tx: Tx,
  headers: readonly (string | null)[],
  guesses: readonly ColumnGuess[],
  fallback: Mapping,
  known: ReadonlySet<string>,
): Promise<{ mapping: Mapping; readAs: ReadAsBefore; mends: number } | null> {
  const runId = Number(FIRST_HEADING.exec(headers[0] ?? '')?.[1] ?? 0);
  if (!runId || !ROW_HEADINGS(runId).every((heading, i) => headers[i] === heading)) return null;
  const [file] = await tx.db.select().from(intake).where(eq(intake.importRun, runId));
  if (!file) return null;
  const fit = fitMapping({ headers: file.shape.headers, mapping: file.mapping }, guesses, fallback, known);
  const ours = ROW_HEADINGS(runId);
  return {
    mends: runId,
    mapping: {
      ...fit.mapping,
      columns: fit.mapping.columns.map((column) =>
        column.column >= 0 && column.column < ours.length ? { ...column, target: null } : column,
      ),
    },
    readAs: {
      savedId: null,
      name: file.name,
      usedAt: file.createdAt.toISOString(),
      rows: file.rowCount,
      added: fit.added.filter((name) => !ours.includes(name)),
      missing: fit.missing,
      lost: fit.lost,
      doubtful: fit.doubtful,
    },
  };
}

/** Rows of an import that wait no longer. */
export async function settledRows({ db }: Database, runId: number): Promise<Set<number>> {
  const rows = await db
    .select({ row: importRow.row })
    .from(importRow)
    .where(sql`${importRow.runId} = ${runId} and (${importRow.outcome} <> 'held' or ${importRow.settled} is not null)`);
  return new Set(rows.map(({ row }) => row));
}

/** Once a mended file is in, its rows stand for those that were held; the ones still held wait as rows of the new import. */
export async function settleBroughtBack(
  database: Database,
  tx: Tx,
  file: typeof intake.$inferSelect,
  runId: number,
): Promise<void> {
  if (file.mends === null) return;
  for await (const rows of readRows(database, file.id, file.shape, 1000))
    await settleRows(
      tx.client,
      file.mends,
      runId,
      rows.map(({ row }) => row),
      rows.map(({ cells }) => (cells[0] ?? '').trim()),
    );
}

/** What a run had settled waits again once the run was taken back. */
export async function unsettle(tx: Tx, runId: number): Promise<void> {
  await unsettleRows(tx.client, runId);
}
