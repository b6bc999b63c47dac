import type { Queryable } from '../../../db/connect';

export const countsWritten = (client: Queryable, runId: number) =>
  client.query<{ counts: Record<string, number> }>(
    `select case when detail ? 'reasons' then coalesce(detail->'written', '{}') else counts end as counts from run where id = $1`,
    [runId],
  );

export const endConnectionRun = (client: Queryable, connectionId: number, trouble: string | null) =>
  client.query(
    `update connection set state = case when state = 'new' then 'paused' else state end, trouble = $2, braked_run = null where id = $1`,
    [connectionId, trouble],
  );

export const addToDetail = (client: Queryable, runId: number, detail: string) =>
  client.query(`update run set detail = detail || $2::jsonb where id = $1`, [runId, detail]);

export const brakeRun = (client: Queryable, runId: number, detail: string, counts: string) =>
  client.query(`update run set detail = detail || $2::jsonb, counts = $3::jsonb where id = $1`, [
    runId,
    detail,
    counts,
  ]);
