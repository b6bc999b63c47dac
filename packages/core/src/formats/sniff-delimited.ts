import { err, ok, type Issue, type Result } from '../model';
import type { MadeOf } from './records/text-kind';
import { DelimitedReader, hasMixedLines, type DelimitedOptions } from './delimited-reader';
import { headingOf } from './heading-rows';
import { sniffEncoding, type TextEncoding } from './sniff-bytes';
import { openDecoder } from './text-decoder';

/** How a delimited file is to be read; everything a later full reading needs. */
export interface DelimitedShape {
  encoding: TextEncoding;
  delimiter: string;
  quote: string;
  /** Set where quotation marks inside of cells stand behind a backslash. */
  escape?: '\\' | undefined;
  /** Set where lines end in two ways. */
  mixedLines?: true | undefined;
  /** Number of the record that holds the heading, from 1, or null when there is none. Records above it are titles. */
  headerRow: number | null;
  headers: (string | null)[];
  columnCount: number;
  /** Set where the table was made of cards. */
  cards?: true;
  /** Set where the table was made of something else that is no delimited text, so that its delimiter and encoding are ours. */
  madeOf?: MadeOf | undefined;
}

export interface DelimitedSniff {
  shape: DelimitedShape;
  /** Data records of the sample, in order. */
  sample: string[][];
  issues: Issue[];
}

const DELIMITERS = [',', ';', '\t', '|', '^', '~', '\u001f'];
const SAMPLE_ROWS = 1000;
/** Each delimiter is tried on this much of the text, the best one on all of it. */
const TRIED_CHARACTERS = 65_536;

/** How evenly a delimiter cuts: the share of records with the most common count, weighted by how many cells that gives. */
function evenness(records: string[][]): { score: number; width: number } {
  const counts = new Map<number, number>();
  for (const cells of records) counts.set(cells.length, (counts.get(cells.length) ?? 0) + 1);
  let width = 1;
  let best = 0;
  for (const [count, times] of counts) {
    if (count > 1 && times * Math.min(count, 4) > best) {
      best = times * Math.min(count, 4);
      width = count;
    }
  }
  if (width === 1) return { score: 0, width };
  const same = counts.get(width) ?? 0;
  return { score: (same / records.length) * (1 + Math.log2(width) / 8), width };
}

interface Reading {
  records: string[][];
  unclosed: boolean;
  malformed: number;
}

function readSample(text: string, options: DelimitedOptions, complete: boolean): Reading {
  const reader = new DelimitedReader(options, false);
  const records = reader.push(text, true).map((record) => record.cells);
  if (!complete && records.length > 1) records.pop();
  return {
    records: records.slice(0, SAMPLE_ROWS + 10),
    unclosed: reader.unclosedQuote && complete,
    malformed: reader.malformedQuotes,
  };
}

/** The records of a sample in which a quotation mark is not closed. */
function mendedSample(text: string, options: DelimitedOptions, width: number, complete: boolean): string[][] {
  const reader = new DelimitedReader({ ...options, columnCount: width });
  const records = reader.push(text, true).map(({ cells }) => cells);
  if (!complete && records.length > 1) records.pop();
  return records.slice(0, SAMPLE_ROWS + 10);
}

/** Share of the filled cells that stand between two apostrophes. */
function apostrophes01(records: readonly string[][]): number {
  let filled = 0;
  let between = 0;
  for (const cells of records)
    for (const cell of cells) {
      if (cell.trim() === '') continue;
      filled++;
      if (cell.length > 1 && cell.startsWith("'") && cell.endsWith("'")) between++;
    }
  return between / filled;
}

/** How cells are quoted: by quotation marks that are doubled inside, by such behind a backslash, or by apostrophes. */
function readQuoted(text: string, delimiter: string, complete: boolean): Reading & { options: DelimitedOptions } {
  const lines = hasMixedLines(text, '"') ? { mixedLines: true as const } : {};
  const tryOut = (how: DelimitedOptions) => {
    const options = { ...how, ...lines };
    return { options, ...readSample(text, options, complete) };
  };
  const wrong = ({ unclosed, malformed }: Reading) => malformed + (unclosed ? 1 : 0);
  const plain = tryOut({ delimiter, quote: '"' });
  if (apostrophes01(plain.records) > 0.5) {
    const doubled = tryOut({ delimiter, quote: "'" });
    const escaped = wrong(doubled) > 0 ? tryOut({ delimiter, quote: "'", escape: '\\' }) : doubled;
    return wrong(escaped) < wrong(doubled) ? escaped : doubled;
  }
  if (wrong(plain) === 0 || !text.includes('\\"')) return plain;
  const escaped = tryOut({ delimiter, quote: '"', escape: '\\' });
  return wrong(escaped) < wrong(plain) ? escaped : plain;
}

/**
 * Reads the first part of a file and decides encoding, delimiter and heading.
 * `complete` says that `bytes` is the whole file. Errors: an empty file, a file that is no text, no data below a heading.
 */
export function sniffDelimited(bytes: Uint8Array, complete: boolean): Result<DelimitedSniff, Issue> {
  const encoding = sniffEncoding(bytes);
  if (!encoding.ok) return encoding;
  const decoder = openDecoder(encoding.value.decoder);
  const begun = decoder.decode(bytes.subarray(encoding.value.bomBytes));
  const text = complete ? begun + decoder.decode() : begun;
  if (text.trim() === '') return err({ code: 'emptyFile', path: {} });
  const sniffed = sniffText(text, encoding.value, complete);
  // In UTF-16 every other byte of Latin text is zero.
  const hasNul = !encoding.value.decoder.startsWith('utf-16') && bytes.includes(0);
  if (sniffed.ok && hasNul) sniffed.value.issues.push({ code: 'nulBytes', path: {} });
  return sniffed;
}

function sniffText(text: string, encoding: TextEncoding, complete: boolean): Result<DelimitedSniff, Issue> {
  const named = /^sep=(.)\r?\n/i.exec(text);
  const tried = (named?.[1] ? [named[1]] : DELIMITERS).map((delimiter) => {
    const first = text.slice(0, TRIED_CHARACTERS);
    const { records } = readQuoted(first, delimiter, complete && first.length === text.length);
    return { delimiter, ...evenness(records) };
  });
  tried.sort((a, b) => b.score - a.score || DELIMITERS.indexOf(a.delimiter) - DELIMITERS.indexOf(b.delimiter));
  const winner = tried[0];
  const best = winner && { ...winner, ...readQuoted(text, winner.delimiter, complete) };
  if (!best || best.records.length === 0) return err({ code: 'emptyFile', path: {} });
  const issues: Issue[] = [];
  if (best.unclosed || best.malformed) best.records = mendedSample(text, best.options, best.width, complete);
  if (best.width === 1) issues.push({ code: 'onlyOneColumn', path: {} });
  const { row, headers } = headingOf(best.records, best.width);
  const sample = best.records.slice(row ?? 0).slice(0, SAMPLE_ROWS);
  // The first record of data may be longer than what is looked at.
  if (sample.length === 0 && complete) return err({ code: 'noDataRows', path: {} });
  return ok({
    shape: { encoding, ...best.options, headerRow: row, headers, columnCount: headers.length },
    sample,
    issues,
  });
}
