import { keysOfField } from '@gray-loom/core/segments';
import type { Weights } from '@gray-loom/core/fields';
import type { Queryable } from '../../../db/connect';

interface BandRow {
  band: number;
  n: number;
  mean: number;
}

export const completenessNow = (client: Queryable) =>
  client.query<BandRow>(
    `select least(completeness / 20, 4) as band, count(*)::int as n, avg(completeness)::float8 as mean
     from contact where state = 'live' and kind = 'person' group by 1`,
  );

/** The same by other weights, of what conditions look at. */
export function completenessWith(client: Queryable, weights: Weights) {
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const parts = Object.entries(weights).map(
    ([key, weight]) => `case when facts ?| ${add(keysOfField(key))}::text[] then ${add(weight)}::int else 0 end`,
  );
  const whole = add(Object.values(weights).reduce((sum, weight) => sum + weight, 0));
  return client.query<BandRow>(
    `select least(share / 20, 4)::int as band, count(*)::int as n, avg(share)::float8 as mean
     from (select round((${parts.join(' + ')}) * 100.0 / ${whole}::int)::int as share from contact_facts where who = 1) shares group by 1`,
    values,
  );
}
