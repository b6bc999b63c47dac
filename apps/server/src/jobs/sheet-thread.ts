import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { once } from 'node:events';
import readSpreadsheet from 'read-excel-file/node';
import { openArchive } from '../use-cases/archive';
import { readLargeSheets, type SheetFile } from './large-sheet';
import { readBook } from './sheet-book';
import { readStyles } from './sheet-styles';
import { trimSheet, writeRawLine, type SheetCell } from '@gray-loom/core/formats';

export interface SheetTask {
  path: string;
  /** Folder that the sheets are written to, as delimited text. */
  folder: string;
  /** One too large to be read whole. */
  isLarge: boolean;
  /** How many bytes its rows may come to as text. */
  limitBytes: number;
}

/** What the library tells nothing of: which sheets are to be seen, and whether any style of cells shows noughts in front of a number. */
async function lookInto(path: string): Promise<{ shown: Set<string>; hasMasks: boolean }> {
  const archive = await openArchive(path);
  try {
    const { sheets, styles } = await readBook(archive);
    return {
      shown: new Set(sheets.map(({ name }) => name)),
      hasMasks: (await readStyles(archive, styles)).some((style) => style !== null && style !== 'date'),
    };
  } finally {
    archive.zip.close();
  }
}

/** Writes each sheet of a spreadsheet that has more than a heading as delimited text. */
export default async function readSheets({ path, folder, isLarge, limitBytes }: SheetTask): Promise<SheetFile[]> {
  const { shown, hasMasks } = await lookInto(path);
  // Read by the library, postal codes and numbers would lose their noughts.
  if (isLarge || hasMasks) return readLargeSheets(path, folder, limitBytes);
  const files: SheetFile[] = [];
  for (const { sheet, data } of await readSpreadsheet(path)) {
    if (!shown.has(sheet)) continue;
    const rows = trimSheet(data as SheetCell[][]);
    if (rows.length < 2) continue;
    const file = { name: sheet, path: join(folder, `${files.length}.csv`), rows: rows.length };
    const out = createWriteStream(file.path);
    for (const row of rows) if (!out.write(writeRawLine(row))) await once(out, 'drain');
    out.end();
    await once(out, 'finish');
    files.push(file);
  }
  return files;
}
