import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const contactsWithRoots = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord; display_name: string; email: string; tel: string }>(
    client,
    `with recursive up(asked, id) as (select a, a from unnest($1::bigint[]) as w(a)
           union all select u.asked, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null)
         select u.asked as id, c.record, c.display_name, c.email, c.tel from up u join contact c on c.id = u.id and c.merged_into is null`,
    [ids],
  );
