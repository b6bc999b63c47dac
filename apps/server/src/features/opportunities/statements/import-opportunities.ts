import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export interface Known {
  id: number;
  record: ContactRecord;
}

export const opportunitiesByKeys = (client: Queryable, keys: readonly string[]) =>
  selectRecords<Known & { key: string }>(
    client,
    `select k.key::text as key, c.id, c.record from contact_key k join contact c on c.id = k.contact_id
       where k.key = any($1::bigint[]) and c.kind = 'opportunity' and c.state = 'live' order by c.id`,
    [keys],
  );
