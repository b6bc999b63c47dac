import type pg from 'pg';
import { BEGINNING, endOfFeed, type Cursor } from './read-changes';

type Client = Pick<pg.Pool | pg.PoolClient, 'query'>;

/** Where a consumer goes on; null when it never read. */
export async function findPosition(client: Client, name: string): Promise<Cursor | null> {
  const { rows } = await (client as pg.Pool).query<Cursor>(
    'select txid, seq, place from feed_consumer where name = $1',
    [name],
  );
  return rows[0] ?? null;
}

/** Keeps how far a consumer is; it works from then on. */
export async function keepPosition(client: Client, name: string, { txid, seq, place }: Cursor): Promise<void> {
  await (client as pg.Pool).query(
    `insert into feed_consumer (name, txid, seq, place) values ($1, $2, $3, $4)
     on conflict (name) do update set txid = excluded.txid, seq = excluded.seq, place = excluded.place,
       failures = 0, error = null, failing_since = null, next_try_at = null`,
    [name, txid, seq, place],
  );
}

/** Forgets a consumer that does not read any more, so that nothing is kept for it. */
export async function dropPosition(client: Client, name: string): Promise<void> {
  await (client as pg.Pool).query('delete from feed_consumer where name = $1', [name]);
}

/** Gives a consumer its place when it is first heard of: all there is, or what comes from now on. */
export async function ensurePosition(client: Client, name: string, from: 'beginning' | 'now'): Promise<void> {
  const { txid, seq, place } = from === 'now' ? await endOfFeed(client) : BEGINNING;
  await (client as pg.Pool).query(
    'insert into feed_consumer (name, txid, seq, place) values ($1, $2, $3, $4) on conflict (name) do nothing',
    [name, txid, seq, place],
  );
}

const KEPT = '1 month';

/** Drops what every consumer has handled and what is older than a month. */
export async function pruneFeed(client: Client): Promise<number> {
  const { rowCount } = await (client as pg.Pool).query(
    `delete from change where at < now() - $1::interval and txid < (select coalesce(min(txid), 0) from feed_consumer)`,
    [KEPT],
  );
  return rowCount ?? 0;
}
