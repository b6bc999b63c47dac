import type { Tx } from '../../db/connect';
import { refuse } from './refusals';
import { enqueueRun, handThread, startRun } from '../../runs/runs';
import { openScan } from './statements/match-scan';

/** Queues a scan of everybody; refused while one is queued or under way. */
export async function startScan(tx: Tx): Promise<number> {
  const busy = await openScan(tx.client);
  if (busy.rowCount) throw refuse.scanning();
  const id = await startRun(tx, {
    kind: 'scan',
    state: 'queued',
    threadId: await handThread(tx),
    title: 'Scan of everybody for duplicates',
  });
  await enqueueRun(tx, id);
  return id;
}
