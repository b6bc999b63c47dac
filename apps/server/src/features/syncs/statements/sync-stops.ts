import type { Queryable } from '../../../db/connect';

export const insertStops = (client: Queryable, stops: string, connectionName: string, runId: number) =>
  client.query(
    `insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select "contactId", channel, 'optedOut', $2, now(), $3
     from json_to_recordset($1::json) as n("contactId" bigint, channel text)`,
    [stops, connectionName, runId],
  );
