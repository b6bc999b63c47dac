import { wordIssue, type Issue } from '@gray-loom/core/model';
import type { MadeOf } from './packed-file';
import { rowsOf, sniffFile } from './read-table';
import { Refusal } from './refusal';

const SEVERE_LIMIT = 50;
/** What is said of a column, where it is known. */
const SHOWN = [
  ...(['index', 'header', 'field', 'label', 'type', 'certainty01', 'samples'] as const),
  ...(['dateOrder', 'nameOrder', 'letterTitles', 'wholeAddress', 'decimal', 'separator', 'choices'] as const),
];

/** What a file is and what its columns seem to mean. */
export function inspect(path: string, madeOf: MadeOf = null): Record<string, unknown> {
  const table = sniffFile(path);
  if (!table.ok) throw new Refusal(`${path}: ${wordIssue(table.error)}`);
  const { shape, guesses, issues } = table.value;
  let rowCount = 0;
  const found: Issue[] = [...issues];
  for (const { row, cells } of rowsOf(path, shape)) {
    rowCount = row;
    if (found.length >= SEVERE_LIMIT) continue;
    const extra = cells.slice(shape.columnCount).some((cell) => cell.trim() !== '');
    if (extra) found.push({ code: 'tooManyCells', found: cells.length, expected: shape.columnCount, path: { row } });
    else if (cells.length < shape.columnCount)
      found.push({ code: 'tooFewCells', found: cells.length, expected: shape.columnCount, path: { row } });
  }
  return {
    format: madeOf ?? (shape.cards ? 'vcard' : 'delimited'),
    encoding: shape.encoding.name,
    delimiter: shape.cards || madeOf ? null : shape.delimiter,
    headerRow: madeOf === 'message' ? null : shape.headerRow,
    rowCount,
    columns: guesses.map((guess) =>
      Object.fromEntries(SHOWN.flatMap((key) => (guess[key] === undefined ? [] : [[key, guess[key]]]))),
    ),
    issues: found.map((issue) => ({
      code: issue.code,
      row: issue.path.row ?? null,
      column: issue.path.column ?? null,
      message: wordIssue(issue),
    })),
  };
}

export function printInspection(found: Record<string, unknown>): string {
  const columns = found.columns as {
    index: number;
    header: string | null;
    field: string | null;
    label: string | null;
    type: string;
    certainty01: number;
    samples: string[];
  }[];
  const cards = found.format === 'vcard';
  const message = found.format === 'message';
  const delimiter = found.delimiter === '\t' ? 'tab' : String(found.delimiter);
  const reads = found.format === 'spreadsheet' ? 'spreadsheet' : `${String(found.encoding)}, delimiter ${delimiter}`;
  const lines = [
    cards || message
      ? `${String(found.rowCount)} ${cards ? 'cards' : 'messages'}`
      : `${reads}, heading ${found.headerRow === null ? 'none' : `in row ${String(found.headerRow)}`}, ${String(found.rowCount)} rows`,
  ];
  for (const column of columns) {
    const meaning = column.field
      ? `${column.field}${column.label ? ` (${column.label})` : ''} ${Math.round(column.certainty01 * 100)}%`
      : `no known meaning, ${column.type}`;
    lines.push(
      `  ${String(column.index + 1).padStart(3)}  ${column.header || '(no heading)'}  ->  ${meaning}  e.g.
         ${column.samples.slice(0, 2).join(' | ').replace(/\s+/g, ' ').slice(0, 60)}`,
    );
  }
  for (const issue of found.issues as { message: string }[]) lines.push(`  ! ${issue.message}`);
  return lines.join('\n');
}
