import type { SecondTake } from '@gray-loom/core/syncing';
import type { Queryable } from '../../../db/connect';

/** Says what becomes of the records of a merged contact, while the run that merged it stands. */
export const keepMergedChoice = (client: Queryable, contactId: number, take: SecondTake, runId: number) =>
  client.query(
    `insert into merged_choice (contact_id, merge_run, take, run_id)
     select id, last_run, $2, $3 from contact where id = $1 and merged_into is not null
     on conflict (contact_id) do update set merge_run = excluded.merge_run, take = excluded.take, run_id = excluded.run_id`,
    [contactId, take, runId],
  );

/** Records of a contact in other tools, to be looked at by their next passes; the question about them is answered. */
export const lookAtOthers = (client: Queryable, contactId: number, exceptConnection: number) =>
  client.query<{ connection_id: number }>(
    `with others as (update sync_link set dirty = true where contact_id = $1 and connection_id <> $2 and state = 'linked'
         returning connection_id, outside_id),
       answered as (delete from sync_conflict q using others o
         where q.connection_id = o.connection_id and q.outside_id = o.outside_id and q.why = 'twoThere')
     select distinct connection_id from others`,
    [contactId, exceptConnection],
  );

export const takerOf = (client: Queryable, contactId: number) =>
  client.query<{ into: number | null }>('select merged_into as into from contact where id = $1', [contactId]);
