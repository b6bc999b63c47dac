import Papa from 'papaparse';
import { isFormulaLike } from '../fields';

/**
 * One line of delimited text (RFC 4180, line end CR LF). A cell that a spreadsheet would run as a formula is made
 * harmless with a leading apostrophe (OWASP: CSV injection); numbers and phone numbers stay as they are.
 */
export function writeDelimitedLine(cells: readonly string[], delimiter = ','): string {
  const safe = cells.map((cell) => (isFormulaLike(cell) ? `'${cell}` : cell));
  return `${Papa.unparse([safe], { delimiter, newline: '\r\n' })}\r\n`;
}
