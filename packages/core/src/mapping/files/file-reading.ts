import {
  looksLikeCards,
  openDecoder,
  sniffDelimited,
  sniffEncoding,
  TableReader,
  type DelimitedSniff,
  type TextEncoding,
  type StrayQuote,
} from '../../formats';
import { err, ok, type Issue, type Result } from '../../model';
import { guessColumns, type ColumnGuess } from '../columns/guess-columns';

/** Bytes of the beginning by which it is decided how a file reads. */
export const SNIFFED_BYTES = 1024 * 1024;

export type FileRead =
  { kind: 'cards'; encoding: TextEncoding } | { kind: 'table'; sniff: DelimitedSniff; rowCount: number };

/**
 * Reads a file piece by piece: decides by its beginning how it reads, and counts its rows as they pass. Server and browser
 * read by it, so that what is shown before a file is sent is what becomes of it. Memory is bounded by the beginning.
 */
export class FileReading {
  private readonly head: Uint8Array[] = [];
  private headBytes = 0;
  private begun = false;
  /** Encoding of a file of cards. */
  private cards: TextEncoding | null = null;
  private issue: Issue | null = null;
  private sniffed: DelimitedSniff | null = null;
  private reader: TableReader | null = null;
  private records = 0;

  /** Takes the next piece; gives what is wrong as soon as it is clear that this is no file to be read. */
  push(piece: Uint8Array): Issue | null {
    if (this.issue || this.cards) return this.issue;
    if (this.begun) this.count(piece);
    else {
      this.head.push(piece);
      this.headBytes += piece.length;
      if (this.headBytes >= SNIFFED_BYTES) this.begin(false);
    }
    return this.issue;
  }

  /** How the file reads, once its beginning has passed; null before, for cards, and where it does not read. */
  get sniff(): DelimitedSniff | null {
    return this.sniffed;
  }

  /** What was found out, once all pieces have passed. */
  end(): Result<FileRead, Issue> {
    if (!this.begun) this.begin(true);
    if (this.issue) return err(this.issue);
    if (this.cards) return ok({ kind: 'cards', encoding: this.cards });
    if (!this.sniffed) return err({ code: 'emptyFile', path: {} });
    this.count();
    const heading = this.sniffed.shape.headerRow ?? 0;
    const rowCount = this.records - heading;
    this.sniffed.issues.push(...strayIssues(this.reader?.strays ?? [], heading));
    if (!this.issue && rowCount <= 0) this.issue = { code: 'noDataRows', path: {} };
    return this.issue ? err(this.issue) : ok({ kind: 'table', sniff: this.sniffed, rowCount });
  }

  private begin(isWhole: boolean): void {
    this.begun = true;
    const bytes = concat(this.head, this.headBytes);
    this.head.length = 0;
    this.cards = encodingOfCards(bytes);
    if (this.cards) return;
    const sniffed = sniffDelimited(bytes.subarray(0, SNIFFED_BYTES), isWhole && bytes.length <= SNIFFED_BYTES);
    if (!sniffed.ok) {
      this.issue = sniffed.error;
      return;
    }
    this.sniffed = sniffed.value;
    this.reader = new TableReader(sniffed.value.shape);
    this.count(bytes);
  }

  private count(piece?: Uint8Array): void {
    if (!this.reader) return;
    this.records += this.reader.push(piece).length;
  }
}

/** Lines that are named one by one. */
const NAMED = 20;

/** What is said of lines whose quotation mark is opened and never closed. */
export const strayIssues = (strays: readonly StrayQuote[], heading: number): Issue[] =>
  strays
    .slice(0, NAMED)
    .map(({ line, number }) => ({ code: 'unclosedQuote', line, path: { row: Math.max(0, number - heading) } }));

/** Bytes in which a file of cards says that it is one. */
const CARD_BYTES = 400;

/** Whether bytes may begin a file of cards, in whatever encoding. */
function mayBeCards(beginning: Uint8Array): boolean {
  // The line that begins a card is ASCII; a wider encoding has nothing between.
  const letters = [...beginning.subarray(0, CARD_BYTES)].filter((byte) => byte > 0 && byte < 128);
  return looksLikeCards(String.fromCharCode(...letters));
}

/** The encoding of a file of cards by its beginning; null for anything else. */
export function encodingOfCards(beginning: Uint8Array): TextEncoding | null {
  if (!mayBeCards(beginning)) return null;
  const encoding = sniffEncoding(beginning);
  if (!encoding.ok) return null;
  return looksLikeCards(openDecoder(encoding.value.decoder).decode(beginning.subarray(0, CARD_BYTES)))
    ? encoding.value
    : null;
}

function concat(pieces: readonly Uint8Array[], length: number): Uint8Array {
  if (pieces.length === 1 && pieces[0]) return pieces[0];
  const whole = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}

/** The meanings that are guessed for a file as it was sniffed. */
export function guessesOf({ shape, sample }: DelimitedSniff): ColumnGuess[] {
  return guessColumns(shape.headers, sample);
}
