import type { Queryable } from '../../../db/connect';

export const insertSyncChanges = (
  client: Queryable,
  connectionId: number,
  runId: number,
  rows: string,
  planned: boolean,
) =>
  client.query(
    `insert into sync_change (connection_id, run_id, planned, outside_id, contact_id, name, side, field, kind, before, after)
     select $1, $2, $4, "outsideId", "contactId", name, side, field, kind, before, after
     from json_to_recordset($3::json) as n("outsideId" text, "contactId" bigint, name text, side text, field text, kind text, before jsonb, after jsonb)`,
    [connectionId, runId, rows, planned],
  );

export const namesOf = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number; display_name: string }>(
    'select id, display_name from contact where id = any($1::bigint[])',
    [contactIds],
  );

export const deletePlanned = (client: Queryable, runId: number) =>
  client.query('delete from sync_change where run_id = $1 and planned', [runId]);
