import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { looksLikeMessage } from '@gray-loom/core/formats';
import { messagesAsTable, splitMessages } from '../../server/src/use-cases/read-messages';

/** Does something with a file as a table: messages are made into one first, any other file is taken as it is. */
export async function withTable<T>(path: string, work: (path: string, isMessage: boolean) => T): Promise<T> {
  const raw = readFileSync(path);
  if (!looksLikeMessage(raw.toString('utf8', 0, 2000))) return work(path, false);
  const folder = mkdtempSync(join(tmpdir(), 'gray-loom-message-'));
  try {
    const table = join(folder, 'messages.csv');
    const raws = splitMessages(raw.toString('latin1')).map((text) => Buffer.from(text, 'latin1'));
    writeFileSync(table, await messagesAsTable(raws));
    return work(table, true);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
