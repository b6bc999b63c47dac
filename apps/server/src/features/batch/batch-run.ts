import type { BatchChange } from '@gray-loom/core/writing';
import { batchInWords } from '@gray-loom/wire';
import { loadCatalogue } from '../../book/picks';
import { inTransaction, type Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import { ifStopped, type RunContext, type RunKind, type UndoTarget } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { finishRun } from '../../runs/runs';
import { keepPlace } from '../../runs/statements/keep-place';
import { addCounts, changeSome, type BatchCounts } from './batch-change';
import { endBatch } from './batch';
import { changeOfBatch, choicesBefore, nextTargets, writeChoices } from './statements/batch';

const CHUNK = 1000;

/** Changes those a batch is about, in chunks that are each one transaction; goes on after the last one done when it was interrupted. */
async function workOnBatch({ database, run: job, lease, leaseMs }: RunContext): Promise<void> {
  const { change } = job.detail as { change?: BatchChange };
  if (!change) throw new Error(`run ${lease.runId} changes nothing`);
  const catalogue = await loadCatalogue(database.db);
  let counts: BatchCounts = { ...job.counts };
  let { done } = job.progress;
  const { total } = job.progress;
  let afterId = (job.detail as { afterId?: number }).afterId ?? 0;
  for (let isEnded = false; !isEnded;) {
    const stop = await inTransaction(database, async (tx) => {
      const ids = (await nextTargets(tx.client, lease.runId, afterId, CHUNK)).rows.map(({ id }) => id);
      const after = addCounts({ ...counts }, await changeSome(tx, lease.runId, change, ids, catalogue));
      const last = ids[ids.length - 1];
      if (last === undefined) {
        isEnded = true;
        await markProgress(tx, lease, { done: total, total }, after, leaseMs);
        await endBatch(tx, lease.runId, change, after);
        return false;
      }
      await keepPlace(tx.client, lease.runId, last);
      const { stopRequested } = await markProgress(tx, lease, { done: done + ids.length, total }, after, leaseMs);
      counts = after;
      done += ids.length;
      afterId = last;
      return stopRequested;
    });
    if (stop) {
      await inTransaction(database, (tx) => finishRun(tx, lease.runId, 'stopped', counts));
      return;
    }
  }
}

/** What was said of connections goes back where it still is as the run left it. */
async function undoBatch(tx: Tx, { id, kind, undoOf }: UndoTarget): Promise<void> {
  if (kind === 'undo' && undoOf === null) return;
  const { rows } = await changeOfBatch<BatchChange>(tx.client, kind === 'undo' ? (undoOf ?? id) : id);
  const change = rows[0]?.change;
  if (change?.kind !== 'sync') return;
  const before = await choicesBefore(tx.client, kind === 'undo' ? (undoOf ?? id) : id);
  const ids = before.rows.map((row) => row.id);
  await writeChoices(
    tx.client,
    change.connectionId,
    ids,
    before.rows.map((row) => (kind === 'undo' ? (change.choice ?? '') : row.before)),
  );
  await tell(tx.client, { topic: 'syncs' });
}

/** A change of many contacts at once. */
export const batchRun: RunKind = {
  kind: 'batch',
  name: 'changed many',
  doing: 'Changing',
  sentence: (run) => {
    const refused = Object.entries(run.counts).flatMap(([key, n]) =>
      key.startsWith('refused.') ? [{ why: key.slice(8) as 'gone', n: n ?? 0 }] : [],
    );
    const words = batchInWords(
      { changes: run.counts.changed ?? 0, same: run.counts.same ?? 0, refused },
      { isDone: true },
    );
    return `${run.title}: ${words}${ifStopped(run)}`;
  },
  undo: { also: undoBatch },
  work: {
    thread: { name: 'changing', heapMb: 1024, idleMs: 60_000 },
    size: () => 'long',
    pauses: false,
    stops: 'anytime',
    retries: 5,
    do: workOnBatch,
  },
};
