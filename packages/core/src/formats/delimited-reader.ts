import Papa from 'papaparse';
import { QuoteMender } from './stray-quotes';

export interface DelimitedOptions {
  delimiter: string;
  quote: string;
  /** What stands before a quotation mark that is part of a cell, and before itself, where that is not said by doubling. */
  escape?: '\\' | undefined;
  /** Set where some lines end with CR LF and others with LF; both are read as LF, within cells as well. */
  mixedLines?: true | undefined;
  /** How many cells a record has, where that is known. */
  columnCount?: number | undefined;
}

/** A line whose quotation mark is opened and never closed: where it stands in the text, and which record it is. */
export interface StrayQuote {
  line: number;
  number: number;
}

/** One record of a delimited text. `number` counts records that are not blank, from 1. */
export interface DelimitedRecord {
  number: number;
  cells: string[];
}

const LONGEST_RECORD = 4_000_000;

function isBlank(cells: readonly string[]): boolean {
  return cells.every((cell) => cell.trim() === '');
}

interface LowParser {
  parse(
    input: string,
    base: number,
    ignoreLastRow: boolean,
  ): { data: string[][]; errors: { code: string }[]; meta: { cursor: number } };
}

/**
 * Reads delimited text piece by piece (RFC 4180, with the habits of real files: any delimiter, any line end, blank
 * lines). Feed it with `push`, the last piece with `last` set; records come out in order. A record that is blank in
 * every cell is no record. Memory is bounded by one piece plus the longest record.
 */
export class DelimitedReader {
  private rest = '';
  private count = 0;
  private lineEnd: string | null = null;
  /** Lines whose quotation mark is opened and never closed; they are read without it. */
  readonly strays: StrayQuote[] = [];
  /** Set when a quotation mark was opened and never closed, where such lines are not mended. */
  unclosedQuote = false;
  private lines = 1;
  /** Quoted cells behind whose end something else stands. */
  malformedQuotes = 0;

  /** A backslash at the end of a piece, until it is known what it stands before. */
  private backslash = '';

  constructor(
    private readonly options: DelimitedOptions,
    private readonly mends = true,
  ) {}

  push(text: string, last: boolean): DelimitedRecord[] {
    let input = this.rest + (this.options.escape ? this.doubled(text, last) : text);
    if (this.options.mixedLines) input = input.replaceAll('\r\n', '\n');
    if (input === '') return [];
    // The line end is that of the first record that ends outside quotation marks; until one did, all is kept.
    this.lineEnd ??= firstLineEnd(input, this.options.quote);
    if (this.lineEnd === null && !last) {
      this.rest = input;
      return [];
    }
    // A line end cut between its two characters would count as two.
    let held = '';
    if (!last && input.endsWith('\r')) {
      input = input.slice(0, -1);
      held = '\r';
    }
    const parser = new (Papa.Parser as unknown as new (config: object) => LowParser)({
      delimiter: this.options.delimiter,
      quoteChar: this.options.quote,
      newline: this.lineEnd ?? '\n',
    });
    const result = parser.parse(input, 0, !last);
    const tooLong = input.length - result.meta.cursor > LONGEST_RECORD;
    const isUnclosed = result.errors.some(({ code }) => code === 'MissingQuotes') && (last || tooLong);
    const malformed = result.errors.filter(({ code }) => code === 'InvalidQuotes').length;
    if (this.mends && (isUnclosed || malformed > 0)) return this.mended(input, held, last || tooLong, last);
    this.countLines(input, result.meta.cursor);
    this.rest = last ? '' : input.slice(result.meta.cursor) + held;
    this.unclosedQuote ||= isUnclosed;
    this.malformedQuotes += malformed;
    const records: DelimitedRecord[] = [];
    for (const cells of result.data) {
      if (isBlank(cells)) continue;
      records.push({ number: ++this.count, cells });
    }
    return records;
  }

  /** The records of a text in which a quotation mark is not closed, or stands where none should. */
  private mended(input: string, held: string, isWhole: boolean, last: boolean): DelimitedRecord[] {
    const { records, cursor } = new QuoteMender(input, this.options, isWhole).read();
    this.rest = last ? '' : input.slice(cursor) + held;
    const found: DelimitedRecord[] = [];
    let at = 0;
    for (const { cells, isStray, end } of records) {
      if (!isBlank(cells)) {
        found.push({ number: ++this.count, cells });
        if (isStray) this.strays.push({ line: this.lines, number: this.count });
      }
      this.countLines(input.slice(at, end), end - at);
      at = end;
    }
    return found;
  }

  private countLines(text: string, end: number): void {
    const mark = this.lineEnd === '\r' ? '\r' : '\n';
    for (let at = text.indexOf(mark); at >= 0 && at < end; at = text.indexOf(mark, at + 1)) this.lines++;
  }

  /** Text with its quotation marks doubled instead of escaped. */
  private doubled(text: string, last: boolean): string {
    let input = this.backslash + text;
    this.backslash = '';
    const trailing = /\\*$/.exec(input)?.[0].length ?? 0;
    if (!last && trailing % 2 === 1) {
      this.backslash = '\\';
      input = input.slice(0, -1);
    }
    const { quote } = this.options;
    return input.replace(/\\([\\"'])/g, (pair, c: string) => (c === '\\' ? c : c === quote ? c + c : pair));
  }
}

/** Whether records end in both ways, CR LF and LF. */
export function hasMixedLines(text: string, quote: string): boolean {
  // Where all lines end alike, as in most files, nothing need be known of what is quoted.
  if (!text.includes('\r\n') || !/(?<!\r)\n/.test(text)) return false;
  let quoted = false;
  const seen = { long: false, short: false };
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c === quote) quoted = !quoted;
    else if (c === '\n' && !quoted) seen[text[i - 1] === '\r' ? 'long' : 'short'] = true;
    if (seen.long && seen.short) return true;
  }
  return false;
}

function firstLineEnd(text: string, quote: string): string | null {
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c === quote) quoted = !quoted;
    else if (quoted) continue;
    else if (c === '\n') return '\n';
    else if (c === '\r' && i + 1 < text.length) return text[i + 1] === '\n' ? '\r\n' : '\r';
  }
  return null;
}
