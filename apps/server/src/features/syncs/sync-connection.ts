import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import {
  SyncPass,
  ToolTrouble,
  withMadeFields,
  type BrakeReason,
  type PassItem,
  type PassPlan,
  type PassTotals,
  type SyncContext,
  type Tool,
} from '@gray-loom/core/syncing';
import { connectorsFor } from '../../connectors';
import { inTransaction, type Database, wholeBook } from '../../db/connect';
import { connection, run } from '../../db/schema';
import { tell } from '../../feed/events';
import { settingsOf, requireConnection, type ConnectionRow } from './connections';
import { loadCatalogue, PickLists } from '../../book/picks';
import { failRun, finishRun, restRun } from '../../runs/runs';
import { foughtLines } from './sync-setup';
import { itemCodec } from './item-codec';
import { eventRow, fieldName, insertChanges, nameThere, type ChangeRow } from './sync-changes';
import { DatabaseSyncStore, type SyncStoreOptions } from './sync-store';
import type { RunContext } from '../../runs/kind';
import { markProgress, type Lease } from '../../runs/lease';
import { codeOf } from '../../db/error-code';
import { startIfCalled } from './start-sync';
import { noteClock } from './hooks/hook-state';
import { startIfWaited } from './results/start-results';
import { chooseByRecords, handledCalls, openCalls } from './statements/hooks';
import { deletePlanned } from './statements/sync-changes';
import { countsWritten, endConnectionRun, addToDetail, brakeRun } from './statements/sync-connection';

/** Planned changes that a trial keeps to be looked at; its counts are of all. */
const KEPT = 5000;

/** Whoever says "not now" is asked again after this at the earliest. */
const LEAST_WAIT_MS = 60_000;

/** What the other side calls for a look at its records. */
const RECORD_CALLS = ['records', 'pushed'];

interface SyncDetail {
  connectionId: number;
  trial?: boolean;
  only?: number[];
  onlyThere?: string[];
  stops?: boolean;
  released?: boolean;
}

/** One run of a connection: a trial, or a pass that writes. */
export async function syncConnection(asked: RunContext): Promise<void> {
  // Whom a sync is about is settled before it is begun; both sides are then told apart by everybody who is here.
  const context = { ...asked, database: wholeBook(asked.database) };
  const { database, run: job, lease } = context;
  const detail = job.detail as unknown as SyncDetail;
  const row = await requireConnection(database, detail.connectionId);
  if (job.stopRequested) {
    await endHeld(database, lease, row);
    return;
  }
  try {
    await pass(context, row, detail);
  } catch (error) {
    if (!(error instanceof ToolTrouble)) throw error;
    await inTroubleOf(database, lease, row, error);
  }
}

/**
 * What a run did in all. Totals are those of a plan, and the plan of a run that went on holds only what was left: of the two the
 * larger counts. Questions are those that are open now.
 */
function together(before: Record<string, number>, totals: PassTotals): Record<string, number> {
  const { asked, conflicts, ...done } = totals;
  const larger = Object.entries(done).map(([key, n]) => [key, Math.max(n, before[key] ?? 0)]);
  return { ...(Object.fromEntries(larger) as Record<string, number>), asked, conflicts };
}

/** Ends a run that waited, without doing what it had planned. */
async function endHeld(database: Database, lease: Lease, row: ConnectionRow): Promise<void> {
  await inTransaction(database, async (tx) => {
    // What the brake kept to be looked at was planned, not done; what was done before stays in the report.
    await deletePlanned(tx.client, lease.runId);
    const { rows } = await countsWritten(tx.client, lease.runId);
    await finishRun(tx, lease.runId, 'stopped', rows[0]?.counts ?? {});
    await tx.db.update(connection).set({ brakedRun: null }).where(eq(connection.id, row.id));
    await tell(tx.client, { topic: 'syncs' });
  });
}

async function inTroubleOf(database: Database, lease: Lease, row: ConnectionRow, trouble: ToolTrouble): Promise<void> {
  // Also after a run by hand: what is left is tried when the other side allows it.
  const waitMs = trouble.waitMs === null ? null : Math.max(trouble.waitMs, LEAST_WAIT_MS);
  const then =
    waitMs === null
      ? 'the next run goes on from there'
      : `the rest is tried again by itself in ${Math.ceil(waitMs / 60_000)} min`;
  await failRun(
    database,
    lease.runId,
    `${trouble.message} What was written stands; nothing is half done, and ${then}.`,
  );
  await database.db
    .update(connection)
    .set({
      trouble: trouble.message,
      ...(waitMs === null ? {} : { nextRunAt: new Date(Date.now() + waitMs) }),
    })
    .where(eq(connection.id, row.id));
  await tell(database.pool, { topic: 'syncs' });
}

async function pass(
  { database, config, run: job, lease, leaseMs, log }: RunContext,
  row: ConnectionRow,
  detail: SyncDetail,
): Promise<void> {
  const { secretKey, standIns, country } = config;
  const before = job.counts;
  const tool = connectorsFor(standIns)[row.kind].open(row.place, settingsOf(row, secretKey), {
    forStops: detail.stops === true,
  });
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const own = row.setup.lines.map(({ outside }) => outside);
  const capabilities = withMadeFields(await tool.capabilities(), own);
  await database.db.update(connection).set({ capabilities, trouble: null }).where(eq(connection.id, row.id));
  const fought = await foughtLines(database.pool, row, catalogue);
  const setup = {
    ...row.setup,
    lines: row.setup.lines.filter(({ id }) => !fought.some(({ line }) => line === id)),
  };
  const context: SyncContext = { catalogue, country, settle: (kind, text) => picks.settle(kind, text) };
  const options: SyncStoreOptions = {
    connectionId: row.id,
    connectionName: row.name,
    threadId: row.threadId,
    setup,
    capabilities,
    catalogue,
    picks,
    context,
    runId: lease.runId,
    lease,
  };
  const store = new DatabaseSyncStore(database, options);
  const calls = detail.trial || detail.only ? [] : (await openCalls(database.pool, row.id, RECORD_CALLS)).rows;
  const pushed = await pushedRecords(database, row.id, tool, calls);
  let ended: 'stopped' | 'paused' | null = null;
  const goOn = async (done: number, total: number, totals: PassTotals) => {
    const { stopRequested, pauseRequested } = await inTransaction(database, (tx) =>
      markProgress(tx, lease, { done, total }, together(before, totals), leaseMs),
    );
    if (stopRequested) ended = 'stopped';
    else if (pauseRequested) ended = 'paused';
    return ended === null;
  };
  const syncPass = new SyncPass(store, tool, setup, {
    run: lease.runId,
    capabilities,
    context,
    nonce: randomBytes(6).toString('hex'),
    only: detail.only,
    onlyThere: detail.onlyThere,
    pushed,
    codec: itemCodec,
    goOn,
  });
  const plan = await syncPass.plan();
  const { reasons } = plan;
  if (detail.trial) {
    await keepTrial(database, lease, options, plan, reasons, row);
    return;
  }
  if (reasons.length && !detail.released) {
    await brake(database, lease, options, plan, reasons, before);
    return;
  }
  const end = await syncPass.apply(plan);
  const counts = {
    ...together(before, end.totals),
    requests: tool.requests + (before.requests ?? 0),
    left: end.left,
  };
  if (ended === 'paused') {
    await inTransaction(database, async (tx) => {
      await restRun(tx, lease.runId);
      await tx.db.update(run).set({ counts }).where(eq(run.id, lease.runId));
    });
    return;
  }
  await inTransaction(database, async (tx) => {
    await finishRun(tx, lease.runId, ended === 'stopped' ? 'stopped' : 'done', counts);
    await endConnectionRun(tx.client, row.id, troubleAfter(end.full, fought));
    if (ended !== 'stopped') {
      await chooseByRecords(tx.client, row.id, [...pushed]);
      await handledCalls(
        tx.client,
        calls.map(({ id }) => id),
        lease.runId,
      );
      await startIfCalled(tx, row.id, lease.runId);
      await startIfWaited(tx, row);
    }
    await noteClock(tx.db, row.id, tool);
    await tell(tx.client, { topic: 'syncs' });
  });
  const { madeThere, removedThere, changedThere } = end.totals;
  if (madeThere + removedThere + changedThere === 0) return;
  try {
    const capabilities = withMadeFields(await tool.capabilities(), own);
    await database.db.update(connection).set({ capabilities }).where(eq(connection.id, row.id));
  } catch (error) {
    // The run is through; the next one asks again.
    log.warn({ runId: lease.runId, code: codeOf(error) }, 'what a tool can do could not be asked after a run');
  }
}

function troubleAfter(isFull: boolean, fought: readonly { field: string; with: string }[]): string | null {
  const [first] = fought;
  if (isFull) return 'The book over there is full. Make room, or let fewer take part.';
  if (!first) return null;
  return `${fought.map(({ field }) => field).join(', ')} goes back and forth between this connection
     and ${first.with}, so it is left alone. Change the rule of one of them; the rest goes on.`;
}

/** Records that colleagues over there sent over by hand, by the ids that they have for us; of those linked here it is noted at once. */
async function pushedRecords(
  database: Database,
  connectionId: number,
  tool: Tool,
  calls: readonly { kind: string; ids: string[] }[],
): Promise<Set<string>> {
  const ids = [...new Set(calls.flatMap((call) => (call.kind === 'pushed' ? call.ids : [])))];
  if (!ids.length) return new Set();
  const pushed = new Set((await tool.read(ids)).map(({ id }) => id));
  await chooseByRecords(database.pool, connectionId, [...pushed]);
  return pushed;
}

/** What a plan would do, row by row, as the report of a run has it: the first of it. */
function plannedRows(plan: PassPlan, options: SyncStoreOptions): ChangeRow[] {
  const rows: ChangeRow[] = [];
  for (const item of plan.items) {
    rows.push(...rowsOf(item, options));
    if (rows.length >= KEPT) break;
  }
  return rows.slice(0, KEPT);
}

function rowsOf(item: PassItem, { setup, capabilities, catalogue }: SyncStoreOptions): ChangeRow[] {
  const contactId = item.person?.id ?? item.link.contactId;
  const of = {
    outsideId: item.link.outsideId,
    contactId,
    name: nameOf(item, catalogue),
  };
  const event = item.event ? [eventRow(of, item.event, item.link)] : [];
  if (item.action === 'makeHere' || item.action === 'makeThere') return event;
  return [
    ...event,
    ...(item.plan?.changes ?? []).map((change) => ({
      ...of,
      side: change.side,
      field: fieldName(setup, capabilities, catalogue, change.line),
      kind: change.kind,
      before: change.before,
      after: change.after,
    })),
  ];
}

function nameOf(item: PassItem, catalogue: SyncStoreOptions['catalogue']): string {
  if (item.person) {
    const text = (field: string) => String(item.person?.record.f[field]?.[0]?.v ?? '');
    const whole = [text('givenName'), text('familyName')].filter(Boolean).join(' ');
    if (whole) return whole;
  }
  return nameThere(item.link.seen, catalogue);
}

async function keepTrial(
  database: Database,
  lease: Lease,
  options: SyncStoreOptions,
  plan: PassPlan,
  reasons: BrakeReason[],
  row: ConnectionRow,
): Promise<void> {
  await inTransaction(database, async (tx) => {
    await insertChanges(tx.client, options, plannedRows(plan, options));
    await addToDetail(tx.client, lease.runId, JSON.stringify({ reasons, setupVersion: row.setupVersion }));
    await finishRun(tx, lease.runId, 'done', { ...plan.totals });
    await tx.db.update(connection).set({ triedVersion: row.setupVersion }).where(eq(connection.id, row.id));
    await tell(tx.client, { topic: 'syncs' });
  });
}

/** Holds a run, with its plan, until a person decides. */
async function brake(
  database: Database,
  lease: Lease,
  options: SyncStoreOptions,
  plan: PassPlan,
  reasons: BrakeReason[],
  before: Record<string, number>,
): Promise<void> {
  await inTransaction(database, async (tx) => {
    await deletePlanned(tx.client, lease.runId);
    await insertChanges(tx.client, options, plannedRows(plan, options), true);
    await brakeRun(tx.client, lease.runId, JSON.stringify({ reasons, written: before }), JSON.stringify(plan.totals));
    await tx.db.update(connection).set({ brakedRun: lease.runId }).where(eq(connection.id, options.connectionId));
    await restRun(tx, lease.runId);
    await tell(tx.client, { topic: 'syncs' });
  });
}
