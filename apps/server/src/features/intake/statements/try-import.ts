import type { Queryable } from '../../../db/connect';

export const deleteTrialRows = (client: Queryable, runId: number) =>
  client.query('delete from import_row where run_id = $1', [runId]);

export const keepWarnings = (client: Queryable, runId: number, warnings: string) =>
  client.query(`update run set detail = jsonb_set(detail, '{warnings}', $2::jsonb) where id = $1`, [runId, warnings]);
