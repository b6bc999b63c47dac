import type { Queryable } from '../../../db/connect';

const TRIED_GROUPS = 500;

export const rebandGroups = (client: Queryable, certainBits: number, likelyBits: number) =>
  client.query(
    `update match_group set band = case when bits >= $1 then 'certain' when bits >= $2 then 'likely' else 'possible' end
       where state in ('open', 'later')`,
    [certainBits, likelyBits],
  );

export const groupsToTry = (client: Queryable) =>
  client.query<{ id: number; name: string; member_ids: number[] }>(
    `select id, name, member_ids from match_group where state in ('open', 'later') order by bits desc, id limit ${TRIED_GROUPS}`,
  );
