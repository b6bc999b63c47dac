import type { Queryable } from '../../../db/connect';

export const lockConnection = (client: Queryable, connectionId: number) =>
  client.query('select pg_advisory_xact_lock(4312, $1)', [connectionId]);

/** Notes on a run that the other side called while it was at work; one that waits takes along what is new. */
export const noteCall = (client: Queryable, runId: number) =>
  client.query(`update run set detail = detail || '{"called": true}' where id = $1 and state <> 'queued'`, [runId]);

export const wasCalled = (client: Queryable, runId: number) =>
  client.query<{ called: boolean }>(
    `select coalesce((detail->>'called')::boolean, false) as called from run where id = $1`,
    [runId],
  );

export const releaseRun = (client: Queryable, runId: number) =>
  client.query(
    `update run set detail = detail - 'reasons' - 'written' || '{"released": true}', counts = coalesce(detail->'written', '{}')
       where id = $1 and kind = 'sync' and state = 'paused' and detail ? 'reasons'`,
    [runId],
  );
