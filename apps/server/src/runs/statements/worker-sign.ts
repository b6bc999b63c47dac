import type { Queryable } from '../../db/connect';

/** Signs of workers that were killed are swept once they are so old. */
const SWEPT = `interval '1 hour'`;

export const signWorker = (client: Queryable, id: string) =>
  client.query(
    `with swept as (delete from worker_sign where seen_at < now() - ${SWEPT})
     insert into worker_sign (id, seen_at) values ($1, now()) on conflict (id) do update set seen_at = now()`,
    [id],
  );

export const dropWorker = (client: Queryable, id: string) =>
  client.query('delete from worker_sign where id = $1', [id]);

export const workersSeen = (client: Queryable, withinMs: number) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from worker_sign where seen_at > now() - $1::float * interval '1 millisecond'`,
    [withinMs],
  );
