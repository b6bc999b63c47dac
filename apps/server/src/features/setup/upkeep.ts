import type { FeedReader } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import type { Consumer } from '../../feed/consumer';
import { tell } from '../../feed/events';
import { refuse } from './refusals';

/** Counting on is of no use to anybody. */
const MOST_COUNTED = 10_000;

/** Everybody who reads the feed of changes, how far they are and what stands in their way. */
export async function feedReaders(
  { pool }: Database,
  consumers: readonly Pick<Consumer, 'name' | 'sentence'>[],
): Promise<FeedReader[]> {
  const { rows } = await pool.query<{
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
  return rows.map(({ name, connection, behind, error, failing_since, next_try_at }) => ({
    name,
    sentence:
      consumers.find((one) => one.name === name)?.sentence ??
      (connection
        ? `Takes changes to ${connection} with its next run.`
        : `Was read by ${name}, which this version has not.`),
    behind,
    error,
    failingSince: failing_since?.toISOString() ?? null,
    nextTryAt: next_try_at?.toISOString() ?? null,
  }));
}

/** Lets a reader that failed try again at once. */
export async function retryReader({ pool }: Database, name: string): Promise<void> {
  const { rowCount } = await pool.query('update feed_consumer set next_try_at = null where name = $1', [name]);
  if (!rowCount) throw refuse.noSuchReader();
  await tell(pool, { topic: 'setup' });
}
