import { eq, sql } from 'drizzle-orm';
import { inTransaction, wholeBook, type Database } from '../../db/connect';
import { copyCell, copyLines } from '../../db/copy';
import { intake, type RowOutcome } from '../../db/schema';
import { tell } from '../../feed/events';
import { loadWords } from './rows/row-choices';
import { WarningCounter, wordWarning } from '@gray-loom/core/mapping';
import { countsOfSaid } from '../contacts';
import { planActivities } from '../activity';
import type { RowActivity } from '../../book/row-activity';
import { addCounts, countsOf, type RowOpportunity } from '../opportunities';
import { ImportPlanner } from './rows/import-plan';
import type { RowPlan } from './rows/row-plan';
import { ownedByWhoBrings, RowRemit } from './rows/row-remit';
import { RowValues } from './rows/row-values';
import { readRows } from './files/read-file';
import { finishRun } from '../../runs/runs';
import type { Operation } from '@gray-loom/core/model';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { recordsOf } from '../../book/statements/contact-records';
import { deleteTrialRows, keepWarnings } from './statements/try-import';

const CHUNK = 4000;
/** Rows kept for looking at, of each outcome. Counts are of all rows. */
const KEPT_PER_OUTCOME = 2000;
/** The same of rows that would be held: a person decides on each. */
const KEPT_HELD = 20_000;

interface TrialRow {
  plan: RowPlan;
  outcome: RowOutcome;
  contactId: number | null;
  operations: Operation[];
}

/** A dry run of an import: the commit's code path without the writing. */
export async function tryImport({ database: own, run: job, lease, leaseMs }: RunContext): Promise<void> {
  const keptPerOutcome = (job.detail as { keepAll?: boolean }).keepAll ? Infinity : KEPT_PER_OUTCOME;
  const database = wholeBook(own);
  const { db, pool } = database;
  const [file] = await db
    .select()
    .from(intake)
    .where(eq(intake.id, Number((job.detail as { intakeId?: number }).intakeId ?? 0)));
  if (!file) throw new Error(`run ${lease.runId} has no file`);
  file.mapping = ownedByWhoBrings(file.mapping, database);
  const words = await loadWords(database, file);
  const planner = await ImportPlanner.load(database, file, lease.runId, words, {
    remit: await RowRemit.load(database),
  });
  const values = await RowValues.load(database, file.mapping, lease.runId, words);
  const opportunities = values.opportunityPlanner();
  const counts = countsOf(file.mapping);
  await deleteTrialRows(pool, lease.runId);
  const warnings = new WarningCounter(file.mapping);
  /** Contacts that rows with opportunities belong to, where they are here already. */
  const contactOf = new Map<number, number>();
  let stopped = job.stopRequested;
  for await (const rows of readRows(database, file.id, file.shape, CHUNK)) {
    if (stopped) break;
    const settled = await settle(database, values, await planner.plan(rows));
    for (const { plan, outcome } of settled) {
      warnings.note(plan.issues, outcome === 'new' ? plan : undefined);
      if (outcome !== 'held') addCounts(counts, countsOfSaid(plan.candidate));
    }
    const found = await opportunities.plan(pool, broughtBy(settled, contactOf));
    addCounts(counts, found.counts);
    addCounts(counts, (await planActivities(pool, toldBy(settled, contactOf))).counts);
    const kept = settled.filter(({ outcome }) => {
      addCounts(counts, { [outcome]: 1 });
      return (counts[outcome] ?? 0) <= (outcome === 'held' ? Math.max(KEPT_HELD, keptPerOutcome) : keptPerOutcome);
    });
    stopped = await inTransaction(database, async (tx) => {
      await copyLines(
        tx.client,
        'import_row',
        'run_id, row, outcome, contact_id, issues, cells, changes',
        kept.map(({ plan, outcome, contactId, operations }) =>
          [
            lease.runId,
            plan.row,
            outcome,
            contactId,
            plan.issues.length ? JSON.stringify(plan.issues) : null,
            JSON.stringify(plan.cells),
            operations.length ? JSON.stringify(operations.map(({ target: _target, ...rest }) => rest)) : null,
          ]
            .map(copyCell)
            .join('\t'),
        ),
      );
      const { stopRequested } = await markProgress(
        tx,
        lease,
        { done: rows[rows.length - 1]?.row ?? 0, total: file.rowCount },
        counts,
        leaseMs,
      );
      return stopRequested;
    });
  }
  await inTransaction(database, async (tx) => {
    const odd = warnings.list({
      rows: file.rowCount,
      held: counts.held ?? 0,
      lastRows: file.mends === null ? (file.readAs?.rows ?? null) : null,
      guesses: file.guesses,
    });
    await keepWarnings(tx.client, lease.runId, JSON.stringify(odd.map(wordWarning)));
    await finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', counts);
    await tx.db
      .update(intake)
      .set({ state: stopped ? 'read' : 'tried' })
      .where(sql`${intake.id} = ${file.id} and ${intake.trialRun} = ${lease.runId}`);
    await tell(tx.client, { topic: 'intakes', id: file.id });
  });
}

/** The opportunities of a batch of rows with the contacts they belong to. */
function broughtBy(rows: readonly TrialRow[], contactOf: Map<number, number>): RowOpportunity[] {
  return rows.flatMap(({ plan, outcome, contactId }): RowOpportunity[] => {
    const contactRow = plan.decision.kind === 'fold' ? plan.decision.intoRow : plan.row;
    if (contactId !== null && outcome !== 'held') contactOf.set(plan.row, contactId);
    if (!plan.opportunity || outcome === 'held') return [];
    const known = contactId ?? contactOf.get(contactRow) ?? null;
    return [{ row: plan.row, contactId: known, contactRow, candidate: plan.opportunity }];
  });
}

/** The activities of a batch of rows with the contacts they belong to. */
function toldBy(rows: readonly TrialRow[], contactOf: ReadonlyMap<number, number>): RowActivity[] {
  return rows.flatMap(({ plan, outcome, contactId }): RowActivity[] => {
    if (outcome === 'held') return [];
    const contactRow = plan.decision.kind === 'fold' ? plan.decision.intoRow : plan.row;
    const known = contactId ?? contactOf.get(contactRow) ?? null;
    return plan.activities.map((told) => ({ ...told, row: plan.row, contactId: known, contactRow }));
  });
}

async function settle({ pool }: Database, values: RowValues, plans: RowPlan[]): Promise<TrialRow[]> {
  const ids = plans.flatMap(({ decision }) => (decision.kind === 'known' ? [decision.contactId] : []));
  const found = await recordsOf(pool, ids);
  const records = new Map(found.map(({ id, record }) => [id, record]));
  return plans.map((plan): TrialRow => {
    const { decision } = plan;
    if (decision.kind !== 'known')
      return { plan, outcome: decision.kind === 'fold' ? 'fold' : decision.kind, contactId: null, operations: [] };
    const record = records.get(decision.contactId);
    if (!record) return { plan, outcome: 'same', contactId: decision.contactId, operations: [] };
    const { operations, outcome, issues } = values.into(decision.contactId, record, plan.candidate, plan.row);
    const told = issues.length ? { ...plan, issues: [...plan.issues, ...issues] } : plan;
    return { plan: told, outcome, contactId: decision.contactId, operations };
  });
}
