import type { Queryable } from '../../../db/connect';
import type { GroupState } from '../../../db/schema';

const SAMPLE = 6;

export const countCertain = (client: Queryable) =>
  client.query<{
    groups: number;
    records: number;
  }>(`select count(*)::int as groups, coalesce(sum(cardinality(member_ids)), 0)::int as records
     from match_group where state = 'open' and band = 'certain'`);

export const sampleOfCertain = (client: Queryable) =>
  client.query<{ id: number }>(
    `select id from match_group where state = 'open' and band = 'certain' order by random() limit ${SAMPLE}`,
  );

export const openBatch = (client: Queryable) =>
  client.query(`select 1 from run where kind = 'merge' and state in ('queued', 'running') limit 1`);

/** The groups that a batch is about, in the order in which they are merged. */
export const certainToMerge = (client: Queryable, except: readonly number[]) =>
  client.query<{ id: number }>(
    `select id from match_group
       where state = 'open' and band = 'certain' and id <> all($1::int[]) order by id`,
    [except],
  );

export const lockGroups = (client: Queryable, ids: readonly number[]) =>
  client.query<{
    id: number;
    kind: 'person' | 'organization';
    member_ids: number[];
    state: GroupState;
    band: string;
  }>('select id, kind, member_ids, state, band from match_group where id = any($1::int[]) order by id for update', [
    ids,
  ]);

export const keepBatchPlace = (client: Queryable, runId: number, at: number) =>
  client.query(`update run set detail = jsonb_set(detail, '{at}', to_jsonb($2::int)) where id = $1`, [runId, at]);

export const liveAmong = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and state = 'live' and kind in ('person', 'organization')`,
    [ids],
  );

export const markMerged = (client: Queryable, runId: number, groupIds: readonly number[]) =>
  client.query(`update match_group set state = 'merged', decided_run = $1 where id = any($2::int[])`, [
    runId,
    groupIds,
  ]);
