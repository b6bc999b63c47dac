import type { Queryable } from '../../../db/connect';

export const countLinks = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{ id: number; in_step: number; asking: number; known: number }>(
    `select connection_id as id, count(*) filter (where state = 'linked')::int as in_step,
         count(*) filter (where state = 'asking')::int as asking, count(*)::int as known
       from sync_link where connection_id = any($1::int[]) group by 1`,
    [connectionIds],
  );

export const countConflicts = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{ id: number; n: number }>(
    `select connection_id as id, count(*)::int as n from sync_conflict where connection_id = any($1::int[]) group by 1`,
    [connectionIds],
  );

export const changesToday = (client: Queryable, connectionIds: readonly number[]) =>
  client.query<{
    id: number;
    made_here: number;
    made_there: number;
    changed_here: number;
    changed_there: number;
  }>(
    `select s.connection_id as id,
         count(distinct s.outside_id) filter (where s.kind = 'madeHere')::int as made_here,
         count(distinct s.outside_id) filter (where s.kind = 'madeThere')::int as made_there,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'here')::int as changed_here,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'there')::int as changed_there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = any($1::int[]) and s.at >= date_trunc('day', now()) group by 1`,
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
