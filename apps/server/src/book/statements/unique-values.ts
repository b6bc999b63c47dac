import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../db/record-codec';
import type { Queryable } from '../../db/connect';

export const holdersOfKey = (client: Queryable, key: string, exceptId: number | null) =>
  selectRecords<{ id: number; name: string; record: ContactRecord }>(
    client,
    `select c.id, c.display_name as name, c.record from contact_key k join contact c on c.id = k.contact_id
       where k.key = $1 and c.state = 'live' and c.id is distinct from $2 order by c.id limit 50`,
    [key, exceptId],
  );

export const selectClashes = (client: Queryable, key: string, shown: number) =>
  client.query<{ value: string; ids: number[] }>(
    `select min(val->>'v') as value, json_agg(distinct c.id) as ids
     from contact c cross join lateral json_array_elements(c.record->'f'->$1::text) val
     where c.state = 'live' and c.kind = 'person' and c.record->'f'->$1::text is not null
     group by lower(coalesce(val->>'norm', val->>'v')) having count(distinct c.id) > 1 order by count(distinct c.id) desc limit $2`,
    [key, shown],
  );

export const namesOf = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; name: string }>(
    'select id, display_name as name from contact where id = any($1::bigint[])',
    [ids],
  );
