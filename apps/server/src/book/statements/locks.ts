import type { Queryable } from '../../db/connect';

/** Keys share so many locks: a chunk of thousands of them takes no more than the database has room for. */
const KEY_LOCKS = 256;
/** The spaces of advisory locks that are told by two numbers. */
const KEYS = 4313;
const MAKING_PEOPLE = 4314;

/** Locks look-up keys until the transaction ends, in one order for everybody. */
export const lockKeys = (client: Queryable, keys: readonly number[]) =>
  client.query(
    `select pg_advisory_xact_lock(${KEYS}, part) from (
       select distinct abs(key % ${KEY_LOCKS})::int as part from unnest($1::bigint[]) as k(key) order by part offset 0) ordered`,
    [keys.map(String)],
  );

/** Waits until nobody is making people by what they knew before, and keeps others from it until the transaction ends. */
export const makePeopleAlone = (client: Queryable) => client.query(`select pg_advisory_xact_lock(${MAKING_PEOPLE}, 0)`);

/** Waits while somebody makes people alone, and keeps others from that until the transaction ends. */
export const makePeople = (client: Queryable) =>
  client.query(`select pg_advisory_xact_lock_shared(${MAKING_PEOPLE}, 0)`);
