import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../db/record-codec';
import type { Queryable } from '../../db/connect';

export const recordsOf = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    'select id, record from contact where id = any($1::bigint[])',
    [ids],
  );

export const liveRecordsOf = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where state = 'live' and id = any($1::bigint[])`,
    [ids],
  );

export const countLivePeople = (client: Queryable) =>
  client.query<{ n: number }>(`select coalesce(sum(n), 0)::int as n from tally where kind = 'live' and who = 'person'`);
