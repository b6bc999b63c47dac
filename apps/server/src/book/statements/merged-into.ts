import type { Queryable } from '../../db/connect';

/** Where contacts are now that may have been merged into others: the last `id` of each `asked`. */
export const ROOTS = `with recursive up(asked, id) as (
  select a, a from unnest($1::bigint[]) as w(a)
  union all select u.asked, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null)`;

export const rootsOf = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ asked: number; id: number }>(
    `${ROOTS} select asked, id from up u where not exists (select 1 from contact c where c.id = u.id and c.merged_into is not null)`,
    [contactIds],
  );
