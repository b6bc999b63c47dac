import { requireConnection, type ConnectionRow } from './connections';
import { eq, sql } from 'drizzle-orm';
import type { SyncRunRequest } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { connection, run } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { Refusal } from '../../http/refusal';
import { enqueueRun, startRun } from '../../runs/runs';
import { deletePlanned } from './statements/sync-changes';
import { lockConnection, noteCall, releaseRun, wasCalled } from './statements/start-sync';

const OPEN_RUN = sql`${run.kind} = 'sync' and ${run.state} in ('queued', 'running', 'paused')`;

interface StartOptions {
  onlyThere?: string[];
  /** It carries stops over: it may use what is kept for them of a quota. */
  stops?: boolean;
}

/** Puts a run of a connection on the queue; there is one at a time. */
export async function startSync(
  tx: Tx,
  row: ConnectionRow,
  { trial, only, onlyThere = [], stops = false }: Omit<SyncRunRequest, 'onlyThere'> & StartOptions,
): Promise<number> {
  await lockConnection(tx.client, row.id);
  const [open] = await tx.db
    .select({ id: run.id, state: run.state })
    .from(run)
    .where(sql`${OPEN_RUN} and (${run.detail}->>'connectionId')::int = ${row.id}`);
  if (open) throw refuse.runs({ name: row.name, runId: open.id, waits: open.state === 'paused' });
  if (row.state === 'stopped') throw refuse.stopped({ name: row.name });
  if (!trial && row.triedVersion < row.setupVersion) throw refuse.needsTrial();
  const what = trial
    ? `Trial of ${row.name}`
    : stops
      ? `Stops to ${row.name}`
      : only
        ? `${row.name}, ${only.length + onlyThere.length} chosen`
        : row.name;
  const runId = await startRun(tx, {
    kind: 'sync',
    state: 'queued',
    threadId: row.threadId,
    title: what,
    detail: { connectionId: row.id, trial, ...(only ? { only, onlyThere } : {}), ...(stops ? { stops } : {}) },
  });
  await enqueueRun(tx, runId);
  await tell(tx.client, { topic: 'syncs' });
  return runId;
}

export async function runConnection(
  database: Database,
  id: number,
  request: Parameters<typeof startSync>[2],
): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const row = await requireConnection(tx, id);
    return { runId: await startSync(tx, row, request) };
  });
}

/** The other side says that something changed. */
export async function callIn(tx: Tx, row: ConnectionRow): Promise<void> {
  if (row.state !== 'on') throw refuse.noSuchHook();
  await startSync(tx, row, { trial: false, only: null }).catch(async (error: unknown) => {
    if (!(error instanceof Refusal) || error.code !== 'runs') throw error;
    // One that is at work may have looked already; another one follows it.
    await noteCall(tx.client, Number(error.facts.runId));
  });
}

/** Starts another run right behind one that ends, where the other side called meanwhile. In the transaction that ends it. */
export async function startIfCalled(tx: Tx, connectionId: number, runId: number): Promise<void> {
  await lockConnection(tx.client, connectionId);
  const { rows } = await wasCalled(tx.client, runId);
  if (!rows[0]?.called) return;
  const row = await requireConnection(tx, connectionId);
  if (row.state === 'on') await startSync(tx, row, { trial: false, only: null });
}

/** Starts what is due by its timetable. A little later each time by chance, so that not all begin at once. */
export async function startDueSyncs(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const due = await tx.db
      .select()
      .from(connection)
      .where(sql`${connection.state} in ('on', 'paused') and ${connection.nextRunAt} <= now()`)
      .for('update', { skipLocked: true });
    for (const row of due) {
      const every = (row.everyMinutes ?? 60) * 60_000;
      await tx.db
        .update(connection)
        .set({
          nextRunAt:
            row.everyMinutes === null || row.state !== 'on'
              ? null
              : new Date(Date.now() + every * (1 + Math.random() * 0.1)),
        })
        .where(eq(connection.id, row.id));
      await startSync(tx, row, { trial: false, only: null }).catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error;
      });
    }
  });
}

/** Lets a run go on that the brake held, since a person looked at its plan, which gives way to what is done now. */
export async function releaseBrake(database: Database, runId: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rowCount } = await releaseRun(tx.client, runId);
    if (rowCount) await deletePlanned(tx.client, runId);
  });
}
