import { createReadStream, statSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { guardText } from '@gray-loom/core/fields';
import type { ContactFilter } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { contactConditions } from './contact-filter';
import { recordsAfter } from './statements/filtered-contacts';
import type { WriteSheetTask } from './write-sheet-thread';
import { refuse } from './refusals';
import { tableOf } from './export-contacts';
import { readyFilter } from './ready-filter';
import { makeTempFolder } from '../../runs/temp-folder';
import { outcomeOf, requestThread } from '../../runs/threads';

/** Rows of a spreadsheet that is made; it is built in memory, and people open it in a program that does the same. */
const LIMIT = 50_000;
const PAGE = 2000;

/** The contacts of a filter as a spreadsheet. Errors: a refusal where there are more than one takes. */
export async function exportSheet(
  database: Database,
  filter: ContactFilter,
  fields: readonly string[],
): Promise<{ body: ReadableStream<Uint8Array>; bytes: number }> {
  const ready = await readyFilter(database.pool, filter);
  const { headings, rows: rowsOf } = await tableOf(database, ready, fields);
  const condition = contactConditions(ready);
  const rows: string[][] = [headings];
  for (let after = 0; ;) {
    const page = await recordsAfter(database.pool, condition, after, PAGE);
    // A program for spreadsheets runs no text; an apostrophe of the text's own is what would be lost when it is read.
    for (const one of await rowsOf(page)) rows.push(one.map((text) => (text.startsWith("'") ? guardText(text) : text)));
    if (rows.length > LIMIT + 1) throw refuse.tooManyRows({ limit: LIMIT });
    if (page.length < PAGE) break;
    after = page[page.length - 1]?.id ?? after;
  }
  const { path: folder, drop } = makeTempFolder('sheet');
  try {
    const task: WriteSheetTask = { rows, path: join(folder, 'contacts.xlsx') };
    await outcomeOf<void>(requestThread('write-sheet-thread', 1500).run(task));
    const stream = createReadStream(task.path);
    stream.on('close', drop);
    return { body: Readable.toWeb(stream) as ReadableStream<Uint8Array>, bytes: statSync(task.path).size };
  } catch (error) {
    drop();
    throw error;
  }
}
