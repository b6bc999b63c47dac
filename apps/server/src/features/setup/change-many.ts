import { inTransaction } from '../../db/connect';
import { changeBatch, changeOf, endChange } from './change-contacts';
import { finishRun } from '../../runs/runs';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { keepPlace } from '../../runs/statements/keep-place';
import { guessContacts } from './statements/change-many';

/** Changes many contacts in chunks that are each one transaction; goes on after the last contact done when it was interrupted. */
export async function changeMany({ database, run: job, lease, leaseMs }: RunContext): Promise<void> {
  const change = await changeOf(database, lease.runId);
  if (!change) throw new Error(`run ${lease.runId} changes nothing`);
  const size = await guessContacts(database.pool);
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
      await keepPlace(tx.client, lease.runId, afterId);
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
