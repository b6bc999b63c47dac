import { type ContactRecord, type Value } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

/** Values of a newly unique field that get their look-up keys at once; what is beyond is left to the run. */
const AT_ONCE = 20_000;

export const peopleWithField = (client: Queryable, key: string) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where state = 'live' and kind = 'person' and record->'f'->$1 is not null order by id limit ${AT_ONCE}`,
    [key],
  );

export const valuesOfField = (client: Queryable, key: string) =>
  client.query<{ id: number; name: string; value: Pick<Value, 'v'> }>(
    `select c.id, c.display_name as name, val as value from contact c cross join lateral json_array_elements(c.record->'f'->$1::text) val
     where c.record->'f'->$1::text is not null and c.state = 'live'`,
    [key],
  );

/** How many contacts have each value of a field, whatever kind they are of. */
export const valueCounts = (client: Queryable, key: string) =>
  client.query<{ label: string; count: number }>(
    `select label, count(*)::int as count
     from contact c
     cross join lateral json_array_elements(c.record->'f'->$1::text) val
     cross join lateral json_array_elements_text(
       case json_typeof(val->'v') when 'array' then val->'v' else json_build_array(val->'v') end) label
     where c.record->'f'->$1::text is not null and c.state = 'live' group by 1 order by 2 desc, 1`,
    [key],
  );

export const lockRuns = (client: Queryable) => client.query('lock table run in share row exclusive mode');

export const runningImport = (client: Queryable) =>
  client.query<{ title: string }>(
    `select title from run where kind in ('import', 'trial') and state in ('queued', 'running') limit 1`,
  );
