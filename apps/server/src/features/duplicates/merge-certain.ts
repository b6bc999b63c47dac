import { inTransaction } from '../../db/connect';
import { mergeNext } from './merge-batch';
import { finishRun } from '../../runs/runs';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';

/** Groups of one transaction. */
const AT_ONCE = 50;

/** Merges all certain groups of a batch, some at a time; goes on after the last of them when it was interrupted. */
export async function mergeCertain({ database, run, lease, leaseMs }: RunContext): Promise<void> {
  const {
    last = 0,
    after: from = 0,
    except = [],
    total = 0,
  } = run.detail as {
    last?: number;
    after?: number;
    except?: number[];
    total?: number;
  };
  const counts: Record<string, number> = { groups: 0, merged: 0, left: 0, ...run.counts };
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
