import { closeSync, openSync, readFileSync, readSync, statSync } from 'node:fs';
import { DelimitedReader, sniffDelimited, type DelimitedShape } from '@gray-loom/core/formats';
import { guessColumns, type ColumnGuess } from '@gray-loom/core/mapping';
import { err, ok, type Issue, type Result } from '@gray-loom/core/model';

const PIECE = 1024 * 1024;

export interface Table {
  shape: DelimitedShape;
  guesses: ColumnGuess[];
  issues: Issue[];
}

/** Decides how a file reads from its first megabyte. */
export function sniffFile(path: string): Result<Table, Issue> {
  const bytes = statSync(path).size;
  const fd = openSync(path, 'r');
  const first = Buffer.alloc(Math.min(bytes, PIECE));
  readSync(fd, first, 0, first.length, 0);
  closeSync(fd);
  const sniffed = sniffDelimited(new Uint8Array(first), bytes <= PIECE);
  if (!sniffed.ok) return err(sniffed.error);
  const { shape, sample, issues } = sniffed.value;
  return ok({ shape, issues, guesses: guessColumns(shape.headers, sample) });
}

/** All data rows of a file, piece by piece; row numbers count from 1. */
export function* rowsOf(path: string, shape: DelimitedShape): Generator<{ row: number; cells: string[] }> {
  const decoder = new TextDecoder(shape.encoding.decoder);
  const reader = new DelimitedReader({ delimiter: shape.delimiter, quote: shape.quote });
  const skip = shape.headerRow ?? 0;
  const bytes = readFileSync(path);
  for (let at = 0; ; at += PIECE) {
    const last = at >= bytes.length;
    const text = last ? decoder.decode() : decoder.decode(bytes.subarray(at, at + PIECE), { stream: true });
    for (const record of reader.push(text, last))
      if (record.number > skip) yield { row: record.number - skip, cells: record.cells };
    if (last) return;
  }
}
