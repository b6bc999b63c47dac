import { sql } from 'drizzle-orm';
import type { Database, Tx } from '../db/connect';
import { run } from '../db/schema';
import { tell } from '../feed/events';
import type { Logger } from '../log';

/** Another worker has taken over: stop at once and write nothing more. */
export class LeaseLost extends Error {}

export interface Lease {
  runId: number;
  holder: string;
}

const until = (leaseMs: number) => sql`now() + ${`${leaseMs} milliseconds`}::interval`;

/**
 * Takes a run for this worker: a queued one, or one whose worker gave no sign of life for the time of a lease.
 * Returns null when the run is not to be had. States: queued -> running -> done | failed | stopped; running -> running
 * when it is taken over.
 */
export async function takeLease(
  { db }: Database,
  runId: number,
  holder: string,
  leaseMs: number,
): Promise<Lease | null> {
  const taken = await db
    .update(run)
    .set({ state: 'running', waits: null, leaseBy: holder, leaseUntil: until(leaseMs) })
    .where(
      sql`${run.id} = ${runId} and ${run.state} in ('queued', 'running')
        and (${run.leaseBy} is null or ${run.leaseUntil} < now() or ${run.leaseBy} = ${holder})`,
    )
    .returning({ id: run.id });
  return taken[0] ? { runId, holder } : null;
}

/** Keeps a lease while work goes on. */
export function keepAlive({ pool }: Database, lease: Lease, leaseMs: number, log: Logger): () => void {
  const timer = setInterval(() => {
    void pool
      .query(`update run set lease_until = now() + $3::interval where id = $1 and lease_by = $2`, [
        lease.runId,
        lease.holder,
        `${leaseMs} milliseconds`,
      ])
      .catch((error: unknown) =>
        log.warn({ runId: lease.runId, code: (error as { code?: string }).code }, 'a lease could not be renewed'),
      );
  }, leaseMs / 3);
  return () => clearInterval(timer);
}

/**
 * Writes a run's durable marker in the transaction of the work it marks. Throws LeaseLost when the run was taken over,
 * so that the work is rolled back and nothing is done twice.
 */
export async function markProgress(
  tx: Tx,
  lease: Lease,
  progress: { done: number; total: number },
  counts: Record<string, number>,
  leaseMs: number,
): Promise<{ stopRequested: boolean; pauseRequested: boolean }> {
  const marked = await tx.db
    .update(run)
    .set({ progress, counts, leaseUntil: until(leaseMs) })
    .where(sql`${run.id} = ${lease.runId} and ${run.leaseBy} = ${lease.holder} and ${run.state} = 'running'`)
    .returning({ stopRequested: run.stopRequested, pauseRequested: run.pauseRequested });
  if (!marked[0]) throw new LeaseLost(`run ${lease.runId} was taken over`);
  await tell(tx.client, { topic: 'run', id: lease.runId });
  return marked[0];
}
