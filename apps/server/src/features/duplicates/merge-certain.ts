import { inTransaction } from '../../db/connect';
import { mergeThese } from './merge-batch';
import { keepBatchPlace } from './statements/merge-batch';
import { finishRun } from '../../runs/runs';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';

/** Groups of one transaction. */
const AT_ONCE = 50;

/** Merges all certain groups of a batch, some at a time; goes on after the last of them when it was interrupted. */
export async function mergeCertain({ database, run, lease, leaseMs }: RunContext): Promise<void> {
  const { groups = [], at: from = 0 } = run.detail as { groups?: number[]; at?: number };
  const counts: Record<string, number> = { groups: 0, merged: 0, left: 0, ...run.counts };
  let at = from;
  let stopped = run.stopRequested;
  while (at < groups.length && !stopped) {
    const next = groups.slice(at, at + AT_ONCE);
    const { sum, stopRequested } = await inTransaction(database, async (tx) => {
      const part = await mergeThese(database, tx, lease.runId, next);
      const added = {
        groups: (counts.groups ?? 0) + part.merged,
        merged: (counts.merged ?? 0) + part.records,
        left: (counts.left ?? 0) + part.left,
      };
      await keepBatchPlace(tx.client, lease.runId, at + next.length);
      const progress = { done: at + next.length, total: groups.length };
      return { sum: added, ...(await markProgress(tx, lease, progress, added, leaseMs)) };
    });
    Object.assign(counts, sum);
    at += next.length;
    stopped = stopRequested;
  }
  const ended = at < groups.length ? 'stopped' : 'done';
  await inTransaction(database, (tx) => finishRun(tx, lease.runId, ended, counts));
}
