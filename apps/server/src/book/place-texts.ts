import { inTransaction, type Database } from '../db/connect';
import type { Consumer } from '../feed/consumer';
import {
  placeNextTexts,
  cleanTextIndex,
  analyzeContacts,
  textsWaiting,
  BATCH,
  MOST_WAITING,
} from './statements/place-texts';

/** Puts search texts that imports brought under the trigram index, batch by batch; what is interrupted goes on another time. */
async function placeTexts(database: Database): Promise<void> {
  let all = 0;
  for (let moved = BATCH; moved === BATCH; all += moved) {
    moved = await inTransaction(database, async ({ client }) => {
      const { rowCount } = await placeNextTexts(client);
      return rowCount ?? 0;
    });
  }
  await cleanTextIndex(database.pool);
  // Without figures of what has come, the next minute's finds would be planned as for the book before.
  if (all > BATCH) await analyzeContacts(database.pool);
}

/** Does so once no import runs, or where one has brought very many by now; 'later' where texts have to wait for that. */
export async function placeLeftTexts(database: Database): Promise<'done' | 'later'> {
  const { rows } = await textsWaiting(database.pool);
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
