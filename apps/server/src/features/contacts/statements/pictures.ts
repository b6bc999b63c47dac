import type { Queryable } from '../../../db/connect';

export const pictureByHash = (client: Queryable, hash: string) =>
  client.query<{ media_type: string; bytes: Buffer }>('select media_type, bytes from picture where hash = $1', [hash]);
