import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const liveOrganizations = (client: Queryable) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where state = 'live' and kind = 'organization' order by id`,
  );

export const openOrganizationGroups = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; member_ids: number[] }>(
    `select id, member_ids from match_group where state = 'open' and kind = 'organization' and member_ids && $1::bigint[]`,
    [ids],
  );
