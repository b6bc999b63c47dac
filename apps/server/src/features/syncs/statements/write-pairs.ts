import type { Queryable } from '../../../db/connect';

/** Forgets the links of records that are at a new place over there, and takes what is open about them along. */
export const moveLinks = (client: Queryable, connectionId: number, from: readonly string[], to: readonly string[]) =>
  client.query(
    `with moved as (select * from unnest($2::text[], $3::text[]) as m(was, now)),
       forgotten as (delete from sync_link l using moved m where l.connection_id = $1 and l.outside_id = m.was)
     update sync_conflict c set outside_id = m.now from moved m where c.connection_id = $1 and c.outside_id = m.was`,
    [connectionId, from, to],
  );

export const deleteOtherConflicts = (
  client: Queryable,
  connectionId: number,
  outsideIds: readonly string[],
  rows: string,
) =>
  client.query(
    `delete from sync_conflict c where c.connection_id = $1 and c.outside_id = any($2::text[])
         and not exists (select 1 from json_to_recordset($3::json) as n(outside_id text, line text) where n.outside_id = c.outside_id and n.line = c.line)`,
    [connectionId, outsideIds, rows],
  );

export const upsertConflicts = (client: Queryable, connectionId: number, runId: number, rows: string) =>
  client.query(
    `insert into sync_conflict (connection_id, outside_id, contact_id, line, why, ours, theirs, run_id)
         select $1, outside_id, contact_id, line, why, ours, theirs, $2
         from json_to_recordset($3::json) as n(outside_id text, contact_id bigint, line text, why text, ours jsonb, theirs jsonb)
         on conflict (connection_id, outside_id, line) do update set why = excluded.why, ours = excluded.ours, theirs = excluded.theirs,
            contact_id = excluded.contact_id`,
    [connectionId, runId, rows],
  );
