export type SheetCell = string | number | boolean | Date | null;

const two = (n: number) => String(n).padStart(2, '0');

/**
 * The cell of a spreadsheet as text that reads back as what it shows: a day as ISO 8601, with its time where it has one
 * (days of spreadsheets know no time zone, so they are read as UTC); a number without thousands or exponent.
 */
export function sheetCellText(cell: SheetCell): string {
  if (cell === null) return '';
  if (typeof cell === 'string') return cell;
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  if (typeof cell === 'number') {
    if (!Number.isFinite(cell)) return '';
    return Number.isInteger(cell) && Math.abs(cell) >= 1e21 ? BigInt(cell).toString() : String(cell);
  }
  if (Number.isNaN(cell.getTime())) return '';
  const day = `${String(cell.getUTCFullYear()).padStart(4, '0')}-${two(cell.getUTCMonth() + 1)}-${two(cell.getUTCDate())}`;
  const time = `${two(cell.getUTCHours())}:${two(cell.getUTCMinutes())}`;
  return time === '00:00' ? day : `${day} ${time}`;
}

/** The rows of a sheet from the first to the last that has anything, and no further to the right than anything stands. */
export function trimSheet(rows: readonly (readonly SheetCell[])[]): string[][] {
  const texts = rows.map((row) => row.map(sheetCellText));
  const filled = (row: readonly string[]) => row.some((text) => text.trim() !== '');
  const first = texts.findIndex(filled);
  if (first < 0) return [];
  const last = texts.findLastIndex(filled);
  const width = Math.max(...texts.map((row) => row.findLastIndex((text) => text.trim() !== '') + 1));
  return texts.slice(first, last + 1).map((row) => Array.from({ length: width }, (_, i) => row[i] ?? ''));
}
