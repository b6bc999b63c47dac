import { inTransaction, type Database } from '../db/connect';
import type { Consumer } from '../feed/consumer';

/** Texts of one transaction. */
const BATCH = 5000;
/**
 * While an import runs, its texts are put under the index only beyond so many, so that both do not get in each other's way. So
 * many are looked through in a tenth of a second.
 */
const MOST_WAITING = 300_000;

/** Puts search texts that imports brought under the trigram index, batch by batch; what is interrupted goes on another time. */
async function placeTexts(database: Database): Promise<void> {
  let all = 0;
  for (let moved = BATCH; moved === BATCH; all += moved) {
    moved = await inTransaction(database, async ({ client }) => {
      const { rowCount } = await client.query(
        `with gone as (
           delete from contact_search_fresh where contact_id in (
             select contact_id from contact_search_fresh order by contact_id limit $1 for update skip locked)
           returning contact_id, text)
         insert into contact_search (contact_id, text) select contact_id, text from gone`,
        [BATCH],
      );
      return rowCount ?? 0;
    });
  }
  await database.pool.query(`select gin_clean_pending_list('contact_search_trigrams')`);
  // Without figures of what has come, the next minute's finds would be planned as for the book before.
  if (all > BATCH) await database.pool.query('analyze contact, contact_search');
}

/** Does so once no import runs, or where one has brought very many by now; 'later' where texts have to wait for that. */
export async function placeLeftTexts(database: Database): Promise<'done' | 'later'> {
  const { rows } = await database.pool.query<{ waiting: number; importing: boolean }>(
    `select (select count(*)::int from (select 1 from contact_search_fresh limit $1) texts) as waiting,
       exists (select 1 from run where kind = 'import' and state = 'running') as importing`,
    [MOST_WAITING],
  );
  const { waiting = 0, importing = false } = rows[0] ?? {};
  if (waiting >= MOST_WAITING || (waiting > 0 && !importing)) {
    await placeTexts(database);
    return 'done';
  }
  return waiting > 0 ? 'later' : 'done';
}

/** Puts the search texts of what changed under their index. The texts themselves wait where the change laid them. */
export const searchTexts: Consumer = {
  name: 'searchTexts',
  sentence: 'Puts what came in under the index that finds any part of a name.',
  from: 'now',
  batch: 2000,
  handle: async () => undefined,
  then: placeLeftTexts,
};
