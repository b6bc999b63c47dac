import type { Queryable } from '../../../db/connect';

/** Notes that an account has a contact on screen; says whether it had not before. */
export const noteLook = (client: Queryable, contactId: number, accountId: number, seconds: number) =>
  client.query<{ isNew: boolean }>(
    `with before as (select until from contact_look where contact_id = $1 and account_id = $2)
     insert into contact_look (contact_id, account_id, until) values ($1, $2, now() + make_interval(secs => $3))
     on conflict (contact_id, account_id) do update set until = excluded.until
     returning not exists (select 1 from before where until > now()) as "isNew"`,
    [contactId, accountId, seconds],
  );

export const othersLooking = (client: Queryable, contactId: number, accountId: number) =>
  client.query<{ name: string; picture: string | null }>(
    `select a.name, a.picture from contact_look l join account a on a.id = l.account_id
      where l.contact_id = $1 and l.account_id <> $2 and l.until > now() and a.retired_at is null order by a.name`,
    [contactId, accountId],
  );

export const endLook = (client: Queryable, contactId: number, accountId: number) =>
  client.query('delete from contact_look where contact_id = $1 and account_id = $2', [contactId, accountId]);

export const forgetOldLooks = (client: Queryable) => client.query('delete from contact_look where until < now()');
