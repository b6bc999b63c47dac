import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

/** Of these results, those that came before. */
export const resultsHere = (client: Queryable, connectionId: number, ids: readonly string[]) =>
  client.query<{ id: string }>(
    `select outside_id as id from sync_result where connection_id = $1 and outside_id = any($2::text[])`,
    [connectionId, ids],
  );

/** Whom records over there stand for; `erased` where it is somebody who is kept out. */
export const whoRecordsAre = (client: Queryable, connectionId: number, recordIds: readonly string[]) =>
  client.query<{ record_id: string; contact_id: number | null; erased: boolean }>(
    `select l.outside_id as record_id, l.apart is not distinct from 'erased' as erased,
       case when l.contact_id > 0 and l.state in ('linked', 'making', 'apart', 'stranger') then public.root_of(l.contact_id) end as contact_id
     from sync_link l where l.connection_id = $1 and l.outside_id = any($2::text[])`,
    [connectionId, recordIds],
  );

/** Everybody alive who may have one of these numbers, by the keys of the numbers. */
export const peopleByNumberKeys = (client: Queryable, keys: readonly string[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select c.id, c.record from contact c where c.state = 'live' and c.kind in ('person', 'organization')
       and c.id in (select contact_id from contact_key where key = any($1::bigint[]))`,
    [keys],
  );

export const accountsByName = (client: Queryable) =>
  client.query<{ id: number; name: string; email: string }>('select id, name, email from account');

export interface ResultRow {
  outside_id: string;
  kind: string;
  at: string;
  outcome: string;
  minutes: number | null;
  by: string;
  incoming: boolean;
  reached: string;
  record_id: string | null;
  number: string;
  of_id: string;
  subject: string;
  link: string;
  state: string;
  contact_id: number | null;
  candidates: number[];
}

export const insertResults = (client: Queryable, connectionId: number, runId: number, rows: string) =>
  client.query(
    `insert into sync_result (connection_id, run_id, outside_id, kind, at, outcome, minutes, by, incoming, reached, record_id, number,
       of_id, subject, link, state, contact_id, candidates)
     select $1, $2, n.outside_id, n.kind, n.at, n.outcome, n.minutes, n.by, n.incoming, n.reached, n.record_id, n.number,
       n.of_id, n.subject, n.link, n.state, n.contact_id, n.candidates
     from json_to_recordset($3::json) as n(outside_id text, kind text, at timestamptz, outcome text, minutes double precision, by text,
       incoming boolean, reached text, record_id text, number text, of_id text, subject text, link text, state text, contact_id bigint, candidates bigint[])
     on conflict (connection_id, outside_id) do update set record_id = excluded.record_id, number = excluded.number,
       state = excluded.state, contact_id = excluded.contact_id, candidates = excluded.candidates, run_id = excluded.run_id`,
    [connectionId, runId, rows],
  );

/** Results that wait, whose record stands for somebody by now. */
export const waitedFor = (client: Queryable, connectionId: number, limit: number) =>
  client.query<ResultRow>(
    `select r.outside_id, r.kind, to_char(r.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at, r.outcome, r.minutes, r.by,
       r.incoming, r.reached, r.record_id, r.number, r.of_id, r.subject, r.link, r.state, r.contact_id, r.candidates
     from sync_result r join sync_link l on l.connection_id = r.connection_id and l.outside_id = r.record_id
     where r.connection_id = $1 and r.state = 'waits'
       and ((l.contact_id > 0 and l.state in ('linked', 'making', 'stranger')) or l.apart = 'erased') order by r.at limit $2`,
    [connectionId, limit],
  );

export const openResult = (client: Queryable, connectionId: number, outsideId: string) =>
  client.query<ResultRow>(
    `select outside_id, kind, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at, outcome, minutes, by, incoming, reached,
       record_id, number, of_id, subject, link, state, contact_id, candidates
     from sync_result where connection_id = $1 and outside_id = $2 and state in ('waits', 'asks') for update`,
    [connectionId, outsideId],
  );

export const openResults = (client: Queryable, connectionId: number, limit: number) =>
  client.query<ResultRow & { names: { id: number; name: string }[] }>(
    `select outside_id, kind, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at, outcome, minutes, by, incoming, reached,
       record_id, number, of_id, subject, link, state, contact_id, candidates,
       coalesce((select json_agg(json_build_object('id', c.id, 'name', c.display_name) order by c.id) from contact c
         where c.id = any(candidates) and c.state = 'live'), '[]') as names
     from sync_result where connection_id = $1 and state in ('waits', 'asks') order by state, at desc limit $2`,
    [connectionId, limit],
  );

export const countsOfResults = (client: Queryable, connectionId: number) =>
  client.query<{ taken: number; waits: number; asks: number }>(
    `select count(*) filter (where state = 'taken')::int as taken, count(*) filter (where state = 'waits')::int as waits,
       count(*) filter (where state = 'asks')::int as asks from sync_result where connection_id = $1`,
    [connectionId],
  );

export const callsByDay = (client: Queryable, connectionId: number, days: number) =>
  client.query<{ day: string; outcome: string; n: number }>(
    `select to_char(at at time zone 'UTC', 'YYYY-MM-DD') as day, outcome, count(*)::int as n from sync_result
     where connection_id = $1 and kind = 'call' and at >= now() - $2 * interval '1 day' group by 1, 2 order by 1, 2`,
    [connectionId, days],
  );

export const minutesByCaller = (client: Queryable, connectionId: number, days: number) =>
  client.query<{ by: string; minutes: number; calls: number }>(
    `select by, coalesce(sum(minutes), 0)::float as minutes, count(*)::int as calls from sync_result
     where connection_id = $1 and kind = 'call' and at >= now() - $2 * interval '1 day' group by 1 order by 2 desc, 1 limit 30`,
    [connectionId, days],
  );

/** The last mailings, oldest first, with how many people did what. */
export const mailingsOf = (client: Queryable, connectionId: number, limit: number) =>
  client.query<{
    id: string;
    subject: string;
    at: Date;
    sent: number;
    opened: number;
    clicked: number;
    off: number;
    undeliverable: number;
  }>(
    `with one as (select of_id, outcome, coalesce(contact_id::text, record_id, number) as who, max(subject) as subject, min(at) as at
       from sync_result where connection_id = $1 and of_id <> '' group by 1, 2, 3),
     mailing as (select of_id as id, max(subject) as subject, min(at) as at,
       count(*) filter (where outcome = 'sent')::int as sent, count(*) filter (where outcome = 'opened')::int as opened,
       count(*) filter (where outcome = 'clicked')::int as clicked, count(*) filter (where outcome = 'off')::int as off,
       count(*) filter (where outcome = 'undeliverable')::int as undeliverable from one group by 1 order by 3 desc limit $2)
     select * from mailing order by at`,
    [connectionId, limit],
  );

export const numbersReached = (client: Queryable, connectionId: number) =>
  client.query<{ number: string; calls: number }>(
    `select reached as number, count(*)::int as calls from sync_result
     where connection_id = $1 and reached <> '' group by 1 order by 2 desc, 1 limit 100`,
    [connectionId],
  );

/** Keeps stops of addresses, each once; a later word is not needed for what is stopped already. Returns the keys that are new. */
export const insertAddressStops = (client: Queryable, runId: number, stops: string) =>
  client.query<{ key: number }>(
    `insert into permission_evidence (address_key, address, channel, state, how, stated_at, run_id)
     select distinct on (n.key, n.channel) n.key, n.address, n.channel, 'optedOut', n.how, n.at, $1
     from json_to_recordset($2::json) as n(key bigint, address text, channel text, how text, at timestamptz)
     where not exists (select 1 from permission_evidence e join run r on r.id = e.run_id and r.undone_by is null
       where e.address_key = n.key and e.channel = n.channel and e.state = 'optedOut' and e.stated_at >= n.at)
     order by n.key, n.channel, n.at desc
     returning address_key as key`,
    [runId, stops],
  );

export const contactsOfKeys = (client: Queryable, keys: readonly string[]) =>
  client.query<{ id: number }>('select distinct contact_id as id from contact_key where key = any($1::bigint[])', [
    keys,
  ]);

export const openResultsRun = (client: Queryable, connectionId: number) =>
  client.query<{ id: number }>(
    `select id from run where kind = 'results' and state in ('queued', 'running') and (detail->>'connectionId')::int = $1`,
    [connectionId],
  );
