import { once } from 'node:events';
import { createWriteStream, type WriteStream } from 'node:fs';
import { join } from 'node:path';
import { sheetCellText, writeRawLine, type SheetCell } from '@gray-loom/core/formats';
import { openArchive, type Archive } from './archive';
import { readBook } from './sheet-book';
import { readPart } from './sheet-parts';
import { readStyles, showMasked, type NumberStyle } from './sheet-styles';

/** A sheet as delimited text. */
export interface SheetFile {
  name: string;
  path: string;
  rows: number;
}

/** What the error says when rows as text are more than may come in. */
export const SHEET_TOO_LARGE = 'sheetTooLarge';
/** Rows looked at before the width of a sheet is settled, and cells that they may have in all. */
const LOOKED_AT = 1000;
const LOOKED_AT_CELLS = 500_000;
/** Empty cells that a row is filled up with at most: one cell far out does not make all rows as wide. */
const MOST_PADDING = 256;
/** Shared texts of a package are in memory, as bytes. */
const TEXTS_LIMIT_BYTES = 160 * 1024 * 1024;
/** What a sheet has at most (ECMA-376); a file that names others is damaged. */
const MOST_ROWS = 1_048_576;
const MOST_COLUMNS = 16_384;
const DAY_MS = 86_400_000;
/** Days from the first of the spreadsheets' calendars to 1970. */
const DAYS_TO_1970 = 25_569;
const DAYS_FROM_1900_TO_1904 = 1462;

/** Texts by number as bytes in chunks, since a sheet may have millions of them. */
class Texts {
  private readonly chunks: Buffer[] = [];
  private used = 0;
  private places = new Float64Array(1 << 12);
  private sizes = new Int32Array(1 << 12);
  private bytes = 0;
  count = 0;

  push(text: string): void {
    const most = text.length * 3;
    if (this.used + most > (this.chunks.at(-1)?.length ?? 0)) {
      this.chunks.push(Buffer.allocUnsafe(Math.max(CHUNK, most)));
      this.used = 0;
    }
    if (this.count === this.sizes.length) {
      const [places, sizes] = [new Float64Array(this.count * 2), new Int32Array(this.count * 2)];
      places.set(this.places);
      sizes.set(this.sizes);
      [this.places, this.sizes] = [places, sizes];
    }
    const written = this.chunks.at(-1)?.write(text, this.used) ?? 0;
    this.bytes += written;
    if (this.bytes > TEXTS_LIMIT_BYTES) throw new Error(SHEET_TOO_LARGE);
    this.places[this.count] = (this.chunks.length - 1) * PLACES + this.used;
    this.sizes[this.count++] = written;
    this.used += written;
  }

  at(i: number): string | null {
    if (!(i >= 0 && i < this.count)) return null;
    const place = this.places[i] ?? 0;
    const from = place % PLACES;
    return this.chunks[Math.floor(place / PLACES)]?.toString('utf8', from, from + (this.sizes[i] ?? 0)) ?? null;
  }
}
const CHUNK = 1 << 22;
const PLACES = 4294967296;

/** Characters that XML cannot hold are written as _xHHHH_ (ECMA-376 22.9.2.19). */
const unescaped = (text: string) =>
  text.includes('_x')
    ? text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))
    : text;

async function readTexts(archive: Archive, path: string): Promise<Texts> {
  const texts = new Texts();
  let text: string | null = null;
  let inText = false;
  let spoken = 0;
  await readPart(archive, path, {
    open: (name) => {
      if (name === 'si') text = '';
      else if (name === 't') inText = true;
      else if (name === 'rPh') spoken++;
    },
    text: (piece) => {
      if (text !== null && inText && !spoken) text += piece;
    },
    close: (name) => {
      if (name === 'si') {
        texts.push(unescaped(text ?? ''));
        text = null;
      } else if (name === 't') inText = false;
      else if (name === 'rPh') spoken--;
    },
  });
  return texts;
}

/** Place of a cell such as "AB12", both counted from 1; 0 where it does not say. */
function placeOf(address: string | undefined): { column: number; row: number } {
  const [, letters = '', digits = '0'] = /^([A-Z]{1,3})(\d+)$/.exec(address ?? '') ?? [];
  let column = 0;
  for (let i = 0; i < letters.length; i++) column = column * 26 + letters.charCodeAt(i) - 64;
  return { column, row: Number(digits) };
}

/** Writes rows as delimited text, about as wide as the widest of the first thousand; of empty ones only those between others, as blank lines. */
class RowWriter {
  rows = 0;
  bytes = 0;
  private begin: string[][] | null = [];
  /** Cells in `begin`. */
  private begun = 0;
  private width = 0;
  private empty = 0;

  private failure: Error | null = null;

  constructor(
    private readonly out: WriteStream,
    private readonly limitBytes: number,
  ) {
    out.on('error', (error) => (this.failure = error));
  }

  add(cells: string[]): void {
    const filled = cells.findLastIndex((text) => text.trim() !== '') + 1;
    if (filled === 0) {
      if (this.rows > 0) this.empty++;
      return;
    }
    for (; this.empty > 0; this.empty--) this.put([]);
    this.put(cells.slice(0, filled));
  }

  private put(cells: string[]): void {
    this.rows++;
    if (!this.begin) return this.write(cells);
    this.begin.push(cells);
    this.begun += cells.length;
    this.width = Math.max(this.width, cells.length);
    if (this.begin.length >= LOOKED_AT || this.begun >= LOOKED_AT_CELLS) this.settle();
  }

  private settle(): void {
    const begin = this.begin ?? [];
    this.begin = null;
    for (const cells of begin) this.write(cells);
  }

  private write(cells: string[]): void {
    const missing = this.width - cells.length;
    const isPadded = cells.length > 0 && missing > 0 && missing <= MOST_PADDING;
    const line = writeRawLine(isPadded ? [...cells, ...Array<string>(missing).fill('')] : cells);
    this.bytes += line.length;
    if (this.bytes > this.limitBytes) throw new Error(SHEET_TOO_LARGE);
    this.out.write(line);
  }

  async rest(): Promise<void> {
    if (this.failure) throw this.failure;
    if (this.out.writableNeedDrain) await once(this.out, 'drain');
  }

  async end(): Promise<void> {
    this.settle();
    this.out.end();
    await once(this.out, 'finish');
  }
}

interface Reading {
  texts: Texts;
  styles: readonly NumberStyle[];
  from1904: boolean;
}

/** What a cell holds, by its type, style and text (ECMA-376 18.3.1.4). */
function cellOf(
  type: string,
  style: string | undefined,
  text: string,
  { texts, styles, from1904 }: Reading,
): SheetCell {
  switch (type) {
    case 's':
      return text === '' ? null : (texts.at(Number(text))?.trim() ?? null);
    case 'str':
    case 'inlineStr':
      return unescaped(text).trim();
    case 'b':
      return text === '' ? null : text === '1';
    case 'e':
      return null;
    case 'd':
      return text === '' ? null : new Date(text);
    default: {
      if (text.trim() === '') return null;
      const number = Number(text);
      const shownAs = styles[Number(style ?? -1)] ?? null;
      if (shownAs === null) return number;
      if (shownAs !== 'date') return showMasked(number, shownAs.mask);
      const days = number + (from1904 ? DAYS_FROM_1900_TO_1904 : 0) - DAYS_TO_1970;
      return new Date(Math.floor(days * DAY_MS));
    }
  }
}

async function readSheet(archive: Archive, path: string, reading: Reading, writer: RowWriter): Promise<void> {
  let rowNumber = 0;
  let cells: string[] = [];
  let at = 0;
  let type = 'n';
  let style: string | undefined;
  let text = '';
  let taking = false;
  let spoken = 0;
  await readPart(archive, path, {
    open: (name, attributes) => {
      switch (name) {
        case 'row': {
          const next = attributes.r ? Number(attributes.r) : rowNumber + 1;
          if (!(next > rowNumber && next <= MOST_ROWS)) throw new Error(`row ${attributes.r} is out of place`);
          for (rowNumber++; rowNumber < next; rowNumber++) writer.add([]);
          cells = [];
          at = 0;
          break;
        }
        case 'c': {
          at = placeOf(attributes.r).column || at + 1;
          if (at > MOST_COLUMNS) throw new Error(`cell ${attributes.r} is out of place`);
          type = attributes.t ?? 'n';
          style = attributes.s;
          text = '';
          break;
        }
        case 'rPh':
          spoken++;
          break;
        case 'v':
        case 't':
          taking = true;
      }
    },
    text: (piece) => {
      if (taking && !spoken) text += piece;
    },
    close: (name) => {
      switch (name) {
        case 'row':
          writer.add(cells);
          break;
        case 'c': {
          const shown = sheetCellText(cellOf(type, style, text, reading));
          if (shown === '') break;
          while (cells.length < at - 1) cells.push('');
          cells[at - 1] = shown;
          break;
        }
        case 'rPh':
          spoken--;
          break;
        case 'v':
        case 't':
          taking = false;
      }
    },
    rest: () => writer.rest(),
  });
}

/**
 * Writes each sheet of a spreadsheet that has more than a heading as delimited text, row by row as it is unpacked: of the whole
 * only its shared texts are in memory, as bytes, so that a sheet costs what it holds and not what it spans. Shows noughts in front
 * where the sheet does. Errors: what is wrong with the file.
 */
export async function readSheetRows(path: string, folder: string, limitBytes: number): Promise<SheetFile[]> {
  const archive = await openArchive(path);
  try {
    const book = await readBook(archive);
    const reading: Reading = {
      texts: await readTexts(archive, book.texts),
      styles: await readStyles(archive, book.styles),
      from1904: book.from1904,
    };
    const files: SheetFile[] = [];
    for (const sheet of book.sheets) {
      const file = { name: sheet.name, path: join(folder, `${files.length}.csv`), rows: 0 };
      const out = createWriteStream(file.path);
      const writer = new RowWriter(out, limitBytes);
      try {
        await readSheet(archive, sheet.path, reading, writer);
        await writer.end();
      } finally {
        out.destroy();
      }
      if (writer.rows < 2) continue;
      files.push({ ...file, rows: writer.rows });
    }
    return files;
  } finally {
    archive.zip.close();
  }
}
