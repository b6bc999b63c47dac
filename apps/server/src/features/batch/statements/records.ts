import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

export const recordsOf = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select c.id, c.record from contact c where c.id = any($1::bigint[]) and c.kind <> 'opportunity' order by c.id`,
    [ids],
  );
