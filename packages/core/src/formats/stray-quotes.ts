/** A record with whether a quotation mark of it was opened and never closed. */
export interface MendedRecord {
  cells: string[];
  isStray: boolean;
  /** Where it ends in the text. */
  end: number;
}

export interface MendOptions {
  delimiter: string;
  quote: string;
  /** How many cells a record has, where that is known. */
  columnCount?: number | undefined;
}

interface ReadRecord {
  cells: string[];
  end: number;
}

/**
 * Reads delimited text in which a quotation mark may be opened and never closed, as a lenient reader does that still finds the line:
 * a cell that goes on over the end of its line and then meets a quotation mark within other text was never meant to. Its line is
 * read by itself, without the mark, and what follows as it stands. Where that gives a line of the wrong length, and the long cell
 * one of the right length, the cell stays as it is.
 */
export class QuoteMender {
  constructor(
    private readonly input: string,
    private readonly options: MendOptions,
    private readonly isLast: boolean,
  ) {}

  /** All records that end within the text, and where the first begins that does not. */
  read(): { records: MendedRecord[]; cursor: number } {
    const records: MendedRecord[] = [];
    let cursor = 0;
    while (cursor < this.input.length) {
      const found = this.record(cursor);
      if (!found) break;
      records.push(found);
      cursor = found.end;
    }
    return { records, cursor };
  }

  private record(from: number): (ReadRecord & { isStray: boolean }) | null {
    const strict = this.parse(from, false);
    if (strict === 'open') return null;
    if (strict !== 'stray') return { ...strict, isStray: false };
    const line = this.line(from);
    if (!line) return null;
    const { columnCount } = this.options;
    const lenient = columnCount !== undefined && line.cells.length !== columnCount ? this.parse(from, true) : 'stray';
    if (typeof lenient === 'object' && lenient.cells.length === columnCount) return { ...lenient, isStray: false };
    return { ...line, isStray: true };
  }

  /** Reads a record; `open` where it does not end in the text, `stray` where a mark of it is never closed. */
  private parse(from: number, isLenient: boolean): ReadRecord | 'open' | 'stray' {
    const { input } = this;
    const { delimiter, quote } = this.options;
    const cells: string[] = [];
    for (let at = from; ;) {
      let next: number;
      if (input[at] === quote) {
        const close = this.closeOf(at, isLenient);
        if (typeof close === 'string') return close;
        cells.push(input.slice(at + 1, close).replaceAll(quote + quote, quote));
        next = close + 1;
        while (input[next] === ' ') next++;
      } else {
        next = this.endOfPlain(at);
        cells.push(input.slice(at, next));
      }
      if (next >= input.length) return this.isLast ? { cells, end: next } : 'open';
      if (input.startsWith(delimiter, next)) at = next + delimiter.length;
      else return { cells, end: this.afterLineEnd(next) };
    }
  }

  /** Where the cell that begins with a mark at `at` is closed. */
  private closeOf(at: number, isLenient: boolean): number | 'open' | 'stray' {
    const { input } = this;
    const { delimiter, quote } = this.options;
    for (let from = at + 1; ;) {
      const mark = input.indexOf(quote, from);
      if (mark < 0) return this.isLast ? 'stray' : 'open';
      if (input[mark + 1] === quote) {
        from = mark + 2;
        continue;
      }
      let next = mark + 1;
      while (input[next] === ' ') next++;
      const isEnd = next >= input.length || input.startsWith(delimiter, next) || isLineEnd(input[next]);
      if (isEnd) return mark;
      if (!isLenient && /[\r\n]/.test(input.slice(at, mark))) return 'stray';
      from = mark + 1;
    }
  }

  private endOfPlain(at: number): number {
    const { input } = this;
    let end = at;
    while (end < input.length && !input.startsWith(this.options.delimiter, end) && !isLineEnd(input[end])) end++;
    return end;
  }

  private afterLineEnd(at: number): number {
    return this.input[at] === '\r' && this.input[at + 1] === '\n' ? at + 2 : at + 1;
  }

  /** One line read by itself; a mark that is not closed within it is left out. */
  private line(from: number): ReadRecord | null {
    const { delimiter, quote } = this.options;
    let end = from;
    while (end < this.input.length && !isLineEnd(this.input[end])) end++;
    if (end >= this.input.length && !this.isLast) return null;
    const cells: string[] = [];
    for (let rest: string | null = this.input.slice(from, end); rest !== null;) {
      const alone = new QuoteMender(rest, this.options, true);
      const close: number | 'open' | 'stray' = rest.startsWith(quote) ? alone.closeOf(0, false) : 'stray';
      const isQuoted = typeof close === 'number';
      const to = isQuoted ? close + 1 : rest.indexOf(delimiter);
      const text = to < 0 ? rest : rest.slice(0, to);
      cells.push(isQuoted ? text.slice(1, -1).replaceAll(quote + quote, quote) : text.replace(quote, ''));
      const behind: string = to < 0 ? '' : rest.slice(to).trimStart();
      rest = behind.startsWith(delimiter) ? behind.slice(delimiter.length) : null;
    }
    return { cells, end: end < this.input.length ? this.afterLineEnd(end) : end };
  }
}

const isLineEnd = (c: string | undefined): boolean => c === '\n' || c === '\r';
