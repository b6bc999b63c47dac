import type { StoredActivity } from '../../../db/schema';
import type { Queryable } from '../../../db/connect';

/** Not of a run that was taken back: what it brought may come again. */
const STANDS = 'join public.run r on r.id = a.run_id and r.undone_by is null';

/** Activities without a number of some contacts, in the order in which they were made. */
export const activitiesOfContacts = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number; holder_id: number; record: StoredActivity }>(
    `select a.id, a.holder_id, a.record from public.activity a ${STANDS}
     where a.holder_id = any($1::bigint[]) and a.outside_id = '' order by a.id`,
    [contactIds],
  );

export const activitiesByNumbers = (client: Queryable, numbers: readonly string[]) =>
  client.query<{ id: number; record: StoredActivity }>(
    `select a.id, a.record from public.activity a ${STANDS}
     where a.outside_id = any($1::text[]) and a.outside_id <> '' order by a.id desc`,
    [numbers],
  );
