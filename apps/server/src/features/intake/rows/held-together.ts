import { eq } from 'drizzle-orm';
import type { ActivityKind } from '@gray-loom/core/activity';
import { mappingOfEntries, meantCells } from '@gray-loom/core/mapping';
import { loadCatalogue } from '../../../book/picks';
import { inTransaction, wholeBook, type Database } from '../../../db/connect';
import { run } from '../../../db/schema';
import { Refusal } from '../../../http/refusal';
import type { DataRow } from '../files/read-file';
import {
  bringIn,
  countBrought,
  lockFor,
  plannerFor,
  requireHeld,
  settleRow,
  startMending,
  valuesFor,
  type Brought,
  type HeldFile,
} from './held-rows';
import type { RowPlan } from './row-plan';
import { backToMark, heldAlike, heldAmong, heldAsMore, setMark } from './statements/held-rows';

/**
 * Writes one value for another in every held row of an import that has it in that column, and lets in those that nothing
 * else stands against. The others stay held as they were. One press is one run, and taken back as one.
 */
export async function mendAlike(
  database: Database,
  runId: number,
  { column, from, to }: { column: number; from: string; to: string },
): Promise<LetInMany> {
  const { rows } = await heldAlike(database.pool, runId, column, from);
  const mended = rows.map(({ row, cells }) => ({ row, cells: cells.map((cell, i) => (i === column ? to : cell)) }));
  return letInTogether(database, runId, mended);
}

/** Lets those of an import's held rows in that are said, as they are most likely meant; where that is not enough, a row stays held. */
export async function mendMeant(database: Database, runId: number, wanted: readonly number[]): Promise<LetInMany> {
  const { rows } = await heldAmong(database.pool, runId, wanted);
  const mended = rows.flatMap(({ row, cells, issues }) => {
    const meant = meantCells(cells ?? [], issues ?? []);
    return meant ? [{ row, cells: meant }] : [];
  });
  return letInTogether(database, runId, mended);
}

interface LetInMany {
  letIn: number;
  held: number;
  runId: number | null;
}

/** No row came in, so no run is to tell of it. */
class NothingLetIn extends Error {}

/**
 * Lets rows in together, in one run: all that nothing stands against; each of the others is as if it had not been tried. Rows of
 * one person come to one contact.
 */
async function letInTogether(
  database: Database,
  runId: number,
  rows: readonly DataRow[],
  as: (file: HeldFile) => HeldFile = (file) => file,
): Promise<LetInMany> {
  const [first] = rows;
  if (!first) return { letIn: 0, held: 0, runId: null };
  const file = as((await requireHeld(database, runId, first.row)).file);
  try {
    return await inTransaction(wholeBook(database), async (tx) => {
      const titleOf = (n: number) => `${n === 1 ? '1 row' : `${n.toLocaleString('en')} rows`} of ${file.name}, mended`;
      const newRun = await startMending(tx, { runId, row: first.row }, titleOf(rows.length));
      const planner = await plannerFor(tx, file, newRun);
      await lockFor(tx, planner, rows);
      const values = await valuesFor(tx, file, newRun);
      const contactOf = new Map<number, number>();
      const all: Brought[] = [];
      for (const plan of await planner.plan(rows)) {
        await setMark(tx.client);
        try {
          const into = plan.decision.kind === 'fold' ? contactOf.get(plan.decision.intoRow) : undefined;
          const brought = await bringIn(tx, newRun, values, into === undefined ? plan : asKnown(plan, into), plan.row);
          await settleRow(tx, file, { runId, row: plan.row }, newRun, planner, [brought]);
          contactOf.set(plan.row, brought.contactId);
          all.push(brought);
        } catch (error) {
          if (!(error instanceof Refusal)) throw error;
          await backToMark(tx.client);
        }
      }
      if (!contactOf.size) throw new NothingLetIn();
      await tx.db
        .update(run)
        .set({ counts: countBrought(all), title: titleOf(all.length) })
        .where(eq(run.id, newRun));
      return { letIn: contactOf.size, held: rows.length - contactOf.size, runId: newRun };
    });
  } catch (error) {
    if (error instanceof NothingLetIn) return { letIn: 0, held: rows.length, runId: null };
    throw error;
  }
}

/** A further row of a person who came in with an earlier one. */
const asKnown = (plan: RowPlan, contactId: number): RowPlan => ({
  ...plan,
  decision: { kind: 'known', contactId, seen: null },
});

/**
 * Lets those of an import's held rows in that say more of people who came in with other rows: what held them becomes entries of these
 * people. One press is one run, and taken back as one.
 */
export async function letInAsEntries(database: Database, runId: number, kind: ActivityKind): Promise<LetInMany> {
  const { rows } = await heldAsMore(database.pool, runId);
  const columns = [...new Set(rows.flatMap(({ columns: held }) => held))];
  const catalogue = await loadCatalogue(database.db);
  return letInTogether(
    database,
    runId,
    rows.map(({ row, cells }) => ({ row, cells: cells ?? [] })),
    (file) => ({ ...file, mapping: mappingOfEntries(file.mapping, catalogue, { kind, columns }) }),
  );
}
