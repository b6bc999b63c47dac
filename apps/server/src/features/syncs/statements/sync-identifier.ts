import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

/** People that a record over there may be, at most; whoever shares more keys comes first. */
const LOOKED_AT = 12;

const PER_KEY = 40;

export const candidatesByKeys = (client: Queryable, places: readonly number[], keys: readonly string[]) =>
  client.query<{ n: number; contact_id: number }>(
    `select n, contact_id from (
         select w.n, k.contact_id, row_number() over (partition by w.n order by count(*) desc, k.contact_id) as place
         from unnest($1::int[], $2::bigint[]) as w(n, key)
         cross join lateral (select contact_id from contact_key where contact_key.key = w.key limit ${PER_KEY}) k
         group by w.n, k.contact_id) ranked where place <= ${LOOKED_AT}`,
    [places, keys],
  );

export const peopleToCompare = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; state: string; record: ContactRecord }>(
    client,
    `select id, state, record from contact where id = any($1::bigint[]) and state in ('live', 'deleted') and kind = 'person'`,
    [ids],
  );
