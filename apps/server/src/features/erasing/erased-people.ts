import type { ErasedPeople } from '@gray-loom/wire';
import { inTransaction, type Database } from '../../db/connect';
import { handThread, startRun } from '../../runs/runs';
import { refuseErasing } from './refusals';
import { deleteBlocked, erasedPeople, lookAgainOverThere } from './statements/erasing';

/** Everybody who was erased and is kept out, the latest first. */
export async function listErased({ pool }: Database): Promise<ErasedPeople> {
  const { rows } = await erasedPeople(pool);
  return rows.map(({ id, contact_id: contactId, reason, erased_at: at, by, forms }) => ({
    id,
    contactId,
    reason,
    by,
    at: at.toISOString(),
    forms,
  }));
}

/** Lets somebody who was erased come in again. Nothing comes back by it. */
export async function liftBlocked(database: Database, id: number): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const { rowCount } = await deleteBlocked(tx.client, id);
    if (!rowCount) throw refuseErasing.noSuchErased();
    await lookAgainOverThere(tx.client);
    const runId = await startRun(tx, {
      kind: 'lift',
      state: 'done',
      threadId: await handThread(tx),
      title: 'Somebody who was erased may come in again',
    });
    return { runId };
  });
}
