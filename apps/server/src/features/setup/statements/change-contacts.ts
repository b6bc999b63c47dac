import type { ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { ManyChange } from '../many-change';
import type { Queryable } from '../../../db/connect';

/** Contacts changed at once in the request; more become a job. */
export const INLINE_LIMIT = 500;

export const keepChange = (client: Queryable, runId: number, change: string) =>
  client.query(`update run set detail = detail || jsonb_build_object('change', $2::jsonb) where id = $1`, [
    runId,
    change,
  ]);

export const countFew = (client: Queryable, values: unknown[], where: string) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from (select 1 from contact c where ${where} limit ${INLINE_LIMIT + 1}) few`,
    values,
  );

export const updateDerived = (
  client: Queryable,
  ids: readonly number[],
  areas: readonly string[],
  completeness: readonly number[],
) =>
  client.query(
    `update contact c set area = m.area, completeness = m.completeness
     from unnest($1::bigint[], $2::text[], $3::smallint[]) as m(id, area, completeness) where c.id = m.id`,
    [ids, areas, completeness],
  );

export const insertKeys = (client: Queryable, keys: readonly string[], ids: readonly number[]) =>
  client.query(
    'insert into contact_key (key, contact_id) select * from unnest($1::bigint[], $2::bigint[]) on conflict do nothing',
    [keys, ids],
  );

export const deleteAreaTallies = (client: Queryable) => client.query(`delete from tally where kind = 'area'`);

export const insertAreaTallies = (client: Queryable) =>
  client.query(
    `insert into tally (kind, label, who, n) select 'area', area, kind, count(*)::int from contact where state = 'live' and area <> '' group by area, kind`,
  );

export const addChoiceTo = (client: Queryable, fieldId: number, label: string) =>
  client.query(`update custom_field set choices = choices || to_jsonb($2::text) where id = $1 and not choices ? $2`, [
    fieldId,
    label,
  ]);

export const changeOfRun = (client: Queryable, runId: number) =>
  client.query<{ change: ManyChange | null }>(`select detail->'change' as change from run where id = $1`, [runId]);

/** The next contacts that a change is for, locked. */
export const lockNext = (
  client: Queryable,
  values: readonly unknown[],
  where: string,
  afterId: number,
  limit: number,
) =>
  selectRecords<{ id: number; area: string; completeness: number; record: ContactRecord }>(
    client,
    `select c.id, c.area, c.completeness, c.record from contact c where ${where} and c.id > $${values.length + 1} order by c.id limit ${limit} for update`,
    [...values, afterId],
  );
