import type { Queryable } from '../../db/connect';

/** Notes how far a run is: behind which id, and of which part of its work where it has several. */
export const keepPlace = (client: Queryable, runId: number, afterId: number, part: string | null = null) =>
  client.query(
    `update run set detail = detail || jsonb_strip_nulls(jsonb_build_object('afterId', $2::bigint, 'part', $3::text)) where id = $1`,
    [runId, afterId, part],
  );
