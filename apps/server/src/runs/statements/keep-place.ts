import type { Queryable } from '../../db/connect';

export const keepPlace = (client: Queryable, runId: number, afterId: number) =>
  client.query(`update run set detail = jsonb_set(detail, '{afterId}', to_jsonb($2::bigint)) where id = $1`, [
    runId,
    afterId,
  ]);
