import type pg from 'pg';
import type { ChangeKind } from '../db/schema';

type Client = Pick<pg.Pool | pg.PoolClient, 'query'>;

/** A place in the feed: everything up to it has been handled. */
export interface Cursor {
  txid: number;
  seq: number;
  /** Place of the contact within its row, from 1. */
  place: number;
}

/** Before everything there is. */
export const BEGINNING: Cursor = { txid: 0, seq: 0, place: 0 };

export interface Change {
  /** The same whenever the change is delivered. */
  id: string;
  kind: ChangeKind;
  contactId: number;
  /** Version of the contact after it; null for a change of permissions or activities. */
  version: number | null;
  runId: number;
  actorId: number | null;
  /** Fields that it wrote; null for a contact that was new. Empty for a change of permissions or activities. */
  fields: string[] | null;
  at: Date;
}

interface Row extends Omit<Change, 'id' | 'contactId' | 'runId' | 'actorId'> {
  txid: number;
  seq: number;
  place: number;
  contact_id: number;
  run_id: number;
  actor_id: number | null;
}

/**
 * Changes after a cursor, oldest first, at most `limit`. What is still being written, and everything that began after it, waits for
 * the next call, so that no late commit is passed over; cost follows the number of changes that are given.
 */
export async function changesSince(
  client: Client,
  cursor: Cursor,
  limit: number,
): Promise<{ changes: Change[]; cursor: Cursor }> {
  const { rows } = await (client as pg.Pool).query<Row>(
    `with row as (
       select * from change where (txid, seq) >= ($1::bigint, $2::bigint) and txid < txid_snapshot_xmin(txid_current_snapshot())
       order by txid, seq limit $4)
     select r.txid, r.seq, u.place::int, r.kind, u.contact_id, u.version, r.run_id, r.actor_id, r.at,
       case when r.kind <> 'values' then '{}'::text[] else
         (select array_agg(distinct ch->>'field') from jsonb_array_elements(o.changes) ch) end as fields
     from row r
     cross join lateral unnest(r.contacts, r.versions) with ordinality as u(contact_id, version, place)
     left join operation o on o.contact_id = u.contact_id and o.version = u.version
     where (r.txid, r.seq, u.place) > ($1::bigint, $2::bigint, $3::int)
     order by r.txid, r.seq, u.place limit $4`,
    [cursor.txid, cursor.seq, cursor.place, limit],
  );
  const last = rows[rows.length - 1];
  return {
    cursor: last ? { txid: last.txid, seq: last.seq, place: last.place } : cursor,
    changes: rows.map((row) => ({
      id: `${row.seq}.${row.place}`,
      kind: row.kind,
      contactId: row.contact_id,
      version: row.version,
      runId: row.run_id,
      actorId: row.actor_id,
      fields: row.fields,
      at: row.at,
    })),
  };
}

/**
 * Contacts that changed after a cursor, other than through one thread. It also gives what is still being read past the end of the
 * feed, so whoever goes on from `endOfFeed`, taken before, may be given a contact twice and misses none.
 */
export async function contactsChangedSince(
  client: Client,
  { txid, seq }: Cursor,
  { exceptThread, kinds }: { exceptThread: number; kinds: readonly ChangeKind[] },
): Promise<number[]> {
  const { rows } = await (client as pg.Pool).query<{ id: number }>(
    `select distinct u.id from change c join run r on r.id = c.run_id cross join lateral unnest(c.contacts) as u(id)
     where (c.txid, c.seq) > ($1::bigint, $2::bigint) and r.thread_id <> $3 and c.kind = any($4::text[])`,
    [txid, seq, exceptThread, kinds],
  );
  return rows.map(({ id }) => id);
}

/** The place behind everything that was over at this moment: what is written from now on comes after it. */
export async function endOfFeed(client: Client): Promise<Cursor> {
  const { rows } = await (client as pg.Pool).query<{ txid: number }>(
    'select txid_snapshot_xmin(txid_current_snapshot()) as txid',
  );
  return { txid: rows[0]?.txid ?? 0, seq: 0, place: 0 };
}
