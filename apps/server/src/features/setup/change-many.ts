import { inTransaction } from '../../db/connect';
import { changeBatch, changeOf, endChange } from './change-contacts';
import { finishRun } from '../../runs/runs';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';

/** Changes many contacts in chunks that are each one transaction; goes on after the last contact done when it was interrupted. */
export async function changeMany({ database, run: job, lease, leaseMs }: RunContext): Promise<void> {
  const change = await changeOf(database, lease.runId);
  if (!change) throw new Error(`run ${lease.runId} changes nothing`);
  const size = await database.pool.query<{ n: number }>(
    `select coalesce(reltuples, 0)::int as n from pg_class where oid = 'contact'::regclass`,
  );
  const counts: Record<string, number> = { changed: 0, ...job.counts };
  let looked = job.progress.done;
  let afterId = (job.detail as { afterId?: number }).afterId ?? 0;
  for (let ended = false; !ended;) {
    const before = counts.changed ?? 0;
    const stop = await inTransaction(database, async (tx) => {
      const batch = await changeBatch(tx, lease.runId, change, afterId);
      counts.changed = before + batch.changed;
      if (batch.lastId === null) {
        ended = true;
        await markProgress(tx, lease, { done: looked, total: looked }, counts, leaseMs);
        await endChange(tx, lease.runId, change, counts);
        return false;
      }
      afterId = batch.lastId;
      looked += batch.looked;
      await tx.client.query(
        `update run set detail = jsonb_set(detail, '{afterId}', to_jsonb($2::bigint)) where id = $1`,
        [lease.runId, afterId],
      );
      const { stopRequested } = await markProgress(
        tx,
        lease,
        { done: looked, total: Math.max(looked, size.rows[0]?.n ?? 0) },
        counts,
        leaseMs,
      );
      return stopRequested;
    });
    if (stop) {
      await inTransaction(database, (tx) => finishRun(tx, lease.runId, 'stopped', counts));
      return;
    }
  }
}
