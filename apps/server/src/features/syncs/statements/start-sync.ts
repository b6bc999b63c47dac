import type { Queryable } from '../../../db/connect';

export const lockConnection = (client: Queryable, connectionId: number) =>
  client.query('select pg_advisory_xact_lock(4312, $1)', [connectionId]);

export const releaseRun = (client: Queryable, runId: number) =>
  client.query(
    `update run set detail = detail - 'reasons' - 'written' || '{"released": true}', counts = coalesce(detail->'written', '{}')
       where id = $1 and kind = 'sync' and state = 'paused' and detail ? 'reasons'`,
    [runId],
  );
