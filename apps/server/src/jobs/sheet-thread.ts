import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { once } from 'node:events';
import readSpreadsheet from 'read-excel-file/node';
import { readLargeSheets, type SheetFile } from './large-sheet';
import { trimSheet, writeDelimitedLine, type SheetCell } from '@gray-loom/core/formats';

export interface SheetTask {
  path: string;
  /** Folder that the sheets are written to, as delimited text. */
  folder: string;
  /** Set for one too large to be read whole: how many bytes its rows may come to as text. */
  largeLimitBytes: number | null;
}

/** Writes each sheet of a spreadsheet that has more than a heading as delimited text. */
export default async function readSheets({ path, folder, largeLimitBytes }: SheetTask): Promise<SheetFile[]> {
  if (largeLimitBytes !== null) return readLargeSheets(path, folder, largeLimitBytes);
  const files: SheetFile[] = [];
  for (const { sheet, data } of await readSpreadsheet(path)) {
    const rows = trimSheet(data as SheetCell[][]);
    if (rows.length < 2) continue;
    const file = { name: sheet, path: join(folder, `${files.length}.csv`), rows: rows.length };
    const out = createWriteStream(file.path);
    for (const row of rows) if (!out.write(writeDelimitedLine(row))) await once(out, 'drain');
    out.end();
    await once(out, 'finish');
    files.push(file);
  }
  return files;
}
