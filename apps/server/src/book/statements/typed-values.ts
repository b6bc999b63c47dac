import type { Queryable } from '../../db/connect';

export const stateOfContact = (client: Queryable, contactId: number) =>
  client.query<{ state: string }>('select state from contact where id = $1', [contactId]);

export const pictureExists = (client: Queryable, hash: string) =>
  client.query('select 1 from picture where hash = $1', [hash]);
