import type { Queryable } from '../../../db/connect';

export const markSeen = (client: Queryable, sessionId: number) =>
  client.query('update session set seen_at = now() where id = $1', [sessionId]);
