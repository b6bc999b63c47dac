import type { Queryable } from '../../../db/connect';

export const takerOf = (client: Queryable, contactId: number) =>
  client.query<{ into: number | null }>('select merged_into as into from contact where id = $1', [contactId]);
