import { wordBrake, type BrakeReason } from '@gray-loom/core/syncing';
import { inTransaction, wholeBook, type Database } from '../../db/connect';
import { Refusal } from '../../http/refusal';
import { closedOf } from '../contacts';
import { requireConnection } from './connections';
import { startSync } from './start-sync';
import { permissionsSincePass, triedLately } from './statements/late-stops';

/** Contacts looked at at once; the rest follows. */
const MOST = 5000;
/** Carried over by one run. */
const IN_A_RUN = 1000;
const AGAIN_AFTER_MINUTES = 10;

/** A stop that stands here, and that a tool does not hold yet. */
export interface LateStop {
  connectionId: number;
  contactId: number;
  since: Date;
}

/** The stops that a tool does not hold yet, the longest late first; of connections that run. */
export async function lateStops(database: Database): Promise<LateStop[]> {
  const { rows } = await permissionsSincePass(database.pool, MOST);
  if (!rows.length) return [];
  const closed = await closedOf(
    database,
    rows.map(({ contact_id: id }) => id),
  );
  return rows
    .filter(({ contact_id: id, keeps, there }) =>
      closed.get(id)?.some((channel) => keeps.includes(channel) && !there.includes(channel)),
    )
    .map(({ connection_id: connectionId, contact_id: contactId, since }) => ({ connectionId, contactId, since }));
}

/** By the clock: carries stops over that a tool does not hold yet, whatever its timetable, before anything else of it. */
export async function carryStops(asked: Database): Promise<void> {
  const database = wholeBook(asked);
  const late = await lateStops(database);
  for (const id of new Set(late.map(({ connectionId }) => connectionId)))
    await inTransaction(database, async (tx) => {
      const { rowCount } = await triedLately(tx.client, id, AGAIN_AFTER_MINUTES);
      if (rowCount) return;
      const only = late.filter(({ connectionId }) => connectionId === id).slice(0, IN_A_RUN);
      await startSync(tx, await requireConnection(tx, id), {
        trial: false,
        only: only.map(({ contactId }) => contactId),
        stops: true,
      });
    }).catch((error: unknown) => {
      // It is at work, or waits for a person, who sees the stops on the worklist.
      if (!(error instanceof Refusal)) throw error;
    });
}

/** Why a tool does not hold them yet, in words. */
export function sayLate({
  trouble,
  reasons,
  isTried,
}: {
  trouble: string | null;
  reasons: BrakeReason[] | null;
  isTried: boolean;
}): string {
  if (reasons?.[0]) return `A run waits for your decision: ${wordBrake(reasons[0])}`;
  if (trouble) return trouble;
  return isTried ? 'They are carried over next.' : 'Its set-up was changed and not tried yet. Try it first.';
}
