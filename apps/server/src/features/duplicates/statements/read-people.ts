import { type StoredRecord } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const PAGE = 5000;

export const pageOfPeople = (client: Queryable, last: number, upTo: number) =>
  client.query<{ id: string; record: StoredRecord }>(
    `select id, record from contact where state = 'live' and kind = 'person' and id > $1 and id <= $2
       order by id limit ${PAGE}`,
    [last, upTo],
  );
