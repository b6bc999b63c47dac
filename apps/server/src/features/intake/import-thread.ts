import type { MessagePort } from 'node:worker_threads';
import { eq } from 'drizzle-orm';
import type { Issue } from '@gray-loom/core/model';
import { PERMISSIONS } from '@gray-loom/core/mapping';
import type { Candidate } from '@gray-loom/core/writing';
import { actingAs, connect, type Database } from '../../db/connect';
import { actorOf, requireRun } from '../../runs/runs';
import { ownedByWhoBrings, RowRemit } from './rows/row-remit';
import { copyCell, CopyLines } from '../../db/copy';
import { intake } from '../../db/schema';
import { createLogger } from '../../log';
import { loadWords } from './rows/row-choices';
import { ImportPlanner } from './rows/import-plan';
import { RowContacts } from './rows/row-contacts';
import type { TouchingRow } from './rows/rows-under-lock';
import { RowValues } from './rows/row-values';
import { candidateOf, type PlainPlan, type RowPlan } from './rows/row-plan';
import type { FreshPick } from '../../book/picks';
import type { RowSaid } from '../contacts';
import type { RowActivity } from '../../book/row-activity';
import type { RowOpportunity } from '../opportunities';
import { readRows, type DataRow } from './files/read-file';
import {
  emptyRendering,
  memoryOf,
  renderContact,
  renderPlain,
  toBlocks,
  type ContactBlocks,
  type NewContact,
} from '../../book/render-contacts';
import { inThread } from '../../runs/threads';
import { loadDerivation, type Derivation } from '../../book/derivation';
import { takeIds } from '../../book/write-contacts';
import { settledRows } from './statements/import-thread';

/** Rows of one transaction. */
const CHUNK = 4000;
/** The same while others bring people in: whoever enters somebody waits for it. */
const GUARDED_CHUNK = 1000;
/** Of the first, so that writing begins soon; each of the next has twice as many as the one before. */
const FIRST_CHUNK = 500;
/** Rows planned and rendered at once: what is in work for them lives briefly, and costs the collector little. */
const BATCH = 250;
/** Chunks made ready ahead of the one being written. */
const AHEAD = 2;

export interface ImportTask {
  databaseUrl: string;
  runId: number;
  intakeId: number;
  /** Last row that an interrupted run has written. */
  marker: number;
  /** Somebody else makes people meanwhile: who is new is only decided under lock. */
  guarded: boolean;
  port: MessagePort;
}

/** What one transaction writes, made ready. */
export interface ReadyChunk {
  lastRow: number;
  guarded: boolean;
  blocks: ContactBlocks;
  /** Rows of import_row that are settled already. */
  rowLines: Uint8Array<ArrayBuffer>;
  counts: Record<'new' | 'fold' | 'held', number>;
  touching: TouchingRow[];
  /** Opportunities of contacts that the chunk makes, or that rows folded into. */
  opportunities: RowOpportunity[];
  activities: RowActivity[];
  /** What rows of the same say of permissions. */
  said: RowSaid[];
  picks: FreshPick[];
}

interface ThreadState {
  planner: ImportPlanner;
  values: RowValues;
  /** Contact that a row of this file became or found. */
  contactOf: RowContacts;
  /** Ids taken and not used yet. */
  ids: number[];
  runId: number;
  guarded: boolean;
}

/** A chunk in the making. */
class Chunk {
  readonly rendered;
  readonly lines = new CopyLines(CHUNK * 40);
  readonly counts = { new: 0, fold: 0, held: 0 };
  readonly touching: TouchingRow[] = [];
  readonly opportunities: RowOpportunity[] = [];
  readonly activities: RowActivity[] = [];
  readonly said: RowSaid[] = [];
  rows = 0;
  lastRow = 0;

  constructor(derivation: Derivation) {
    this.rendered = emptyRendering(derivation, CHUNK);
  }

  ready(picks: FreshPick[], guarded: boolean): ReadyChunk {
    return {
      lastRow: this.lastRow,
      guarded,
      blocks: toBlocks(this.rendered),
      rowLines: this.lines.taken(),
      counts: this.counts,
      touching: this.touching,
      opportunities: this.opportunities,
      activities: this.activities,
      said: this.said,
      picks,
    };
  }
}

/**
 * Runs in a thread of its own: reads the file, plans every row and renders what is to be written, chunk by chunk, a
 * little ahead of the thread that writes. Ends when the file does, or when told to stop.
 */
async function planImport({ databaseUrl, runId, intakeId, marker, guarded, port }: ImportTask): Promise<void> {
  const database = connect(databaseUrl, createLogger('import', 'warn'), 2);
  const own = actingAs(database, await actorOf(database, await requireRun(database, runId)));
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
    file.mapping = ownedByWhoBrings(file.mapping, own);
    const words = await loadWords(database, file);
    const state: ThreadState = {
      planner: await ImportPlanner.load(database, file, runId, words, { remit: await RowRemit.load(own) }),
      values: await RowValues.load(database, file.mapping, runId, words),
      contactOf: new RowContacts(file.rowCount),
      ids: [],
      runId,
      guarded,
    };
    let chunk = new Chunk(await loadDerivation(database.pool));
    let most = FIRST_CHUNK;
    const handOver = async () => {
      const ready = chunk.ready(state.planner.picks.takeFresh(), guarded);
      while (room === 0 && !stopped) await new Promise<void>((done) => (wake = done));
      room--;
      port.postMessage(ready, [...memoryOf(ready.blocks), ready.rowLines.buffer]);
      chunk = new Chunk(await loadDerivation(database.pool));
      most = Math.min(guarded ? GUARDED_CHUNK : CHUNK, most * 2);
    };
    for await (const rows of readRows(database, file.id, file.shape, BATCH)) {
      if (stopped) break;
      if ((rows[rows.length - 1]?.row ?? 0) <= marker) {
        await recall(database, state, rows);
        continue;
      }
      await addTo(chunk, database, state, await state.planner[guarded ? 'plan' : 'planShort'](rows));
      if (chunk.rows >= most) await handOver();
    }
    if (chunk.rows && !stopped) await handOver();
    port.postMessage('end');
  } finally {
    await database.pool.end();
    port.unref();
  }
}

export default inThread(planImport);

/** Brings back what an interrupted run knew of rows it has written. */
async function recall({ pool }: Database, state: ThreadState, rows: readonly DataRow[]): Promise<void> {
  const settled = await settledRows(pool, state.runId, rows[0]?.row ?? 0, rows[rows.length - 1]?.row ?? 0);
  for (const one of settled.rows)
    if (one.contact_id !== null && one.outcome !== 'held') state.contactOf.set(one.row, one.contact_id);
  state.planner.remember(rows, new Map(settled.rows.map((one) => [one.row, one.outcome])));
}

/** Makes new contacts of a batch's plans and renders them; rows of one person in it fold into one record first. */
async function addTo(
  chunk: Chunk,
  { pool }: Database,
  state: ThreadState,
  plans: readonly (RowPlan | PlainPlan)[],
): Promise<void> {
  const fresh = new Map<number, NewContact | PlainPlan>();
  const recordOf = (candidate: Candidate, row: number) => state.values.recordOf(candidate, row);
  // Fields have become unique since the file began: their keys are made the long way.
  const isShort = chunk.rendered.derivation.uniqueFields.length === 0;
  for (const plan of plans) {
    if ('plain' in plan) {
      fresh.set(plan.row, isShort ? plan : { record: recordOf(candidateOf(plan), plan.row), sourceRow: plan.row });
      continue;
    }
    const { decision } = plan;
    if (decision.kind === 'new' && !decidedUnderLock(state, plan))
      fresh.set(plan.row, { record: recordOf(plan.candidate, plan.row), person: plan.person, sourceRow: plan.row });
    else if (decision.kind === 'known') state.contactOf.set(plan.row, decision.contactId);
    else if (decision.kind === 'fold') {
      const into = fresh.get(decision.intoRow);
      if (!into) continue;
      const record = 'plain' in into ? recordOf(candidateOf(into), into.row) : into.record;
      const { candidate, row } = plan;
      fresh.set(decision.intoRow, {
        record: state.values.into(0, record, candidate, row, { folded: true }).record,
        sourceRow: decision.intoRow,
      });
    }
  }
  if (state.ids.length < fresh.size) state.ids.push(...(await takeIds(pool, CHUNK)));
  const ids = state.ids.splice(0, fresh.size);
  const now = new Date().toISOString();
  let i = 0;
  for (const [row, contact] of fresh) {
    const id = ids[i++] ?? 0;
    state.contactOf.set(row, id);
    if ('plain' in contact) renderPlain(chunk.rendered, state.runId, id, row, contact.plain, now);
    else renderContact(chunk.rendered, state.runId, id, contact, now);
  }
  for (const plan of plans) {
    if ('plain' in plan) note(chunk, state, plan.row, 'new', state.contactOf.get(plan.row) ?? null);
    else settle(chunk, state, plan, fresh);
  }
  chunk.rows += plans.length;
  chunk.lastRow = plans[plans.length - 1]?.row ?? chunk.lastRow;
}

/** Notes what became of a row. */
function note(
  chunk: Chunk,
  { runId }: ThreadState,
  row: number,
  outcome: 'new' | 'fold' | 'held',
  contactId: number | null,
  { issues, cells }: { issues: readonly Issue[]; cells: readonly string[] } = NOTHING,
): void {
  chunk.counts[outcome]++;
  const told = issues.length ? copyCell(JSON.stringify(issues)) : '\\N';
  const kept = outcome === 'held' ? copyCell(JSON.stringify(cells)) : '\\N';
  chunk.lines.add(`${runId}\t${row}\t${outcome}\t${contactId ?? '\\N'}\t${told}\t${kept}`);
}

const NOTHING = { issues: [], cells: [] };

/** Settles what became of a row, or that it is for a person who is here when the chunk is written. */
function settle(chunk: Chunk, state: ThreadState, plan: RowPlan, fresh: ReadonlyMap<number, unknown>): void {
  const { row, decision, issues, cells, candidate, opportunity, activities } = plan;
  const bring = (contactId: number | null, contactRow: number) => {
    const said = candidate[PERMISSIONS];
    if (said && contactId !== null) chunk.said.push({ contactId, candidate: { [PERMISSIONS]: said } });
    if (opportunity) chunk.opportunities.push({ row, contactId, contactRow, candidate: opportunity });
    for (const told of activities) chunk.activities.push({ ...told, row, contactId, contactRow });
  };
  if (decision.kind === 'held') return note(chunk, state, row, 'held', null, plan);
  const isOpen = decidedUnderLock(state, plan);
  if (decision.kind === 'new' && !isOpen) {
    bring(state.contactOf.get(row) ?? null, row);
    return note(chunk, state, row, 'new', state.contactOf.get(row) ?? null, plan);
  }
  const intoRow = decision.kind === 'fold' ? decision.intoRow : null;
  const contactId = state.contactOf.get(intoRow ?? row) ?? null;
  if (intoRow !== null && contactId !== null && fresh.has(intoRow)) {
    bring(contactId, intoRow);
    return note(chunk, state, row, 'fold', contactId, plan);
  }
  chunk.touching.push({
    contactId,
    seen: decision.kind === 'known' ? decision.seen : null,
    intoRow,
    row,
    candidate,
    issues,
    cells,
    opportunity,
    activities,
    unique: isOpen ? plan.unique : [],
  });
}

/** Whether a row may turn out to be for somebody else, or to clash with somebody, by the time it is written. */
function decidedUnderLock({ guarded }: ThreadState, { decision, unique }: RowPlan): boolean {
  if (decision.kind === 'new') return guarded || unique.length > 0;
  return decision.kind === 'known' && unique.length > 0;
}
