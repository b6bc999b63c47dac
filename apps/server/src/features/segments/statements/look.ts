import type { Test } from '@gray-loom/core/segments';
import type { Queryable } from '../../../db/connect';

interface Counting {
  sqls: readonly string[];
  who: string;
  readsContact: boolean;
  values: readonly unknown[];
}

const counted = (sqls: readonly string[]) => sqls.map((sql) => `count(*) filter (where ${sql})::int`).join(', ');
const source = (facts: string, readsContact: boolean) =>
  readsContact ? `${facts} f join public.contact c on c.id = f.contact_id` : `${facts} f`;

/** How many facts there are, about: as the planner has it. */
export const sizeOfBook = (client: Queryable) =>
  client.query<{ n: number }>(
    `select greatest(reltuples, 0)::int as n from pg_class where oid = 'public.contact_facts'::regclass`,
  );

export const countsOf = (client: Queryable, { sqls, who, readsContact, values }: Counting) =>
  client.query<{ counts: number[] }>(
    `select array[${counted(sqls)}] as counts from ${source('contact_facts', readsContact)} where ${who}`,
    [...values],
  );

/** The same on a share of the pages, in percent; with how many contacts were looked at. */
export const sampledCounts = (
  client: Queryable,
  { sqls, who, readsContact, values, isPart }: Counting & { isPart: boolean },
  percent: number,
) =>
  client.query<{ seen: number; counts: number[] }>(
    `with sample as materialized (
       select s.* from public.contact_facts s tablesample system (${percent.toFixed(4)}))
     select (select count(*)::int from sample) as seen, array[${counted(sqls)}] as counts
     from ${source('sample', readsContact)} where ${who}${isPart ? ' and exists (select 1 from contact seen where seen.id = f.contact_id)' : ''}`,
    [...values],
  );

/** Contacts that meet a condition, by how far a number or range of theirs is from one. */
export const nearest = (
  client: Queryable,
  { from, who, sql, values }: { from: string; who: string; sql: string; values: readonly unknown[] },
  { field, op }: Pick<Test, 'field' | 'op'>,
  n: number,
  limit: number,
) => {
  const at = values.length;
  const key = (end: string) => `(f.facts->'${field}${end}')::float8`;
  const low = op === 'number' ? key('#') : key('<');
  const high = op === 'number' ? key('#') : key('>');
  return client.query<{ id: number; name: string; value: string }>(
    `select t.id, t.display_name as name, coalesce(near.value, '') as value from (
       select f.contact_id, greatest(${low} - $${at + 1}::float8, $${at + 1}::float8 - ${high}) as apart,
         case when ${low} = ${high} then ${low}::text
           else case when ${low} <= -1e300 then 'up to ' || ${high}::text
             when ${high} >= 1e300 then ${low}::text || ' and more' else ${low}::text || ' to ' || ${high}::text end end as value
       from ${from} where ${who} and (${sql}) order by apart, f.contact_id limit ${limit}) near
     join contact t on t.id = near.contact_id order by near.apart, t.id`,
    [...values, n],
  );
};
