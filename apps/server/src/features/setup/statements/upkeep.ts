import type { Queryable } from '../../../db/connect';

/** Counting on is of no use to anybody. */
const MOST_COUNTED = 10_000;

export const selectReaders = (client: Queryable) =>
  client.query<{
    name: string;
    connection: string | null;
    behind: number;
    error: string | null;
    failing_since: Date | null;
    next_try_at: Date | null;
  }>(
    `select f.name, n.name as connection, f.error, f.failing_since, f.next_try_at,
       (select count(*)::int from (
          select 1 from change c where (c.txid, c.seq) > (f.txid, f.seq) limit $1) waiting) as behind
     from feed_consumer f left join connection n on f.name = 'sync:' || n.id order by f.name`,
    [MOST_COUNTED],
  );

export const tryAgainNow = (client: Queryable, name: string) =>
  client.query('update feed_consumer set next_try_at = null where name = $1', [name]);
