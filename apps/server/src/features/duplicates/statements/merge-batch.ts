import type { Queryable } from '../../../db/connect';

const SAMPLE = 6;

export const countCertain = (client: Queryable) =>
  client.query<{
    groups: number;
    records: number;
  }>(`select count(*)::int as groups, coalesce(sum(cardinality(member_ids)), 0)::int as records
     from match_group where kind = 'person' and state = 'open' and band = 'certain'`);

export const sampleOfCertain = (client: Queryable) =>
  client.query<{ id: number }>(
    `select id from match_group where kind = 'person' and state = 'open' and band = 'certain' order by random() limit ${SAMPLE}`,
  );

export const openBatch = (client: Queryable) =>
  client.query(`select 1 from run where kind = 'merge' and state in ('queued', 'running') limit 1`);

export const certainToMerge = (client: Queryable, except: readonly number[]) =>
  client.query<{ n: number; last: number }>(
    `select count(*)::int as n, coalesce(max(id), 0)::int as last from match_group
       where kind = 'person' and state = 'open' and band = 'certain' and id <> all($1::int[])`,
    [except],
  );

export const nextCertain = (client: Queryable, after: number, last: number, except: readonly number[], limit: number) =>
  client.query<{ id: number; member_ids: number[] }>(
    `select id, member_ids from match_group where kind = 'person' and state = 'open' and band = 'certain' and id > $1 and id <= $2 and id <> all($3::int[])
     order by id limit $4 for update`,
    [after, last, except, limit],
  );

export const livePeopleAmong = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and state = 'live' and kind = 'person'`,
    [ids],
  );

export const markMerged = (client: Queryable, runId: number, groupIds: readonly number[]) =>
  client.query(`update match_group set state = 'merged', decided_run = $1 where id = any($2::int[])`, [
    runId,
    groupIds,
  ]);
