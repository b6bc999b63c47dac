import type { Queryable } from '../../../db/connect';

export const keysInUse = (client: Queryable, keys: readonly string[]) =>
  client.query<{ key: string }>('select distinct key::text as key from contact_key where key = any($1::bigint[])', [
    keys,
  ]);
