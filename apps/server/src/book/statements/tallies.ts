import type { Queryable } from '../../db/connect';

export const claimTallies = (client: Queryable) =>
  client.query<{ ours: boolean }>('select pg_try_advisory_xact_lock(4311) as ours');

export const sumUpNext = (client: Queryable) =>
  client.query(`with many as (select 1 from tally group by kind, label, who having count(*) > 1 limit 1),
            gone as (delete from tally where exists (select 1 from many) returning kind, label, who, n)
       insert into tally (kind, label, who, n) select kind, label, who, sum(n)::int from gone group by 1, 2, 3 having sum(n) <> 0`);
