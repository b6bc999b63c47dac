import type { Queryable } from '../../../db/connect';

/** Adds one to each of these counts, or begins them anew after five minutes; says what they are then. */
export const countTries = (client: Queryable, kinds: readonly string[], keys: readonly string[], both: string) =>
  client.query<{ kind: string; count: number; known: boolean }>(
    `insert into sign_in_try (kind, key) select * from unnest($1::text[], $2::text[]) as n(kind, key) order by kind, key
     on conflict (kind, key) do update set
       count = case when sign_in_try.since < now() - interval '5 minutes' then 1 else sign_in_try.count + 1 end,
       since = case when sign_in_try.since < now() - interval '5 minutes' then now() else sign_in_try.since end
     returning kind, count, exists (select 1 from sign_in_try k where k.kind = 'known' and k.key = $3) as known`,
    [kinds, keys, both],
  );

/** Forgets the tries of one account from one address, and takes one off the counts of the two by themselves. */
export const forgetTries = (client: Queryable, both: string, others: readonly string[]) =>
  client.query(
    `with gone as (delete from sign_in_try where kind = 'both' and key = $1)
     update sign_in_try set count = greatest(count - 1, 0) where kind in ('address', 'account') and key = any($2::text[])`,
    [both, others],
  );

/** Keeps that an account was signed in to from an address. */
export const knowAddress = (client: Queryable, both: string) =>
  client.query(
    `insert into sign_in_try (kind, key, count) values ('known', $1, 0)
     on conflict (kind, key) do update set since = now()`,
    [both],
  );

export const forgetOldTries = (client: Queryable) =>
  client.query(
    `delete from sign_in_try where since < now() - case kind when 'known' then interval '90 days' else interval '1 day' end`,
  );
