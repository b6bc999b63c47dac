import { eq, inArray, sql } from 'drizzle-orm';
import { accountIdOf, PROGRAM, type Actor } from '../db/actor';
import { inTransaction, type Database, type Tx } from '../db/connect';
import { remitOf, remitPartsOf } from '../db/remits';
import { account, run, thread, type RunState, type ThreadKind } from '../db/schema';
import { tell } from '../feed/events';
import type { RunKinds } from './kind';
import type { Lease } from './lease';

export interface NewRun {
  /** One that is declared (run-kinds.ts). */
  kind: string;
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

/**
 * Puts a run on the queue, in the caller's transaction, so that the job is there exactly when the run is. Which slot it waits for
 * is decided by its kind when it is looked at.
 */
export async function enqueueRun(tx: Tx, runId: number, afterMs = 0): Promise<void> {
  await tx.client.query(
    `select graphile_worker.add_job('dispatch', payload := $1::json, max_attempts := 3, job_key := $2,
       run_at := now() + $3::float * interval '1 millisecond')`,
    [JSON.stringify({ runId }), `run:${runId}`, afterMs],
  );
}

export async function requireRun({ db }: Database, runId: number): Promise<typeof run.$inferSelect> {
  const [found] = await db.select().from(run).where(eq(run.id, runId));
  if (!found) throw new Error(`there is no run ${runId}`);
  return found;
}

/** Whoever started a run, in whose name its work is done. */
export async function actorOf({ db }: Database, { actorId }: { actorId: number | null }): Promise<Actor> {
  if (actorId === null) return PROGRAM;
  const [found] = await db
    .select({ name: account.name, role: account.role })
    .from(account)
    .where(eq(account.id, actorId));
  return found
    ? { kind: 'person', accountId: actorId, ...found, remit: remitOf(await remitPartsOf(db, actorId)) }
    : PROGRAM;
}

export async function stopIsAsked({ db }: Database, runId: number): Promise<boolean> {
  const [found] = await db.select({ asked: run.stopRequested }).from(run).where(eq(run.id, runId));
  return found?.asked ?? false;
}

/**
 * Puts a run back on the queue after it failed for a passing reason; it goes on from its marker. Nothing happens where another
 * worker has it by now.
 */
export async function putBack(
  database: Database,
  { runId, holder }: Lease,
  waitMs: number,
  because: string,
): Promise<void> {
  await inTransaction(database, async (tx) => {
    const put = await tx.db
      .update(run)
      .set({
        state: 'queued',
        attempts: sql`${run.attempts} + 1`,
        waits: { until: new Date(Date.now() + waitMs).toISOString(), because },
        leaseBy: null,
        // Until its turn nobody takes it for lost.
        leaseUntil: sql`now() + ${`${waitMs * 2} milliseconds`}::interval`,
      })
      .where(sql`${run.id} = ${runId} and ${run.leaseBy} = ${holder} and ${run.state} = 'running'`)
      .returning({ id: run.id });
    if (!put.length) return;
    await enqueueRun(tx, runId, waitMs);
    await tell(tx.client, { topic: 'run', id: runId });
  });
}

const LOOK_AGAIN_MS = 500;

/** Puts a run back on the queue that waits for a thread, and says which run has it. */
export async function waitForThread(database: Database, runId: number, forRun: number, leaseMs: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const waiting = await tx.db
      .update(run)
      // Until it is looked at again nobody takes it for lost.
      .set({ waits: { forRun }, leaseUntil: sql`now() + ${`${leaseMs} milliseconds`}::interval` })
      .where(sql`${run.id} = ${runId} and ${run.state} = 'queued'`)
      .returning({ id: run.id });
    if (waiting.length) await enqueueRun(tx, runId, LOOK_AGAIN_MS);
  });
}

/** Asks a run to wait after the chunk it is at. */
export async function requestPause(database: Database, kinds: RunKinds, runId: number): Promise<boolean> {
  const pausable = kinds.which(({ work }) => work?.pauses === true);
  const paused = await database.db
    .update(run)
    .set({ pauseRequested: true })
    .where(sql`${run.id} = ${runId} and ${run.state} in ('queued', 'running') and ${inArray(run.kind, pausable)}`)
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
      .returning({ state: run.state });
    if (!found) return false;
    if (found.state === 'queued') await enqueueRun(tx, runId);
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

/** Asks a run to end. One that waits ends at once; false for one that cannot be stopped. */
export async function requestStop(database: Database, kinds: RunKinds, runId: number): Promise<boolean> {
  const lasting = kinds.which(({ work }) => work?.stops === 'never');
  const stopped = await database.db
    .update(run)
    .set({ stopRequested: true })
    .where(
      sql`${run.id} = ${runId} and ${run.state} in ('queued', 'running', 'paused') and not ${inArray(run.kind, lasting)}`,
    )
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
