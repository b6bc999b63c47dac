import type { Queryable } from '../../../db/connect';

export const activeAmong = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; name: string }>(
    'select id, name from account where id = any($1::int[]) and retired_at is null',
    [ids],
  );

/** Whoever is new among those who take turns begins where the others are, and does not get all that comes first. */
export const joinTurns = (client: Queryable, ids: readonly number[]) =>
  client.query(
    `insert into owner_turn (account_id, given)
       select id, coalesce((select min(given) from owner_turn where account_id = any($1::int[])), 0) from unnest($1::int[]) as a(id)
     on conflict do nothing`,
    [ids],
  );

export const lockTurns = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; given: number }>(
    'select account_id as id, given from owner_turn where account_id = any($1::int[]) order by account_id for update',
    [ids],
  );

export const keepTurns = (client: Queryable, ids: readonly number[], given: readonly number[]) =>
  client.query(
    `update owner_turn t set given = g.given from unnest($1::int[], $2::bigint[]) as g(id, given) where t.account_id = g.id`,
    [ids, given],
  );

export const areasOfContacts = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; area: string }>(
    `select id, area from contact where id = any($1::bigint[]) and area <> ''`,
    [ids],
  );

/** How many contacts a run gave to each account. */
export const givenByRun = (client: Queryable, runId: number) =>
  client.query<{ id: number; n: number }>(
    `select a.id, count(*)::int as n from public.operation o cross join lateral jsonb_array_elements(o.changes) ch
       join account a on a.name = ch->'after'->>'v'
      where o.run_id = $1 and ch->>'field' = 'owner' group by a.id`,
    [runId],
  );

export const noteGiven = (client: Queryable, to: number, by: number | null, runId: number, count: number) =>
  client.query('insert into handed (to_account, by_account, run_id, count) values ($1, $2, $3, $4)', [
    to,
    by,
    runId,
    count,
  ]);
