import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../db/record-codec';
import type { Queryable } from '../../db/connect';

export interface Other {
  id: number;
  state: string;
  merged_into: number | null;
  record: ContactRecord;
}

const PEOPLE_SHOWN = 200;

export const contactsWithState = (client: Queryable, ids: readonly number[]) =>
  selectRecords<Other>(client, 'select id, state, merged_into, record from contact where id = any($1::bigint[])', [
    ids,
  ]);

export const relatedTo = (client: Queryable, keys: readonly string[], id: number) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select distinct on (c.id) c.id, c.record from contact c join contact_key k on k.contact_id = c.id
     where c.state = 'live' and c.id <> $2 and k.key = any($1::bigint[]) order by c.id limit 200`,
    [keys, id],
  );

export const mergedInto = (client: Queryable, id: number) =>
  client.query<{ id: number }>(
    `with recursive taken as (select $1::bigint as id union select c.id from contact c join taken t on c.merged_into = t.id) select id from taken`,
    [id],
  );

export const organizationByKey = (client: Queryable, key: string) =>
  client.query<{ id: number }>(
    `select c.id from contact_key k join contact c on c.id = k.contact_id
     where k.key = $1 and c.kind = 'organization' and c.state = 'live' order by c.id limit 1`,
    [key],
  );

export const peopleOfOrganizations = (client: Queryable, keys: readonly string[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select distinct on (c.sort_family, c.id) c.id, c.record from contact_key k join contact c on c.id = k.contact_id
     where k.key = any($1::bigint[]) and c.kind = 'person' and c.state = 'live' order by c.sort_family, c.id limit ${PEOPLE_SHOWN}`,
    [keys],
  );
