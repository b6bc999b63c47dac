import type { Queryable } from '../../../db/connect';

export const fieldsSeen = (client: Queryable, connectionId: number) =>
  client.query<{ key: string }>(
    `select distinct key from (select seen from sync_link where connection_id = $1 and seen is not null limit 5000) l,
       json_object_keys(l.seen->'fields') as key where key like 'x-%' order by key limit 100`,
    [connectionId],
  );

export const deleteChoice = (client: Queryable, connectionId: number, contactId: number) =>
  client.query<{ choice: 'send' | 'never' }>(
    'delete from sync_choice where connection_id = $1 and contact_id = $2 returning choice',
    [connectionId, contactId],
  );
