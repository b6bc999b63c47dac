import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

/** Contacts that say who referred them, or whom they referred. */
export const contactsWithReferrals = (client: Queryable, limit: number) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact
     where state = 'live' and (record->'f'->'related')::text like '%referred%' order by sort_family, id limit $1`,
    [limit],
  );

export const startsOfRuns = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; at: string }>(
    `select id, to_char(created_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at from run where id = any($1::int[])`,
    [ids],
  );
