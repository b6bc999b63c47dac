import type { Queryable } from '../../../../db/connect';

export const settleRows = (
  client: Queryable,
  ofRun: number,
  runId: number,
  rows: readonly number[],
  cameBackAs: readonly string[],
) =>
  client.query(
    `update import_row o set settled = 'broughtBack', settled_by = $2, contact_id = n.contact_id
       from unnest($3::int[], $4::text[]) as back(row, was)
         join import_row n on n.run_id = $2 and n.row = back.row
       where o.run_id = $1 and o.row = case when back.was ~ '^[0-9]{1,9}$' then back.was::int end and o.outcome = 'held' and o.settled is null`,
    [ofRun, runId, rows, cameBackAs],
  );

export const unsettleRows = (client: Queryable, runId: number) =>
  client.query('update import_row set settled = null, settled_by = null, contact_id = null where settled_by = $1', [
    runId,
  ]);
