import { eq, inArray, sql } from 'drizzle-orm';
import { accountIdOf } from '../db/actor';
import { inTransaction, type Database, type Tx } from '../db/connect';
import { run, thread, type RunKind, type RunState, type ThreadKind } from '../db/schema';
import { tell } from '../feed/events';

export interface NewRun {
  kind: RunKind;
  state: RunState;
  threadId: number;
  title: string;
  contactId?: number | null;
  undoOf?: number | null;
  detail?: Record<string, unknown>;
  counts?: Record<string, number>;
}

/** The thread of a kind and name, made when it is new. */
export async function threadFor(tx: Tx, kind: ThreadKind, name: string): Promise<number> {
  const found = await tx.db
    .select({ id: thread.id })
    .from(thread)
    .where(sql`${thread.kind} = ${kind} and ${thread.name} = ${name}`)
    .limit(1);
  if (found[0]) return found[0].id;
  const made = await tx.db.insert(thread).values({ kind, name }).returning({ id: thread.id });
  return made[0]?.id ?? 0;
}

/** A new thread even when one of that name exists: each file is a thread of its own. */
export async function newThread(tx: Tx, kind: ThreadKind, name: string): Promise<number> {
  const made = await tx.db.insert(thread).values({ kind, name }).returning({ id: thread.id });
  return made[0]?.id ?? 0;
}

/** Starts a run of whoever the transaction acts for; a single change is done as soon as its transaction is. */
export async function startRun(tx: Tx, values: NewRun): Promise<number> {
  const made = await tx.db
    .insert(run)
    .values({ ...values, actorId: accountIdOf(tx.actor), finishedAt: values.state === 'done' ? sql`now()` : null })
    .returning({ id: run.id });
  const id = made[0]?.id ?? 0;
  await tell(tx.client, { topic: 'run', id });
  return id;
}

export async function handThread(tx: Tx): Promise<number> {
  return threadFor(tx, 'hand', 'By hand');
}

/** Puts a job for a run on the queue, in the caller's transaction, so that it is there exactly when the run is. */
export async function enqueueRun(tx: Tx, task: string, runId: number): Promise<void> {
  await tx.client.query(`select graphile_worker.add_job($1, payload := $2::json, max_attempts := 3, job_key := $3)`, [
    task,
    JSON.stringify({ runId }),
    `run:${runId}`,
  ]);
}

/** Kinds of runs that can wait at their marker, with the task that goes on. */
const PAUSABLE: Partial<Record<RunKind, string>> = {
  import: 'importFile',
  sync: 'syncConnection',
};

export function isPausable(kind: RunKind): boolean {
  return kind in PAUSABLE;
}

/** Asks a run to wait after the chunk it is at. */
export async function requestPause(database: Database, runId: number): Promise<boolean> {
  const paused = await database.db
    .update(run)
    .set({ pauseRequested: true })
    .where(
      sql`${run.id} = ${runId} and ${run.state} in ('queued', 'running') and ${inArray(run.kind, Object.keys(PAUSABLE) as RunKind[])}`,
    )
    .returning({ id: run.id });
  await tell(database.pool, { topic: 'run', id: runId });
  return paused.length > 0;
}

/** Lets a run that waits go on from its marker. */
export async function goOn(database: Database, runId: number): Promise<boolean> {
  return inTransaction(database, async (tx) => {
    const [found] = await tx.db
      .update(run)
      .set({ pauseRequested: false, state: sql`case when state = 'paused' then 'queued' else state end` })
      .where(sql`${run.id} = ${runId} and (${run.state} = 'paused' or ${run.pauseRequested})`)
      .returning({ kind: run.kind, state: run.state });
    if (!found) return false;
    const task = PAUSABLE[found.kind];
    if (found.state === 'queued' && task) await enqueueRun(tx, task, runId);
    await tell(tx.client, { topic: 'run', id: runId });
    return true;
  });
}

/** Puts a run to rest at its marker. */
export async function restRun(tx: Tx, runId: number): Promise<void> {
  await tx.db
    .update(run)
    .set({ state: 'paused', pauseRequested: false, leaseBy: null, leaseUntil: null })
    .where(eq(run.id, runId));
  await tell(tx.client, { topic: 'run', id: runId });
}

export async function requestStop(database: Database, runId: number): Promise<boolean> {
  const stopped = await database.db
    .update(run)
    .set({ stopRequested: true })
    .where(sql`${run.id} = ${runId} and ${run.state} in ('queued', 'running', 'paused')`)
    .returning({ id: run.id, state: run.state });
  // One that waits has to wake up to end properly.
  if (stopped[0]?.state === 'paused') await goOn(database, runId);
  await tell(database.pool, { topic: 'run', id: runId });
  return stopped.length > 0;
}

export async function finishRun(
  tx: Tx,
  runId: number,
  state: 'done' | 'stopped',
  counts: Record<string, number>,
): Promise<void> {
  await tx.db
    .update(run)
    .set({ state, counts, leaseBy: null, leaseUntil: null, finishedAt: sql`now()` })
    .where(eq(run.id, runId));
  await tell(tx.client, { topic: 'run', id: runId });
}

export async function failRun(database: Database, runId: number, message: string): Promise<void> {
  await database.db
    .update(run)
    .set({ state: 'failed', error: message, leaseBy: null, leaseUntil: null, finishedAt: sql`now()` })
    .where(eq(run.id, runId));
  await tell(database.pool, { topic: 'run', id: runId });
}
