import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const picturesByHash = (client: Queryable, hashes: readonly string[]) =>
  client.query<{ hash: string; bytes: Buffer }>('select hash, bytes from picture where hash = any($1::text[])', [
    hashes,
  ]);

export const recordToExport = (client: Queryable, id: number) =>
  selectRecords<{ id: number; touched_at: Date; record: ContactRecord }>(
    client,
    'select id, touched_at, record from contact where id = $1',
    [id],
  );
