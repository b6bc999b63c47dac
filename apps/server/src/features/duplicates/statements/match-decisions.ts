import { type Decision } from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';

export interface Member {
  id: number;
  record: ContactRecord;
}

const LOOKED_AT = 2000;

export const latestDecisions = (client: Queryable) =>
  client.query<Decision>(`select distinct on (d.a, d.b) d.same, d.levels, d.bits::float8 as bits from match_decision d join run r on r.id = d.run_id
     where r.undone_by is null order by d.a, d.b, d.run_id desc`);

export const groupsToLearnFrom = (client: Queryable) =>
  client.query<{
    id: number;
    name: string;
    member_ids: number[];
  }>(`select id, name, member_ids from match_group where state in ('open', 'later') and kind = 'person'
     order by bits, id limit ${LOOKED_AT}`);
