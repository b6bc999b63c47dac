import { inTransaction, type Database } from '../db/connect';
import { recountRemits, remitsChangedLately, sumUpRemits } from './statements/remits';
import { claimTallies, sumUpNext } from './statements/tallies';

/** Sums up the kept counts: what many transactions added becomes one row for each label again. */
export async function sumUpTallies(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rows } = await claimTallies(tx.client);
    if (!rows[0]?.ours) return;
    await sumUpNext(tx.client);
    await sumUpRemits(tx.client);
    const { rows: changed } = await remitsChangedLately(tx.client);
    if (changed.length)
      await recountRemits(
        tx.client,
        changed.map(({ id }) => id),
      );
  });
}
