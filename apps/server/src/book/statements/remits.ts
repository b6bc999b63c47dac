import type { RemitParts } from '../../db/actor';
import type { Queryable } from '../../db/connect';

export const accountsWhoseRemitNames = (client: Queryable, part: keyof RemitParts, label: string) =>
  client.query<{ name: string }>(
    `select a.name from account_remit m join account a on a.id = m.account_id
      where a.retired_at is null and $1 = any (m.${part}) order by a.name`,
    [label],
  );

export const insertRemitTallies = (client: Queryable, columns: unknown[]) =>
  client.query(
    `insert into public.remit_tally (account_id, kind, label, who, n)
       select * from unnest($1::int[], $2::text[], $3::text[], $4::text[], $5::int[])`,
    columns,
  );

/** Counts who is within the remits of accounts anew, or within all; in one statement, so that what others add meanwhile is added once. */
export const recountRemits = (client: Queryable, accountIds: readonly number[] | null) =>
  client.query(
    `with gone as (delete from public.remit_tally where $1::int[] is null or account_id = any ($1)),
       within as materialized (
         select m.account_id, c.kind, c.stage, c.source, c.owner, c.area, c.tags
         from public.account_remit m join public.contact c
           on c.owner = any (m.owners) or c.source = any (m.sources) or c.area = any (m.areas) or c.tags && m.tags
         where c.state = 'live' and c.kind <> 'opportunity' and ($1::int[] is null or m.account_id = any ($1)))
     insert into public.remit_tally (account_id, kind, label, who, n)
       select account_id, 'live', '', kind, count(*)::int from within group by 1, 4
       union all select account_id, 'tag', tag, kind, count(*)::int from within, unnest(tags) tag group by 1, 3, 4
       union all select account_id, 'source', source, kind, count(*)::int from within where source <> '' group by 1, 3, 4
       union all select account_id, 'stage', stage, kind, count(*)::int from within where stage <> '' group by 1, 3, 4
       union all select account_id, 'owner', owner, kind, count(*)::int from within where owner <> '' group by 1, 3, 4
       union all select account_id, 'area', area, kind, count(*)::int from within where area <> '' group by 1, 3, 4`,
    [accountIds],
  );

export const dropRemitTallies = (client: Queryable, accountId: number) =>
  client.query('delete from public.remit_tally where account_id = $1', [accountId]);

/** Remits that changed lately: a write that was under way then may have counted for what they were before. */
export const remitsChangedLately = (client: Queryable) =>
  client.query<{ id: number }>(
    `select account_id as id from account_remit where changed_at > now() - interval '10 minutes'`,
  );

/** Sums up the counts of remits, as those of all (statements/tallies.ts). */
export const sumUpRemits = (client: Queryable) =>
  client.query(`with many as (select 1 from remit_tally group by account_id, kind, label, who having count(*) > 1 limit 1),
            gone as (delete from remit_tally where exists (select 1 from many) returning account_id, kind, label, who, n)
       insert into remit_tally (account_id, kind, label, who, n)
         select account_id, kind, label, who, sum(n)::int from gone group by 1, 2, 3, 4 having sum(n) <> 0`);
