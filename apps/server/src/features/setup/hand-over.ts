import { handThread, startRun } from '../../runs/runs';
import type { Tx } from '../../db/connect';
import { beginChange } from './change-contacts';
import { renameReferences } from '../../book/renamed-picks';

/** Gives all contacts of one owner to another. One run: at once for few, as a job for many, taken back as a whole. */
export async function handOverAll(
  tx: Tx,
  { from, into, title }: { from: string; into: string; title: string },
): Promise<{ runId: number; finished: boolean }> {
  const runId = await startRun(tx, {
    kind: 'handOver',
    state: 'running',
    threadId: await handThread(tx),
    title,
  });
  const before = await renameReferences(tx, { field: 'owner', from, into });
  const finished = await beginChange(tx, runId, { kind: 'pick', field: 'owner', from, into, dropped: null, before });
  return { runId, finished };
}
