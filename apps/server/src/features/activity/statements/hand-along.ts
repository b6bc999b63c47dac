import type { Queryable } from '../../../db/connect';

/** What is still to be done, or is ahead. */
const OPEN = `not a.gone and (a.is_open or a.kind = 'appointment' and a.at > now())`;

export const openOfAccount = (client: Queryable, accountId: number) =>
  client.query<{ id: number }>(`select a.id from public.activity a where a.who = $1 and ${OPEN}`, [accountId]);

/** Of contacts, each with the name of its owner: what that one has to do with it. */
export const openWithOwners = (client: Queryable, contactIds: readonly number[], owners: readonly string[]) =>
  client.query<{ id: number }>(
    `select a.id from unnest($1::bigint[], $2::text[]) as o(contact_id, name)
       join account w on w.name = o.name join public.activity a on a.holder_id = o.contact_id and a.who = w.id
     where ${OPEN}`,
    [contactIds, owners],
  );
