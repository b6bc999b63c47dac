import Papa from 'papaparse';
import { guardCell, guardText } from '../fields';

/**
 * One line of delimited text (RFC 4180, line end CR LF) of these texts. One that a spreadsheet would run as a formula is
 * made harmless; numbers and phone numbers stay as they are. Read cell by cell, it gives the texts back.
 */
export function writeDelimitedLine(texts: readonly string[], delimiter = ','): string {
  return lineOf(texts.map(guardText), delimiter);
}

/** The same of cells as another table had them, so that they mean there what they meant here. */
export function writeRawLine(cells: readonly string[], delimiter = ','): string {
  return lineOf(cells.map(guardCell), delimiter);
}

const lineOf = (cells: readonly string[], delimiter: string) =>
  `${Papa.unparse([cells as string[]], { delimiter, newline: '\r\n' })}\r\n`;
