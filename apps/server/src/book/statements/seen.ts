import type { Queryable } from '../../db/connect';

export const contactsSeen = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number }>('select id from contact where id = any($1::bigint[])', [ids]);
