import type { Tx } from '../../db/connect';
import { refuse } from './refusals';
import { enqueueRun, handThread, startRun } from '../../runs/runs';

/** Queues a scan of everybody; refused while one is queued or under way. */
export async function startScan(tx: Tx): Promise<number> {
  const busy = await tx.client.query(
    `select 1 from run where kind = 'scan' and not detail ? 'ofRun' and state in ('queued', 'running') limit 1`,
  );
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
