import { closeSync, openSync, readFileSync, readSync, statSync } from 'node:fs';
import {
  CardSplitter,
  CardTable,
  TableReader,
  openDecoder,
  readCard,
  sniffDelimited,
  type DelimitedShape,
} from '@gray-loom/core/formats';
import { encodingOfCards, guessCards, guessColumns, type ColumnGuess } from '@gray-loom/core/mapping';
import { err, ok, type Issue, type Result } from '@gray-loom/core/model';

const PIECE = 1024 * 1024;
const SAMPLE = 200;

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
  if (encodingOfCards(first)) return sniffCards(path);
  const sniffed = sniffDelimited(new Uint8Array(first), bytes <= PIECE);
  if (!sniffed.ok) return err(sniffed.error);
  const { shape, sample, issues } = sniffed.value;
  return ok({ shape, issues, guesses: guessColumns(shape.headers, sample) });
}

/** The table that a file of cards becomes. */
function cardTable(path: string): { table: CardTable; texts: string[] } {
  const bytes = readFileSync(path);
  const decoder = openDecoder(encodingOfCards(bytes.subarray(0, PIECE))?.decoder ?? 'utf-8');
  const texts = new CardSplitter().push(decoder.decode(bytes) + decoder.decode(), true).map(({ text }) => text);
  const table = new CardTable();
  for (const text of texts) {
    const card = readCard(text);
    table.learn(card.ok ? card.value : null);
  }
  return { table, texts };
}

function rowOf(table: CardTable, text: string): string[] {
  const card = readCard(text);
  return card.ok ? table.row(card.value, '') : table.row(null, '', text);
}

function sniffCards(path: string): Result<Table, Issue> {
  const { table, texts } = cardTable(path);
  const issues = texts.flatMap((text, i): Issue[] => {
    const card = readCard(text);
    return card.ok ? [] : [{ code: 'unreadableCard', why: card.error, row: i + 1, path: { row: i + 1 } }];
  });
  const sample = texts.slice(0, SAMPLE).map((text) => rowOf(table, text));
  return ok({
    issues,
    guesses: guessCards(table.columns, sample, []),
    shape: {
      encoding: { name: 'utf-8', decoder: 'utf-8', bomBytes: 0 },
      delimiter: ',',
      quote: '"',
      headerRow: null,
      headers: table.columns.map((column) => column.header),
      columnCount: table.columns.length,
      cards: true,
    },
  });
}

/** All data rows of a file, piece by piece; row numbers count from 1. */
export function* rowsOf(path: string, shape: DelimitedShape): Generator<{ row: number; cells: string[] }> {
  if (shape.cards) {
    const { table, texts } = cardTable(path);
    for (const [i, text] of texts.entries()) yield { row: i + 1, cells: rowOf(table, text) };
    return;
  }
  const reader = new TableReader(shape);
  const skip = shape.headerRow ?? 0;
  const bytes = readFileSync(path);
  for (let at = 0; ; at += PIECE) {
    const last = at >= bytes.length;
    for (const record of reader.push(last ? undefined : bytes.subarray(at, at + PIECE)))
      if (record.number > skip) yield { row: record.number - skip, cells: record.cells };
    if (last) return;
  }
}
