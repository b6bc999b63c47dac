import type { Queryable } from '../../../db/connect';
import type { RemitParts } from '../../../db/actor';
import type { AccountRole } from '@gray-loom/wire';

export interface AccountRow {
  id: number;
  name: string;
  email: string;
  role: AccountRole;
  remit: RemitParts | null;
  picture: string | null;
  secondFactor: boolean;
  seenAt: string | null;
  retiredAt: string | null;
  owns: number;
}

const iso = (column: string) => `to_char(${column} at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`;

const REMIT = `case when m.account_id is null then null
  else json_build_object('owners', m.owners, 'sources', m.sources, 'tags', m.tags, 'areas', m.areas) end`;

/** All accounts, those that are retired last, with how many live contacts each owns. */
export const allAccounts = (client: Queryable) =>
  client.query<AccountRow>(
    `select a.id, a.name, a.email, a.role, ${REMIT} as remit, a.picture, a.totp_secret is not null as "secondFactor",
            (select ${iso('max(s.seen_at)')} from session s where s.account_id = a.id) as "seenAt",
            ${iso('a.retired_at')} as "retiredAt",
            coalesce((select sum(t.n) from tally t where t.kind = 'owner' and t.label = a.name and t.who <> 'opportunity'), 0)::int as owns
       from account a left join account_remit m on m.account_id = a.id order by a.retired_at is not null, lower(a.name)`,
  );

/** Owners of contacts and opportunities that are no account, retired ones included. */
export const ownersWithoutAccount = (client: Queryable) =>
  client.query<{ name: string; owns: number }>(
    `select t.label as name, sum(t.n)::int as owns from tally t
      where t.kind = 'owner' and t.label <> '' and not exists (select 1 from account a where a.name = t.label)
      group by t.label having sum(t.n) > 0 order by 2 desc, 1`,
  );

/** How many live contacts an account owns. */
export const ownedBy = (client: Queryable, name: string) =>
  client.query<{ n: number }>(
    `select coalesce(sum(n), 0)::int as n from tally where kind = 'owner' and label = $1 and who <> 'opportunity'`,
    [name],
  );

/** Keeps others from changing who is an administrator, until the transaction ends. */
export const lockAccounts = (client: Queryable) => client.query('lock table account in share row exclusive mode');

export const administratorsBeside = (client: Queryable, accountId: number) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from account where role = 'administrator' and retired_at is null and id <> $1`,
    [accountId],
  );

export const accountNamed = (client: Queryable, name: string, exceptId: number) =>
  client.query('select 1 from account where lower(name) = lower($1) and id <> $2', [name, exceptId]);

export const openInvitations = (client: Queryable) =>
  client.query<{
    id: number;
    name: string;
    email: string;
    role: AccountRole;
    remit: RemitParts | null;
    isReset: boolean;
    madeBy: string;
    expiresAt: string;
  }>(
    `select i.id, i.name, i.email, i.role, i.remit, i.account_id is not null as "isReset", coalesce(a.name, '') as "madeBy",
            ${iso('i.expires_at')} as "expiresAt"
       from invitation i left join account a on a.id = i.made_by
      where i.used_at is null and i.expires_at > now() order by i.id desc`,
  );

export const sessionsOf = (client: Queryable, accountId: number) =>
  client.query<{ id: number; openedAt: string; seenAt: string; address: string; browser: string }>(
    `select id, ${iso('created_at')} as "openedAt", ${iso('seen_at')} as "seenAt", address, browser
       from session where account_id = $1 and expires_at > now() order by seen_at desc`,
    [accountId],
  );

export const endSessions = (client: Queryable, accountId: number, exceptId: number) =>
  client.query('delete from session where account_id = $1 and id <> $2', [accountId, exceptId]);

export const pictureHere = (client: Queryable, hash: string) =>
  client.query('select 1 from picture where hash = $1', [hash]);
