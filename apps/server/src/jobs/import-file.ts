import { eq, sql } from 'drizzle-orm';
import type { MatchPerson } from '@gray-loom/core/matching';
import { applyOperations, type ContactRecord } from '@gray-loom/core/model';
import { recordFrom } from '@gray-loom/core/writing';
import { inTransaction, type Database, type Tx } from '../db/connect';
import { copyCell, copyLines } from '../db/copy';
import { intake, run, type RowOutcome } from '../db/schema';
import { tell } from '../events';
import { BREATH, breathe, ImportPlanner, type RowPlan } from '../use-cases/import-plan';
import { loadCatalogue, PickLists } from '../use-cases/picks';
import { readRows } from '../use-cases/read-file';
import { enqueueRun, finishRun, handThread, startRun } from '../use-cases/runs';
import { applyChanges, emptyRendering, lockContacts, renderContact, takeIds, writeRendered, type ContactChange, type RenderedContacts } from '../use-cases/write-contacts';
import { markProgress, type Lease } from './lease';

/** Rows of one transaction. Of 1,000, 2,000 and 4,000 this one was fastest; more rows live longer in memory and cost the collector. */
const CHUNK = 2000;

type Counts = Record<RowOutcome, number>;

interface ImportState {
  planner: ImportPlanner;
  picks: PickLists;
  counts: Counts;
  /** Contact that a row of this file became or found. */
  contactOf: Map<number, number>;
  total: number;
  lease: Lease;
  leaseMs: number;
}

/**
 * Brings a file in: streamed, in chunks that are each one transaction with a durable marker. Killed at any moment, it
 * goes on after the last whole chunk, so each row is in exactly once.
 */
export async function importFile(database: Database, lease: Lease, leaseMs: number): Promise<void> {
  const { db, pool } = database;
  const [job] = await db.select({ intakeId: sql<number>`(${run.detail}->>'intakeId')::int`, progress: run.progress, counts: run.counts, actorId: run.actorId }).from(run).where(eq(run.id, lease.runId));
  const [file] = await db.select().from(intake).where(eq(intake.id, job?.intakeId ?? 0));
  if (!job || !file) throw new Error(`run ${lease.runId} has no file`);
  const picks = await PickLists.load(db);
  const state: ImportState = {
    planner: new ImportPlanner(pool, file.mapping, await loadCatalogue(db), picks, file.shape, lease.runId),
    picks,
    counts: { new: 0, fill: 0, replace: 0, same: 0, fold: 0, held: 0, ...job.counts },
    contactOf: new Map(),
    total: file.rowCount,
    lease,
    leaseMs,
  };
  const marker = job.progress.done;
  let writing: Promise<boolean> = Promise.resolve(false);
  let stopped = false;
  for await (const rows of readRows(database, file.id, file.shape, CHUNK)) {
    const last = rows[rows.length - 1]?.row ?? 0;
    if (last <= marker) {
      await recall(database, state, rows);
      continue;
    }
    // The next chunk is planned and rendered while the database writes this one.
    const chunk = await prepareChunk(database, state, await state.planner.plan(rows));
    stopped = await writing;
    if (stopped) break;
    writing = writeChunk(database, state, chunk);
    writing.catch(() => undefined);
  }
  stopped = (await writing) || stopped;
  await inTransaction(database, async (tx) => {
    await finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', state.counts);
    await tx.db.update(intake).set({ state: stopped ? 'stopped' : 'done' }).where(eq(intake.id, file.id));
    await tell(tx.client, { topic: 'intakes', id: file.id });
    await tell(tx.client, { topic: 'held' });
    if (state.counts.new + state.counts.fill + state.counts.replace > 0) await startCheck(tx, lease.runId, file.name, job.actorId);
  });
  await pool.query(`select gin_clean_pending_list('contact_search_trigrams')`);
}

/** Once people are in, they are checked against everybody by the matching engine. */
async function startCheck(tx: Tx, importRun: number, fileName: string, actorId: number | null): Promise<void> {
  const model = await tx.client.query('select 1 from match_model limit 1');
  if (!model.rowCount) return;
  const checkRun = await startRun(tx, { kind: 'scan', state: 'queued', threadId: await handThread(tx), actorId, title: `Check of ${fileName} for duplicates`, detail: { ofRun: importRun } });
  await enqueueRun(tx, 'checkDuplicates', checkRun);
}

async function recall({ pool }: Database, state: ImportState, rows: { row: number; cells: string[] }[]): Promise<void> {
  const from = rows[0]?.row ?? 0;
  const to = rows[rows.length - 1]?.row ?? 0;
  const settled = await pool.query<{ row: number; outcome: RowOutcome; contact_id: number | null }>(
    'select row, outcome, contact_id from import_row where run_id = $1 and row between $2 and $3',
    [state.lease.runId, from, to],
  );
  for (const one of settled.rows) if (one.contact_id !== null && one.outcome !== 'held') state.contactOf.set(one.row, one.contact_id);
  state.planner.remember(rows, new Map(settled.rows.map((one) => [one.row, one.outcome])));
}

interface Settled {
  plan: RowPlan;
  outcome: RowOutcome;
  contactId: number | null;
}

interface PreparedChunk {
  lastRow: number;
  rendered: RenderedContacts;
  settled: Settled[];
  /** Rows for people who are here already, by contact. */
  touching: Map<number, RowPlan[]>;
}

/** Makes new contacts of a chunk's plans and renders them; rows of one person in it fold into one record first. */
async function prepareChunk({ pool }: Database, state: ImportState, plans: RowPlan[]): Promise<PreparedChunk> {
  const fresh = new Map<number, { record: ContactRecord; person?: MatchPerson }>();
  const settled: Settled[] = [];
  const touching = new Map<number, RowPlan[]>();
  const folds: RowPlan[] = [];
  for (const plan of plans) {
    const { decision } = plan;
    if (decision.kind === 'held') settled.push({ plan, outcome: 'held', contactId: null });
    else if (decision.kind === 'new') fresh.set(plan.row, { record: recordFrom(plan.candidate, state.planner.catalogue, { run: state.lease.runId, row: plan.row }), person: plan.person });
    else if (decision.kind === 'fold' && fresh.has(decision.intoRow)) {
      const into = fresh.get(decision.intoRow);
      if (into) fresh.set(decision.intoRow, { record: foldIntoFresh(state, into.record, plan) });
      folds.push(plan);
    } else {
      const contactId = decision.kind === 'known' ? decision.contactId : (state.contactOf.get(decision.intoRow) ?? sameChunkContact(plans, decision.intoRow));
      touching.set(contactId, [...(touching.get(contactId) ?? []), plan]);
    }
  }
  const ids = await takeIds(pool, fresh.size);
  const rendered = emptyRendering();
  const now = new Date().toISOString();
  let i = 0;
  for (const [row, contact] of fresh) {
    const id = ids[i] ?? 0;
    renderContact(rendered, state.lease.runId, id, { ...contact, sourceRow: row }, now);
    state.contactOf.set(row, id);
    if (++i % BREATH === 0) await breathe();
  }
  for (const plan of plans) if (plan.decision.kind === 'new') settled.push({ plan, outcome: 'new', contactId: state.contactOf.get(plan.row) ?? null });
  for (const plan of folds) if (plan.decision.kind === 'fold') settled.push({ plan, outcome: 'fold', contactId: state.contactOf.get(plan.decision.intoRow) ?? null });
  for (const plan of plans) if (plan.decision.kind === 'known') state.contactOf.set(plan.row, plan.decision.contactId);
  return { lastRow: plans[plans.length - 1]?.row ?? 0, rendered, settled, touching };
}

/** Writes a prepared chunk with its marker in one transaction. Tells whether the run was asked to stop. */
async function writeChunk(database: Database, state: ImportState, chunk: PreparedChunk): Promise<boolean> {
  const counts = { ...state.counts };
  const stopRequested = await inTransaction(database, async (tx) => {
    await writeRendered(tx, chunk.rendered);
    const settled = [...chunk.settled, ...(await writeTouched(tx, state, chunk.touching))].sort((a, b) => a.plan.row - b.plan.row);
    for (const { outcome } of settled) counts[outcome]++;
    await copyLines(
      tx.client,
      'import_row',
      'run_id, row, outcome, contact_id, issues, cells',
      settled.map(({ plan, outcome, contactId }) => {
        const issues = plan.issues.length ? copyCell(JSON.stringify(plan.issues)) : '\\N';
        const cells = outcome === 'held' ? copyCell(JSON.stringify(plan.cells)) : '\\N';
        return `${state.lease.runId}\t${plan.row}\t${outcome}\t${contactId ?? '\\N'}\t${issues}\t${cells}`;
      }),
    );
    await state.picks.save(tx);
    return (await markProgress(tx, state.lease, { done: chunk.lastRow, total: state.total }, counts, state.leaseMs)).stopRequested;
  });
  state.counts = counts;
  return stopRequested;
}

function foldIntoFresh(state: ImportState, record: ContactRecord, plan: RowPlan): ContactRecord {
  const applied = applyOperations(record, state.planner.planInto(0, record, plan).operations);
  if (!applied.ok) throw new Error(`row ${plan.row}: a plan into a new contact always applies`);
  return applied.value;
}

/** A row of this chunk that found somebody here, and that a later row of the chunk folds into. */
function sameChunkContact(plans: readonly RowPlan[], row: number): number {
  const decision = plans.find((plan) => plan.row === row)?.decision;
  if (decision?.kind !== 'known') throw new Error(`row ${row} was folded into, but became no contact`);
  return decision.contactId;
}

async function writeTouched(tx: Tx, state: ImportState, touching: ReadonlyMap<number, RowPlan[]>): Promise<Settled[]> {
  const locked = await lockContacts(tx, [...touching.keys()]);
  const settled: Settled[] = [];
  const changes: ContactChange[] = [];
  for (const [contactId, plans] of touching) {
    let record = locked.get(contactId)?.record;
    if (!record) throw new Error(`contact ${contactId} is gone`);
    for (const plan of plans) {
      const { operations, outcome } = state.planner.planInto(contactId, record, plan);
      if (operations.length) {
        changes.push({ contactId, operations, sourceRow: plan.row });
        const applied = applyOperations(record, operations);
        if (applied.ok) record = applied.value;
      }
      settled.push({ plan, outcome: plan.decision.kind === 'fold' ? 'fold' : outcome, contactId });
    }
  }
  await applyChanges(tx, state.lease.runId, changes);
  return settled;
}
