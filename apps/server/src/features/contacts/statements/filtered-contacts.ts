import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

/** A condition over contact `c` with its parameters, as contactConditions gives it. */
interface Condition {
  where: string;
  values: readonly unknown[];
}

/** The next contacts that meet a condition, by id. */
export const recordsAfter = (client: Queryable, { where, values }: Condition, afterId: number, limit: number) =>
  selectRecords<{ id: number; touched_at: Date; record: ContactRecord }>(
    client,
    `select c.id, c.touched_at, c.record from contact c where ${where} and c.id > $${values.length + 1} order by c.id limit ${limit}`,
    [...values, afterId],
  );

/** How many values of each of these fields one contact has at most, and whether any has a label. */
export const mostOfEachField = (client: Queryable, { where, values }: Condition, fields: readonly string[]) =>
  client.query<{ key: string; most: number; labelled: boolean }>(
    `select key, max(json_array_length(value)) as most, bool_or(value::text like '%"label"%') as labelled
     from contact c cross join lateral json_each(c.record->'f') where ${where} and key = any($${values.length + 1}::text[]) group by key`,
    [...values, fields],
  );

/** Contacts by family name, with what a mailing label needs. */
export const recordsForLabels = (client: Queryable, { where, values }: Condition, limit: number) =>
  selectRecords<{ id: number; email: string; tel: string; record: ContactRecord }>(
    client,
    `select c.id, c.email, c.tel, c.record from contact c where ${where} order by c.sort_family, c.id limit ${limit}`,
    [...values],
  );

/** Which of these contacts meet a condition. */
export const contactsMeeting = (client: Queryable, { where, values }: Condition, ids: readonly number[]) =>
  client.query<{ id: number }>(
    `select c.id from contact c where ${where} and c.id = any($${values.length + 1}::bigint[])`,
    [...values, ids],
  );

interface Order {
  column: string;
  direction: 'asc' | 'desc';
}

/** Every so many-th row of a list in its order. */
export const everyNth = (client: Queryable, { where, values }: Condition, { column, direction }: Order, step: number) =>
  client.query<{ place: number; position: string; id: number }>(
    `select (n - 1)::int as place, position::text as position, id from (
       select ${column} as position, c.id, row_number() over (order by ${column} ${direction}, c.id ${direction}) as n from contact c where ${where}
     ) numbered where n % ${step} = 1 order by n`,
    [...values],
  );

/** How many rows of a list stand from a place mark to a text. */
export const countBetween = (
  client: Queryable,
  { where, values }: Condition,
  column: string,
  from: { position: string; id: number },
  text: string,
) => {
  const at = values.length;
  return client.query<{ n: number }>(
    `select count(*)::int as n from contact c where ${where} and (${column}, c.id) >= ($${at + 1}, $${at + 2}) and ${column} < $${at + 3}`,
    [...values, from.position, from.id, text],
  );
};

export const recordsByIds = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    'select c.id, c.record from public.contact c where c.id = any($1::bigint[])',
    [ids],
  );
