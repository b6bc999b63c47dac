import type { Tx } from '../../db/connect';
import { changeActivities, loadActivities } from '../../book/activities';
import { openOfAccount, openWithOwners } from './statements/hand-along';

async function giveTo(tx: Tx, runId: number, ids: readonly number[], heirId: number): Promise<void> {
  const loaded = await loadActivities(tx, ids);
  await changeActivities(
    tx,
    runId,
    [...loaded.values()].map((one) => ({ loaded: one, activity: { ...one.activity, who: heirId } })),
  );
}

/** Gives what an account still has to do, and its appointments ahead, to another one; part of the run, and of its undo. */
export async function handOpenOf(tx: Tx, runId: number, fromId: number, heirId: number): Promise<void> {
  const { rows } = await openOfAccount(tx.client, fromId);
  await giveTo(
    tx,
    runId,
    rows.map(({ id }) => id),
    heirId,
  );
}

/** The same for contacts that are handed over: of each what its owner until now still has to do with it. */
export async function handOpenWith(
  tx: Tx,
  runId: number,
  contacts: readonly { contactId: number; owner: string }[],
  heirId: number,
): Promise<void> {
  const owned = contacts.filter(({ owner }) => owner);
  if (!owned.length) return;
  const { rows } = await openWithOwners(
    tx.client,
    owned.map(({ contactId }) => contactId),
    owned.map(({ owner }) => owner),
  );
  await giveTo(
    tx,
    runId,
    rows.map(({ id }) => id),
    heirId,
  );
}
