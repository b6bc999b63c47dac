import type { Queryable } from '../../db/connect';

/** Whether anybody is kept out at all; mostly nobody is. */
export const anyBlocked = (client: Queryable) =>
  client.query<{ any: boolean }>('select exists (select 1 from blocked_identity) as any');

/** Who is kept out by these hashes, and since which day (ISO 8601, UTC). */
export const blockedByHash = (client: Queryable, hashes: readonly Buffer[]) =>
  client.query<{ hash: Buffer; day: string }>(
    `select k.hash, to_char(max(b.erased_at) at time zone 'utc', 'YYYY-MM-DD') as day
       from blocked_key k join blocked_identity b on b.id = k.identity_id
      where k.hash = any($1::bytea[]) group by k.hash`,
    [hashes],
  );
