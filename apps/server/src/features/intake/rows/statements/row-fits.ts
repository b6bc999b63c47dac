import type { Queryable } from '../../../../db/connect';

export const contactsToChoose = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; name: string; about: string; deleted: boolean }>(
    `select id, display_name as name, concat_ws(', ', nullif(email, ''), nullif(tel, ''), nullif(organization, '')) as about,
         state = 'deleted' as deleted
       from contact where id = any($1::bigint[])`,
    [ids],
  );
