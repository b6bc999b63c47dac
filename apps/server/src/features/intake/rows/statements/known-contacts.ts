import { COMMON_KEY } from '@gray-loom/core/mapping';
import type { ContactRecord } from '@gray-loom/core/model';
import { selectRecords, type StoredRecord } from '../../../../db/record-codec';
import { ROOTS } from '../../../../book/statements/merged-into';
import type { Queryable } from '../../../../db/connect';

/** People looked at for one key; the plan of the query is fixed to index look-ups, whatever the statistics say. */
const HITS_PER_KEY = 50;

/** Keys of some fifty thousand people; more are not worth loading. */
export const SMALL_BOOK_KEYS = 300_000;

export const otherRuns = (client: Queryable, runId: number) =>
  client.query<{ last: number; busy: boolean }>(
    `select coalesce(max(id), 0)::int as last, coalesce(bool_or(state in ('queued', 'running')), false) as busy
       from run where id <> $1 and kind not in ('scan', 'trial')`,
    [runId],
  );

export const allKeys = (client: Queryable) =>
  client.query<{ key: number }>(`select key from contact_key limit ${SMALL_BOOK_KEYS + 1}`);

export const holdersOfKeys = (client: Queryable, keys: string, runId: number, lines: readonly boolean[]) =>
  client.query<{ key: string; ids: string; names: string }>(
    `select w.key::text as key, k.ids, k.names
       from unnest($1::bigint[], $3::boolean[]) as w(key, is_line)
       cross join lateral (
         select count(*) as sharing, string_agg(contact_id::text, ' ') as ids, string_agg(name, E'\\x01') as names
         from (select contact_id,
             (select list_name from contact where id = contact_id and state = 'live' and kind = 'person' and created_run <> $2) as name
           from contact_key where contact_key.key = w.key limit ${HITS_PER_KEY}) having_it
         where name is not null) k
       where k.ids is not null and not (w.is_line and k.sharing > ${COMMON_KEY})`,
    [keys, runId, lines],
  );

/** Whether anybody is deleted. */
export const anyDeleted = (client: Queryable) =>
  client.query(`select 1 from contact where state = 'deleted' and kind = 'person' limit 1`);

/**
 * Deleted people by their keys, with who deleted them and when; without those who went as what had brought them was taken back. A
 * deleted record is still written to (by a renamed stage), so the change that deleted it is looked for, not the last one.
 */
export const deletedByKeys = (client: Queryable, keys: string) =>
  selectRecords<{ key: string; id: number; record: ContactRecord; by: string; day: string }>(
    client,
    `select w.key::text as key, c.id, c.record, coalesce(a.name, '') as by,
            to_char(r.created_at at time zone 'utc', 'YYYY-MM-DD') as day
       from unnest($1::bigint[]) as w(key)
       cross join lateral (select contact_id from contact_key where contact_key.key = w.key limit ${HITS_PER_KEY}) k
       join contact c on c.id = k.contact_id and c.state = 'deleted' and c.kind = 'person'
       cross join lateral (
         select run_id from operation o where o.contact_id = c.id and o.changes @> '[{"field": "lifecycle"}]'
         order by version desc limit 1) deletion
       join run r on r.id = deletion.run_id and r.kind <> 'undo'
       left join account a on a.id = r.actor_id`,
    [keys],
  );

export const storedRecords = (client: Queryable, ids: string) =>
  client.query<{ id: number; version: number; record: StoredRecord }>(
    'select id, version, record from contact where id = any($1::bigint[])',
    [ids],
  );

export const organizationsByKeys = (client: Queryable, keys: readonly string[], runId: number) =>
  client.query<{ key: string; id: number; version: number }>(
    `select distinct on (k.key) k.key::text as key, c.id, c.version from contact_key k join contact c on c.id = k.contact_id
       where k.key = any($1::bigint[]) and c.state = 'live' and c.kind = 'organization' and c.created_run <> $2
       order by k.key, c.id`,
    [keys, runId],
  );

/** Live contacts by their number, or by that of one that was merged into them. */
export const contactsNumbered = (client: Queryable, numbers: readonly number[], runId: number) =>
  selectRecords<{ asked: number; id: number; version: number; record: ContactRecord }>(
    client,
    `${ROOTS} select u.asked, c.id, c.version, c.record from up u join contact c on c.id = u.id
       where c.merged_into is null and c.state = 'live' and c.created_run <> $2`,
    [numbers, runId],
  );
