import type { Looker } from '@gray-loom/wire';
import { accountIdOf, type Actor } from '../../db/actor';
import type { Database } from '../../db/connect';
import { tell } from '../../feed/events';
import { endLook, forgetOldLooks, noteLook, othersLooking } from './statements/looks';

/** A look counts so long after it was last said; browsers say it anew before. */
const LOOK_S = 90;

/** Notes that somebody has a contact on screen, and says who else does. Others are told when one comes. */
export async function lookAtContact({ pool }: Database, contactId: number, actor: Actor): Promise<Looker[]> {
  const own = accountIdOf(actor);
  if (own === null) return [];
  const { rows } = await noteLook(pool, contactId, own, LOOK_S);
  if (rows[0]?.isNew) {
    await forgetOldLooks(pool);
    await tell(pool, { topic: 'looks', id: contactId });
  }
  return (await othersLooking(pool, contactId, own)).rows;
}

/** Somebody looks at a contact no more. */
export async function leaveContact({ pool }: Database, contactId: number, actor: Actor): Promise<void> {
  const own = accountIdOf(actor);
  if (own === null) return;
  const { rowCount } = await endLook(pool, contactId, own);
  if (rowCount) await tell(pool, { topic: 'looks', id: contactId });
}
