import { createReadStream } from 'node:fs';
import { sniffDelimited } from '@gray-loom/core/formats';
import { contactLikeness, guessesOf } from '@gray-loom/core/mapping';
import { Refusal } from '../../../http/refusal';
import { inThread } from '../../../runs/threads';
import { readSheetRows, type SheetFile } from './sheet-rows';

export interface SheetTask {
  path: string;
  /** Folder that the sheets are written to, as delimited text. */
  folder: string;
  /** How many bytes its rows may come to as text. */
  limitBytes: number;
}

/** Bytes of a sheet's text by which it is told what it holds. */
const LOOKED_AT = 64 * 1024;

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
export async function readSheets({ path, folder, limitBytes }: SheetTask): Promise<SheetFile[]> {
  const sheets = await readSheetRows(path, folder, limitBytes).catch((error: unknown) => {
    // Only a plain error keeps what it says on its way out of a thread.
    throw error instanceof Refusal ? new Error(String(error.facts.why ?? error.code)) : error;
  });
  if (sheets.length < 2) return sheets;
  const likeness = new Map<SheetFile, number>();
  for (const sheet of sheets) likeness.set(sheet, await likenessOf(sheet));
  return sheets.sort((a, b) => (likeness.get(b) ?? 0) - (likeness.get(a) ?? 0));
}

export default inThread(readSheets);
