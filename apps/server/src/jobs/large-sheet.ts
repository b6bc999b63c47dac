import { once } from 'node:events';
import { createWriteStream, type WriteStream } from 'node:fs';
import { join } from 'node:path';
import { StringDecoder } from 'node:string_decoder';
import sax from 'sax';
import { sheetCellText, writeDelimitedLine, type SheetCell } from '@gray-loom/core/formats';
import { openArchive, openEntry, type Archive } from '../use-cases/archive';

/** A sheet as delimited text. */
export interface SheetFile {
  name: string;
  path: string;
  rows: number;
}

/** What the error says when rows as text are more than may come in. */
export const SHEET_TOO_LARGE = 'sheetTooLarge';
/** Rows looked at before the width of a sheet is settled. */
const LOOKED_AT = 1000;
/** What a sheet has at most (ECMA-376); a file that names others is damaged. */
const MOST_ROWS = 1_048_576;
const MOST_COLUMNS = 16_384;
const DAY_MS = 86_400_000;
/** Days from the first of the spreadsheets' calendars to 1970. */
const DAYS_TO_1970 = 25_569;
const DAYS_FROM_1900_TO_1904 = 1462;

type Attributes = Record<string, string>;
type Handlers = Partial<Record<'open' | 'close', (name: string, attributes: Attributes) => void>> & {
  text?: (text: string) => void;
  /** Asked between pieces: waits where what was made has to drain. */
  rest?: () => Promise<void>;
};

/** Names without the prefix of their namespace, which writers choose as they like. */
const local = (name: string) => name.slice(name.indexOf(':') + 1);

/** Reads a part of a package as it is unpacked; nothing where the part is missing. */
async function readPart(archive: Archive, path: string, { open, close, text, rest }: Handlers): Promise<void> {
  const entry = archive.entries.find(({ fileName }) => fileName === path);
  if (!entry) return;
  const parser = sax.parser(true, { position: false });
  parser.onerror = (error) => {
    throw error;
  };
  parser.onopentag = ({ name, attributes }) => open?.(local(name), attributes as Attributes);
  parser.onclosetag = (name) => close?.(local(name), {});
  if (text) {
    parser.ontext = text;
    parser.oncdata = text;
  }
  const decoder = new StringDecoder('utf8');
  for await (const piece of (await openEntry(archive, entry)) as AsyncIterable<Buffer>) {
    parser.write(decoder.write(piece));
    await rest?.();
  }
  parser.write(decoder.end()).close();
}

/** Texts by number as bytes in chunks, since a sheet may have millions of them. */
class Texts {
  private readonly chunks: Buffer[] = [];
  private used = 0;
  private places = new Float64Array(1 << 12);
  private sizes = new Int32Array(1 << 12);
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

/** Number formats that every spreadsheet knows as dates or times (ECMA-376 18.8.30 with those of the East and of Thailand). */
const isBuiltInDate = (id: number) =>
  (id >= 14 && id <= 22) ||
  (id >= 27 && id <= 36) ||
  (id >= 45 && id <= 47) ||
  (id >= 50 && id <= 58) ||
  (id >= 71 && id <= 81);

/** Whether a number format shows a day or a time: letters of days and hours and none of a number's signs. */
function isDateFormat(format: string): boolean {
  return format
    .toLowerCase()
    .replace(/;@$/, '')
    .replace(/\\./g, ' ')
    .split(';')
    .some((part) => {
      const plain = part
        .replace(/"[^"]*"/g, ' ')
        .replace(/(\[?[smhd]{1,2}\]?)[.,]00?0?/g, '$1')
        .replace(/\[([smhd]{1,2})\]/g, '$1')
        .replace(/\[[^\]]*\]/g, '');
      const words = plain.split(/[^a-z0#?%]+/).filter(Boolean);
      return (
        words.length > 0 &&
        words.every((word) => /^(?:[smhd]{1,2}|[md]{3,5}|a{3,5}|[ap]m?|y{2,4}|e{1,4}|g{1,3}|b{2,4}|r{1,2})$/.test(word))
      );
    });
}

/** For each style of cells, whether it shows numbers as days or times. */
async function readStyles(archive: Archive, path: string): Promise<boolean[]> {
  const formats = new Map<number, string>();
  const dates: boolean[] = [];
  let inCells = false;
  await readPart(archive, path, {
    open: (name, { numFmtId, formatCode }) => {
      if (name === 'numFmt') formats.set(Number(numFmtId), formatCode ?? '');
      else if (name === 'cellXfs') inCells = true;
      else if (name === 'xf' && inCells) {
        const id = Number(numFmtId ?? 0);
        const own = id >= 100 ? formats.get(id) : undefined;
        dates.push(isBuiltInDate(id) || (own !== undefined && isDateFormat(own)));
      }
    },
    close: (name) => {
      if (name === 'cellXfs') inCells = false;
    },
  });
  return dates;
}

interface Book {
  sheets: { name: string; path: string }[];
  texts: string;
  styles: string;
  from1904: boolean;
}

async function readBook(archive: Archive): Promise<Book> {
  const targets = new Map<string, string>();
  const book: Book = { sheets: [], texts: 'xl/sharedStrings.xml', styles: 'xl/styles.xml', from1904: false };
  await readPart(archive, 'xl/_rels/workbook.xml.rels', {
    open: (name, { Id, Target = '', Type = '' }) => {
      if (name !== 'Relationship' || !Id) return;
      const path = Target.startsWith('/') ? Target.slice(1) : `xl/${Target}`;
      targets.set(Id, path);
      if (Type.endsWith('/sharedStrings')) book.texts = path;
      if (Type.endsWith('/styles')) book.styles = path;
    },
  });
  await readPart(archive, 'xl/workbook.xml', {
    open: (name, attributes) => {
      if (name === 'workbookPr') book.from1904 = /^(?:1|true)$/.test(attributes.date1904 ?? '');
      if (name !== 'sheet') return;
      const id = Object.entries(attributes).find(([key]) => local(key) === 'id' && key.includes(':'))?.[1];
      const path = targets.get(id ?? '');
      if (path) book.sheets.push({ name: attributes.name ?? '', path });
    },
  });
  return book;
}

/** Place of a cell such as "AB12", both counted from 1; 0 where it does not say. */
function placeOf(address: string | undefined): { column: number; row: number } {
  const [, letters = '', digits = '0'] = /^([A-Z]{1,3})(\d+)$/.exec(address ?? '') ?? [];
  let column = 0;
  for (let i = 0; i < letters.length; i++) column = column * 26 + letters.charCodeAt(i) - 64;
  return { column, row: Number(digits) };
}

/** Writes rows as delimited text; of empty ones only those between others, and all as wide as the first thousand are. */
class RowWriter {
  rows = 0;
  bytes = 0;
  private begin: string[][] | null = [];
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
    this.width = Math.max(this.width, cells.length);
    if (this.begin.length >= LOOKED_AT) this.settle();
  }

  private settle(): void {
    const begin = this.begin ?? [];
    this.begin = null;
    for (const cells of begin) this.write(cells);
  }

  private write(cells: string[]): void {
    const line = writeDelimitedLine(
      cells.length >= this.width ? cells : Array.from({ length: this.width }, (_, i) => cells[i] ?? ''),
    );
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
  dates: readonly boolean[];
  from1904: boolean;
}

/** What a cell holds, by its type, style and text (ECMA-376 18.3.1.4). */
function cellOf(type: string, style: string | undefined, text: string, { texts, dates, from1904 }: Reading): SheetCell {
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
      if (!dates[Number(style ?? -1)]) return number;
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
 * Writes each sheet of a large spreadsheet that has more than a heading as delimited text, row by row as it is unpacked:
 * of the whole only its shared texts are in memory, as bytes. Agrees with reading it whole. Errors: what is wrong with the file.
 */
export async function readLargeSheets(path: string, folder: string, limitBytes: number): Promise<SheetFile[]> {
  const archive = await openArchive(path);
  try {
    const book = await readBook(archive);
    const reading: Reading = {
      texts: await readTexts(archive, book.texts),
      dates: await readStyles(archive, book.styles),
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
