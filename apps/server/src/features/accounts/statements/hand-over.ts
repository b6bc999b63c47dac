import type { Queryable } from '../../../db/connect';

export const idsOfFilter = (client: Queryable, where: string, values: unknown[], limit: number) =>
  client.query<{ id: number }>(`select c.id from contact c where ${where} order by c.id limit ${limit}`, values);

export const owners = (client: Queryable) =>
  client.query<{ id: number; name: string; picture: string | null }>(
    'select id, name, picture from account where retired_at is null order by lower(name)',
  );

export const tellHeir = (client: Queryable, to: number, by: number | null, runId: number, count: number) =>
  client.query('insert into handed (to_account, by_account, run_id, count) values ($1, $2, $3, $4)', [
    to,
    by,
    runId,
    count,
  ]);

export const noteHanded = (client: Queryable, id: number, accountId: number) =>
  client.query('update handed set seen_at = now() where id = $1 and to_account = $2 and seen_at is null', [
    id,
    accountId,
  ]);

export const unownedAmong = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and owner = '' and state = 'live' order by id`,
    [ids],
  );
