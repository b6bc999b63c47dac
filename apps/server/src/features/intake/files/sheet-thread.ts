import { createReadStream, createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { once } from 'node:events';
import readSpreadsheet from 'read-excel-file/node';
import { openArchive } from './archive';
import { readLargeSheets, type SheetFile } from './large-sheet';
import { readBook } from './sheet-book';
import { readStyles } from './sheet-styles';
import { sniffDelimited, trimSheet, writeRawLine, type SheetCell } from '@gray-loom/core/formats';
import { contactLikeness, guessesOf } from '@gray-loom/core/mapping';

export interface SheetTask {
  path: string;
  /** Folder that the sheets are written to, as delimited text. */
  folder: string;
  /** One too large to be read whole. */
  isLarge: boolean;
  /** How many bytes its rows may come to as text. */
  limitBytes: number;
}

/** Bytes of a sheet's text by which it is told what it holds. */
const LOOKED_AT = 64 * 1024;

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

/** Read by the library, whole. */
async function readSmallSheets(path: string, folder: string, shown: ReadonlySet<string>): Promise<SheetFile[]> {
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

/** How much the beginning of a sheet, written as text, looks like contacts. */
async function likenessOf({ path }: SheetFile): Promise<number> {
  const pieces: Buffer[] = [];
  for await (const piece of createReadStream(path, { end: LOOKED_AT - 1 })) pieces.push(piece as Buffer);
  const head = Buffer.concat(pieces);
  // What was cut off may be within a cell.
  const sniffed = sniffDelimited(new Uint8Array(head), head.length < LOOKED_AT);
  return sniffed.ok ? contactLikeness(guessesOf(sniffed.value)) : 0;
}

/**
 * Writes each sheet of a spreadsheet that has more than a heading as delimited text, the sheet first that looks most like one of
 * contacts: before it there may be one that says how to fill it in, or one of lists to choose from.
 */
export default async function readSheets({ path, folder, isLarge, limitBytes }: SheetTask): Promise<SheetFile[]> {
  const { shown, hasMasks } = await lookInto(path);
  const byRows = () => readLargeSheets(path, folder, limitBytes);
  // Read by the library, postal codes and numbers would lose their noughts; and it wants cells that say where they stand.
  const sheets = isLarge || hasMasks ? await byRows() : await readSmallSheets(path, folder, shown).catch(byRows);
  if (sheets.length < 2) return sheets;
  const likeness = new Map<SheetFile, number>();
  for (const sheet of sheets) likeness.set(sheet, await likenessOf(sheet));
  return sheets.sort((a, b) => (likeness.get(b) ?? 0) - (likeness.get(a) ?? 0));
}
