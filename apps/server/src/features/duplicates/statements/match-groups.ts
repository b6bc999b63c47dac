import type { ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

const CANDIDATES_PER_KEY = 40;

export const insertGroups = (client: Queryable, kind: string, version: number, rows: string) =>
  client.query(
    `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
       select $1, g.key, g.ids, 'open', g.band, g.probability01, g.bits, coalesce(n.list_name, ''), $2
       from json_to_recordset($3::json) as g(key text, ids bigint[], band text, probability01 real, bits real)
       left join lateral (
         select c.list_name from contact c where c.id = any(g.ids) order by c.completeness desc, c.id limit 1) n on true
       on conflict (member_key) do update set state = case when match_group.state = 'gone' then 'open' else match_group.state end,
         band = excluded.band, probability01 = excluded.probability01, bits = excluded.bits, name = excluded.name,
         model_version = excluded.model_version`,
    [kind, version, rows],
  );

export const selectKeptApart = (client: Queryable) =>
  client.query<{ a: number; b: number }>('select a, b from keep_apart');

export const contactsSharingKeys = (
  client: Queryable,
  keys: readonly string[],
  exceptId: number | null,
  limit: number,
) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select c.id, c.record from contact c join (
       select k.contact_id, count(*) as shared from unnest($1::bigint[]) as w(key)
       cross join lateral (select contact_id from contact_key where contact_key.key = w.key limit ${CANDIDATES_PER_KEY}) k
       group by k.contact_id
     ) found on found.contact_id = c.id
     where c.state = 'live' and c.kind = 'person' and c.id is distinct from $2
     order by found.shared desc, c.id limit $3`,
    [keys, exceptId, limit],
  );

/** Who has each key; of a key that many have, as many as are looked at. */
export const contactsByKeys = (client: Queryable, keys: readonly number[]) =>
  client.query<{ key: string; ids: number[] }>(
    `select w.key::text as key, array_agg(k.contact_id) as ids from unnest($1::bigint[]) as w(key)
     cross join lateral (select contact_id from contact_key where contact_key.key = w.key limit ${CANDIDATES_PER_KEY}) k
     group by w.key`,
    [keys.map(String)],
  );

export const livePeople = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where id = any($1::bigint[]) and state = 'live' and kind = 'person'`,
    [ids],
  );

export const openGroupsTouching = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; member_ids: number[] }>(
    `select id, member_ids from match_group where state = 'open' and member_ids && $1::bigint[]`,
    [ids],
  );

/** Closes open groups with fewer than two members left: those of these contacts, or all of them. */
export const closeGhosts = (client: Queryable, contactIds: readonly number[] | null) =>
  client.query(
    `update match_group g set state = 'gone' where g.state in ('open', 'later') and ($1::bigint[] is null or g.member_ids && $1::bigint[])
       and (select count(*) from contact c where c.id = any(g.member_ids) and c.state = 'live') < 2`,
    [contactIds],
  );
