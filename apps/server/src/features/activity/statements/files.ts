import type { FileContent } from '@gray-loom/core/activity';
import type { Queryable } from '../../../db/connect';

/** The same content on the same contact, where it is there already. */
export const fileHere = (client: Queryable, contactId: number, hash: string) =>
  client.query<{ name: string }>(
    `select record->>'what' as name from activity
     where holder_id = $1 and kind = 'file' and not gone and record->'file'->>'hash' = $2 limit 1`,
    [contactId, hash],
  );

export const keepFile = (client: Queryable, { hash, mediaType, bytes: size }: FileContent, bytes: Buffer) =>
  client.query(
    'insert into public.stored_file (hash, media_type, size, bytes) values ($1, $2, $3, $4) on conflict (hash) do nothing',
    [hash, mediaType, size, bytes],
  );

export const fileBytes = (client: Queryable, hash: string) =>
  client.query<{ bytes: Buffer }>('select bytes from public.stored_file where hash = $1', [hash]);
