import type { MessagePort } from 'node:worker_threads';
import { eq } from 'drizzle-orm';
import type { MatchPerson } from '@gray-loom/core/matching';
import { applyOperations, type ContactRecord } from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import { connect, type Database } from '../db/connect';
import { copyCell } from '../db/copy';
import { intake, type RowOutcome } from '../db/schema';
import { createLogger } from '../log';
import { ImportPlanner, type RowPlan } from '../use-cases/import-plan';
import { loadCatalogue, PickLists, type FreshPick } from '../use-cases/picks';
import { readRows, type DataRow } from '../use-cases/read-file';
import { emptyRendering, renderContact, takeIds, toBlocks, type ContactBlocks } from '../use-cases/write-contacts';

/** Rows of one transaction. Of 1,000, 2,000 and 4,000 this one was fastest; more rows live longer in memory and cost the collector. */
const CHUNK = 2000;
/** Chunks made ready ahead of the one being written. */
const AHEAD = 2;

export interface ImportTask {
  databaseUrl: string;
  runId: number;
  intakeId: number;
  /** Last row that an interrupted run has written. */
  marker: number;
  port: MessagePort;
}

/** A row for a person who is here already, or who an earlier chunk brought in. */
export interface TouchingRow {
  contactId: number;
  row: number;
  candidate: Candidate;
  issues: RowPlan['issues'];
  folded: boolean;
}

/** What one transaction writes, made ready. */
export interface ReadyChunk {
  lastRow: number;
  blocks: ContactBlocks;
  /** Rows of import_row that are settled already. */
  rowLines: Uint8Array;
  counts: Record<'new' | 'fold' | 'held', number>;
  touching: TouchingRow[];
  picks: FreshPick[];
}

interface ThreadState {
  planner: ImportPlanner;
  /** Contact that a row of this file became or found. */
  contactOf: Map<number, number>;
  runId: number;
}

/**
 * Runs in a thread of its own: reads the file, plans every row and renders what is to be written, chunk by chunk, a
 * little ahead of the thread that writes. Ends when the file does, or when told to stop.
 */
export default async function planImport({ databaseUrl, runId, intakeId, marker, port }: ImportTask): Promise<void> {
  const database = connect(databaseUrl, createLogger('import', 'warn'), 2);
  let room = AHEAD;
  let wake: (() => void) | null = null;
  let stopped = false;
  port.on('message', (message: 'written' | 'stop') => {
    if (message === 'stop') stopped = true;
    else room++;
    wake?.();
  });
  try {
    const [file] = await database.db.select().from(intake).where(eq(intake.id, intakeId));
    if (!file) throw new Error(`run ${runId} has no file`);
    const picks = await PickLists.load(database.db);
    const state: ThreadState = {
      planner: new ImportPlanner(
        database.pool,
        file.mapping,
        await loadCatalogue(database.db),
        picks,
        file.shape,
        runId,
      ),
      contactOf: new Map(),
      runId,
    };
    for await (const rows of readRows(database, file.id, file.shape, CHUNK)) {
      if (stopped) break;
      if ((rows[rows.length - 1]?.row ?? 0) <= marker) {
        await recall(database, state, rows);
        continue;
      }
      const chunk = await readyChunk(database, state, await state.planner.plan(rows), picks);
      while (room === 0 && !stopped) await new Promise<void>((done) => (wake = done));
      room--;
      const { contacts, keys, search, operations } = chunk.blocks;
      port.postMessage(
        chunk,
        [contacts, keys, search, operations, chunk.rowLines].map((bytes) => bytes.buffer as ArrayBuffer),
      );
    }
    port.postMessage('end');
  } finally {
    await database.pool.end();
    port.unref();
  }
}

/** Brings back what an interrupted run knew of rows it has written. */
async function recall({ pool }: Database, state: ThreadState, rows: readonly DataRow[]): Promise<void> {
  const settled = await pool.query<{ row: number; outcome: RowOutcome; contact_id: number | null }>(
    'select row, outcome, contact_id from import_row where run_id = $1 and row between $2 and $3',
    [state.runId, rows[0]?.row ?? 0, rows[rows.length - 1]?.row ?? 0],
  );
  for (const one of settled.rows)
    if (one.contact_id !== null && one.outcome !== 'held') state.contactOf.set(one.row, one.contact_id);
  state.planner.remember(rows, new Map(settled.rows.map((one) => [one.row, one.outcome])));
}

interface Fresh {
  record: ContactRecord;
  person?: MatchPerson;
}

/** Makes new contacts of a chunk's plans and renders them; rows of one person in it fold into one record first. */
async function readyChunk(
  { pool }: Database,
  state: ThreadState,
  plans: readonly RowPlan[],
  picks: PickLists,
): Promise<ReadyChunk> {
  const fresh = new Map<number, Fresh>();
  const touching: TouchingRow[] = [];
  const lines: string[] = [];
  const counts = { new: 0, fold: 0, held: 0 };
  for (const plan of plans) {
    const { decision } = plan;
    if (decision.kind === 'new')
      fresh.set(plan.row, {
        record: recordFrom(plan.candidate, state.planner.catalogue, { run: state.runId, row: plan.row }),
        person: plan.person,
      });
    else if (decision.kind === 'known') state.contactOf.set(plan.row, decision.contactId);
    else if (decision.kind === 'fold') foldIntoFresh(state, fresh, decision.intoRow, plan);
  }
  const ids = await takeIds(pool, fresh.size);
  [...fresh.keys()].forEach((row, i) => state.contactOf.set(row, ids[i] ?? 0));
  const rendered = emptyRendering();
  const now = new Date().toISOString();
  for (const [row, contact] of fresh)
    renderContact(rendered, state.runId, state.contactOf.get(row) ?? 0, { ...contact, sourceRow: row }, now);
  const settle = (plan: RowPlan, outcome: 'new' | 'fold' | 'held', contactId: number | null) => {
    counts[outcome]++;
    const issues = plan.issues.length ? copyCell(JSON.stringify(plan.issues)) : '\\N';
    const cells = outcome === 'held' ? copyCell(JSON.stringify(plan.cells)) : '\\N';
    lines.push(`${state.runId}\t${plan.row}\t${outcome}\t${contactId ?? '\\N'}\t${issues}\t${cells}`);
  };
  for (const plan of plans) {
    const { decision } = plan;
    if (decision.kind === 'held') settle(plan, 'held', null);
    else if (decision.kind === 'new') settle(plan, 'new', state.contactOf.get(plan.row) ?? null);
    else if (decision.kind === 'fold' && fresh.has(decision.intoRow))
      settle(plan, 'fold', state.contactOf.get(decision.intoRow) ?? null);
    else {
      const contactId = state.contactOf.get(decision.kind === 'fold' ? decision.intoRow : plan.row);
      if (contactId === undefined) throw new Error(`row ${plan.row} belongs to a row that became no contact`);
      touching.push({
        contactId,
        row: plan.row,
        candidate: plan.candidate,
        issues: plan.issues,
        folded: decision.kind === 'fold',
      });
    }
  }
  return {
    lastRow: plans[plans.length - 1]?.row ?? 0,
    blocks: toBlocks(rendered),
    rowLines: new TextEncoder().encode(lines.length ? `${lines.join('\n')}\n` : ''),
    counts,
    touching,
    picks: picks.takeFresh(),
  };
}

function foldIntoFresh(state: ThreadState, fresh: Map<number, Fresh>, intoRow: number, plan: RowPlan): void {
  const into = fresh.get(intoRow);
  if (!into) return;
  const applied = applyOperations(
    into.record,
    state.planner.planInto(0, into.record, plan.candidate, plan.row).operations,
  );
  if (!applied.ok) throw new Error(`row ${plan.row}: a plan into a new contact always applies`);
  fresh.set(intoRow, { record: applied.value });
}
