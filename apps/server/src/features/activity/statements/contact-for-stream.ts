import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

/** A contact, or whoever took it in. */
export const contactForStream = (client: Queryable, id: number) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    'select id, record from contact where id = coalesce(public.root_of($1), $1)',
    [id],
  );
