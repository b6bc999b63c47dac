import { inTransaction, type Database } from '../db/connect';

/** Sums up the kept counts: what many transactions added becomes one row for each label again. */
export async function sumUpTallies(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ ours: boolean }>('select pg_try_advisory_xact_lock(4311) as ours');
    if (!rows[0]?.ours) return;
    await tx.client.query(
      `with many as (select 1 from tally group by kind, label, who having count(*) > 1 limit 1),
            gone as (delete from tally where exists (select 1 from many) returning kind, label, who, n)
       insert into tally (kind, label, who, n) select kind, label, who, sum(n)::int from gone group by 1, 2, 3 having sum(n) <> 0`,
    );
  });
}
