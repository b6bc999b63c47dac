import type { Queryable } from '../../../db/connect';

export const countContacts = (client: Queryable, runId: number) =>
  client.query<{ n: number }>('select count(distinct contact_id)::int as n from operation where run_id = $1', [runId]);
