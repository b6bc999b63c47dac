import { eq } from 'drizzle-orm';
import { inTransaction, type Database } from '../../db/connect';
import { run } from '../../db/schema';
import { mergeNext } from './merge-batch';
import { finishRun } from '../../runs/runs';
import { markProgress, type Lease } from '../../runs/lease';

/** Groups of one transaction. */
const AT_ONCE = 50;

/** Merges all certain groups of a batch, some at a time; goes on after the last of them when it was interrupted. */
export async function mergeCertain(database: Database, lease: Lease, leaseMs: number): Promise<void> {
  const [job] = await database.db.select().from(run).where(eq(run.id, lease.runId));
  const {
    last = 0,
    after: from = 0,
    except = [],
    total = 0,
  } = (job?.detail ?? {}) as {
    last?: number;
    after?: number;
    except?: number[];
    total?: number;
  };
  const counts: Record<string, number> = { groups: 0, merged: 0, left: 0, ...job?.counts };
  let after = from;
  for (;;) {
    const { part, stop } = await inTransaction(database, async (tx) => {
      const next = await mergeNext(database, tx, lease.runId, { after, last, except }, AT_ONCE);
      const sum = {
        groups: (counts.groups ?? 0) + next.merged,
        merged: (counts.merged ?? 0) + next.records,
        left: (counts.left ?? 0) + next.left,
      };
      const { stopRequested } = await markProgress(
        tx,
        lease,
        { done: Math.min(total, sum.groups + sum.left), total },
        sum,
        leaseMs,
      );
      Object.assign(counts, sum);
      return { part: next, stop: stopRequested };
    });
    after = part.lastId;
    if (stop || part.groups < AT_ONCE) {
      const ended = stop && part.groups === AT_ONCE ? 'stopped' : 'done';
      await inTransaction(database, (tx) => finishRun(tx, lease.runId, ended, counts));
      return;
    }
  }
}
