import type { Condition } from '@gray-loom/core/segments';
import type { Queryable } from '../../../db/connect';

export const segmentConditions = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; condition: Condition }>('select id, condition from segment where id = any($1::int[])', [
    ids,
  ]);
