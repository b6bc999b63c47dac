import { seesPart } from '../db/actor';
import { actingAs, type Database } from '../db/connect';
import { contactsSeen } from './statements/seen';

/** Which of some contacts the actor sees, in whatever state they are. Everybody, for whoever has no remit. */
export async function seenAmong(database: Database, ids: readonly number[]): Promise<ReadonlySet<number>> {
  const asked = [...new Set(ids)];
  if (!asked.length || !seesPart(database.actor)) return new Set(asked);
  const { rows } = await contactsSeen(actingAs(database, database.actor).pool, asked);
  return new Set(rows.map(({ id }) => id));
}

/** Parts a list by whether the actor sees the contacts it is of. */
export async function partedBySight<T>(
  database: Database,
  list: readonly T[],
  idOf: (one: T) => number,
): Promise<{ seen: T[]; others: T[] }> {
  const sight = await seenAmong(database, list.map(idOf));
  return { seen: list.filter((one) => sight.has(idOf(one))), others: list.filter((one) => !sight.has(idOf(one))) };
}
