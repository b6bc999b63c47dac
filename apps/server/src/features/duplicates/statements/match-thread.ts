import type { ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const countLive = (client: Queryable, live: string) =>
  client.query<{ n: string }>(`select count(*) as n ${live}`);

export const middleLive = (client: Queryable, total: number, live: string) =>
  client.query<{ id: string }>(`select id ${live} order by id offset $1 limit 1`, [total]);

export const liveOrganizations = (client: Queryable) =>
  selectRecords<{ id: string; record: ContactRecord }>(
    client,
    `select id, record from contact where state = 'live' and kind = 'organization' order by id`,
  );
