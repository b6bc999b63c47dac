import { type ContactRecord } from '@gray-loom/core/model';
import type { Opportunity } from '@gray-loom/wire';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

/** Opportunities shown at once; more are found by narrowing. */
export const SHOWN = 400;

export interface Row {
  id: number;
  version: number;
  record: ContactRecord;
  touched_at: Date;
  thread: Opportunity['lastThread'];
}

const FROM = `from contact o join run r on r.id = o.last_run join thread t on t.id = r.thread_id
  where o.kind = 'opportunity' and o.state = 'live'`;

export const PIPELINE = `o.record->'f'->'opportunityPipeline'->0->>'v'`;

export const takersOf = (client: Queryable, ids: readonly number[]) =>
  client.query<{ asked: number; id: number; name: string }>(
    `with recursive taken(asked, id) as (
       select id, id from unnest($1::bigint[]) as wanted(id)
       union select t.asked, c.merged_into from taken t join contact c on c.id = t.id where c.merged_into is not null)
     select t.asked, c.id, c.display_name as name from taken t join contact c on c.id = t.id where c.merged_into is null`,
    [ids],
  );

export const pageOfOpportunities = (client: Queryable, values: unknown[], where: string) =>
  selectRecords<Row>(
    client,
    `select o.id, o.version, o.record, o.touched_at, t.kind as thread ${FROM}${where}
       order by o.record->'f'->'opportunityCloseDate'->0->>'v' nulls last, o.id limit ${SHOWN + 1}`,
    values,
  );

export const totalsOfPipelines = (client: Queryable, values: unknown[], where: string) =>
  client.query<{ pipeline: string; stage: string; currency: string | null; count: number; amount: number }>(
    `select coalesce(${PIPELINE}, '') as pipeline, o.stage, o.record->'f'->'opportunityValue'->0->'v'->>'currency' as currency,
         count(*)::int as count, coalesce(sum((o.record->'f'->'opportunityValue'->0->'v'->>'amount')::float8), 0) as amount
       ${FROM}${where} group by 1, 2, 3 order by 1, 2, 3`,
    values,
  );

export const everybodyMergedInto = (client: Queryable, contactId: number) =>
  client.query<{ id: number }>(
    `with recursive taken(id) as (
       select $1::bigint union select c.id from contact c join taken t on c.merged_into = t.id)
     select id from taken`,
    [contactId],
  );

export const opportunitiesByContactKeys = (client: Queryable, keys: readonly string[]) =>
  selectRecords<Row>(
    client,
    `select o.id, o.version, o.record, o.touched_at, t.kind as thread ${FROM}
       and o.id in (select contact_id from contact_key where key = any($1::bigint[])) order by o.id desc limit ${SHOWN}`,
    [keys],
  );
