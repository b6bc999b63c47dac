import type { Queryable } from '../../../../db/connect';

export const timesOfRuns = (client: Queryable) =>
  client.query<{ id: number; ms: number }>('select id, extract(epoch from created_at)::float8 * 1000 as ms from run');
