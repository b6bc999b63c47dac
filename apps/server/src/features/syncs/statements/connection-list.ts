import type { OutsideRecord } from '@gray-loom/core/syncing';
import type { Queryable } from '../../../db/connect';

export const countLinks = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{ id: number; in_step: number; asking: number; known: number; unsent: number }>(
    `select connection_id as id, count(*) filter (where state = 'linked')::int as in_step,
         count(*) filter (where state = 'asking')::int as asking, count(*) filter (where version <> '')::int as known,
         count(*) filter (where state = 'making' or intent is not null or not_taken is not null)::int as unsent
       from sync_link where connection_id = any($1::int[]) group by 1`,
    [connectionIds],
  );

export const countConflicts = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{ id: number; n: number }>(
    `select connection_id as id, count(*)::int as n from sync_conflict where connection_id = any($1::int[]) group by 1`,
    [connectionIds],
  );

/** How many records went each way since the day, the week and the month began. */
export const recordsCrossed = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{
    id: number;
    span: 'day' | 'week' | 'month';
    side: 'here' | 'there';
    made: number;
    changed: number;
    removed: number;
  }>(
    `select s.connection_id as id, w.span, s.side,
         count(distinct s.outside_id) filter (where s.kind in ('madeHere', 'madeThere'))::int as made,
         count(distinct s.outside_id) filter (where s.field <> '')::int as changed,
         count(distinct s.outside_id) filter (where s.kind = 'removedThere')::int as removed
       from (values ('day'), ('week'), ('month')) as w(span) join sync_change s on s.at >= date_trunc(w.span, now())
       join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = any($1::int[]) group by 1, 2, 3`,
    [connectionIds],
  );

export const latestRuns = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{
    id: number;
    run_id: number;
    state: string;
    at: Date;
    error: string | null;
    detail: Record<string, unknown>;
  }>(
    `select w.id, r.id as run_id, r.state, r.created_at as at, r.error, r.detail from unnest($1::int[]) as w(id) cross join lateral
         (select * from run where kind = 'sync' and (detail->>'connectionId')::int = w.id
            and not coalesce((detail->>'trial')::boolean, false) order by id desc limit 1) r`,
    [connectionIds],
  );

export const openRuns = (client: Queryable) =>
  client.query<{ id: number; run_id: number }>(
    `select (detail->>'connectionId')::int as id, id as run_id from run where kind = 'sync' and state in ('queued', 'running')`,
  );

export const changesByDay = (client: Queryable, connectionId: number) =>
  client.query<{ day: string; here: number; there: number }>(
    `select to_char(d.day, 'YYYY-MM-DD') as day, coalesce(c.here, 0)::int as here, coalesce(c.there, 0)::int as there
     from generate_series(date_trunc('day', now()) - interval '13 days', date_trunc('day', now()), interval '1 day') as d(day)
     left join (select date_trunc('day', s.at) as day, count(*) filter (where s.side = 'here') as here, count(*) filter (where s.side = 'there') as there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = $1 group by 1) c on c.day = d.day order by d.day`,
    [connectionId],
  );

/** Records that were not taken, or cannot be read; `total` counts also those beyond the ones given. */
export const recordsNotTaken = (client: Queryable, connectionId: number) =>
  client.query<{
    outside_id: string;
    contact_id: number;
    display_name: string | null;
    seen: OutsideRecord | null;
    why: string;
    unreadable: boolean;
    total: number;
  }>(
    `select l.outside_id, l.contact_id, c.display_name, l.seen, coalesce(l.unreadable, l.not_taken) as why,
         l.unreadable is not null as unreadable, count(*) over ()::int as total
       from sync_link l left join contact c on c.id = l.contact_id
       where l.connection_id = $1 and (l.not_taken is not null or l.unreadable is not null)
       order by l.unreadable is null, l.outside_id limit 200`,
    [connectionId],
  );

/** Records over there of people who were erased here, and are not taken in. */
export const recordsKeptOut = (client: Queryable, connectionId: number) =>
  client.query<{ outside_id: string }>(
    `select outside_id from sync_link where connection_id = $1 and apart = 'erased' order by outside_id limit 200`,
    [connectionId],
  );
