import { type BrakeReason } from '@gray-loom/core/syncing';
import { FRESH_DAYS, FRESH_WITHIN } from '@gray-loom/wire';
import type { Queryable } from '../../../db/connect';

export const WEEKS = 12;

export const countOpenGroups = (client: Queryable) =>
  client.query<{ band: 'certain' | 'likely' | 'possible'; n: number; proposed: number }>(
    `select band, count(*)::int as n, count(proposed_by)::int as proposed from match_group where state = 'open' group by band`,
  );

export const heldByImport = (client: Queryable) =>
  client.query<{
    run_id: number;
    intake_id: number;
    name: string;
    n: number;
  }>(`select i.run_id, f.id as intake_id, f.name, count(*)::int as n from import_row i join run r on r.id = i.run_id join intake f on f.import_run = r.id
       where i.outcome = 'held' and i.settled is null and r.undone_by is null group by 1, 2, 3 order by i.run_id desc`);

export const filesNotIn = (client: Queryable) =>
  client.query<{ id: number; name: string; row_count: number; created_at: Date }>(
    `select id, name, row_count, created_at from intake where state in ('read', 'trying', 'tried') order by id desc limit 10`,
  );

export const failedRuns = (client: Queryable) =>
  client.query<{
    id: number;
    title: string;
  }>(`select id, title from run where state = 'failed' and kind <> 'sync' and undone_by is null
         and created_at > now() - interval '14 days' order by id desc limit 10`);

export const contactsByWeek = (client: Queryable) =>
  client.query<{
    start: Date;
    kind: string;
    n: number;
  }>(`select date_trunc('week', c.created_at) as start, t.kind, count(*)::int as n
         from contact c join run r on r.id = c.created_run join thread t on t.id = r.thread_id
       where c.created_at > date_trunc('week', now()) - make_interval(weeks => ${WEEKS - 1}) and c.state not in ('deleted', 'erased')
         and c.kind = 'person' group by 1, 2`);

/** The beginning of the day so many days ago, as conditions count days. */
const dayBack = (days: number) => `((now() at time zone 'UTC')::date - ${days})::timestamp at time zone 'UTC'`;

export const completenessBands = (client: Queryable) =>
  client.query<{
    mean: number;
    band: number;
    n: number;
    fresh: number[];
  }>(`select least(completeness / 20, 4) as band, avg(completeness)::float as mean, count(*)::int as n,
         array[${FRESH_DAYS.map((days) => `count(*) filter (where touched_at >= ${dayBack(days)})::int`).join(', ')}] as fresh
       from contact where state = 'live' and kind = 'person' group by 1`);

/** Keeps how the whole book stands today. */
export const keepBookState = (client: Queryable) =>
  client.query(
    `insert into public.book_state (day, people, completeness, fresh)
     select (now() at time zone 'UTC')::date, count(*)::int, coalesce(avg(completeness), 0)::float8,
       count(*) filter (where touched_at >= ${dayBack(FRESH_WITHIN)})::int
     from public.contact where state = 'live' and kind = 'person'
     on conflict (day) do update set people = excluded.people, completeness = excluded.completeness, fresh = excluded.fresh`,
  );

/** How the whole book stood over the last days, the oldest first. */
export const bookStates = (client: Queryable, days: number) =>
  client.query<{ day: string; people: number; completeness: number; fresh: number }>(
    `select to_char(day, 'YYYY-MM-DD') as day, people, completeness, fresh from public.book_state
     where day > (now() at time zone 'UTC')::date - $1::int order by book_state.day`,
    [days],
  );

export const countSyncQuestions = (client: Queryable) =>
  client.query<{ n: number }>(
    `select (select count(*) from sync_conflict)::int + (select count(*) from sync_link where state = 'asking')::int as n`,
  );

/** Contacts that a tool did not take, by tool. */
export const contactsNotTaken = (client: Queryable) =>
  client.query<{ id: number; name: string; n: number; contact_id: number; why: string; unreadable: boolean }>(
    `select c.id, c.name, l.unreadable is not null as unreadable, count(*)::int as n, min(l.contact_id) as contact_id,
         min(coalesce(l.unreadable, l.not_taken)) as why
       from sync_link l join connection c on c.id = l.connection_id
       where (l.not_taken is not null or l.unreadable is not null) and c.state <> 'stopped' group by c.id, c.name, 3 order by c.id, 3`,
  );

/** Connections in trouble, or held by the brake, and these. */
export const connectionsInTrouble = (client: Queryable, also: readonly number[]) =>
  client.query<{
    id: number;
    name: string;
    trouble: string | null;
    reasons: BrakeReason[] | null;
    is_tried: boolean;
  }>(
    `select c.id, c.name, c.trouble, r.detail->'reasons' as reasons, c.tried_version >= c.setup_version as is_tried
       from connection c left join run r on r.id = c.braked_run and r.state = 'paused'
       where c.state <> 'stopped' and (c.trouble is not null or r.id is not null or c.id = any($1::int[]))`,
    [also],
  );

/** What was handed to an account and stands, and was not noted yet. */
export const handedTo = (client: Queryable, accountId: number) =>
  client.query<{
    id: number;
    by: string;
    count: number;
    contactId: number | null;
    contactName: string | null;
    note: string | null;
    runId: number;
    at: string;
  }>(
    `select h.id, coalesce(a.name, '') as by, h.count, left(n.record->>'text', 200) as note,
            h.run_id as "runId", c.id as "contactId", c.display_name as "contactName",
            to_char(h.at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at
       from handed h join run r on r.id = h.run_id left join account a on a.id = h.by_account
       left join lateral (select contact_id from operation o where h.count = 1 and o.run_id = h.run_id limit 1) o on true
       left join activity n on n.id = h.activity_id
       left join contact c on c.id = coalesce(n.holder_id, o.contact_id)
      where h.to_account = $1 and h.seen_at is null and r.undone_by is null
        and (h.activity_id is null or not n.gone) order by h.id desc limit 50`,
    [accountId],
  );
