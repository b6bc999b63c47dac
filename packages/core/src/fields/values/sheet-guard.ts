import { isFormulaLike } from './scalar';

/** A number behind the apostrophe by which a spreadsheet marks it as text. */
const MARKED_NUMBER = /^[+(\d][\d\s().+/-]*$/;

/** A formula that only says that its text is text is how a spreadsheet is kept from taking noughts off. */
const AS_TEXT = /^\s*=\s*"((?:[^"]|"")*)"\s*$/;

/** Whether text without the apostrophes before it is something that one of them could be there for. */
function isWorthMarking(text: string): boolean {
  const bare = text.replace(/^'+/, '');
  return isFormulaLike(bare) || MARKED_NUMBER.test(bare);
}

/**
 * Text for a cell of a table so that no spreadsheet runs it as a formula: an apostrophe stands before it (OWASP: CSV
 * injection). Text that has such an apostrophe of its own gets one more, so that `unguardText` gives every text back.
 */
export function guardText(text: string): string {
  return isFormulaLike(text) || (text.startsWith("'") && isWorthMarking(text)) ? `'${text}` : text;
}

/** The cell of a table as the text that it is, without what a spreadsheet or `guardText` put around it. */
export function unguardText(cell: string): string {
  const said = AS_TEXT.exec(cell)?.[1];
  if (said !== undefined) return said.replaceAll('""', '"');
  return cell.startsWith("'") && isWorthMarking(cell) ? cell.slice(1) : cell;
}

/** A cell as it stands, so that no spreadsheet runs it and that it is the same text still. */
export function guardCell(cell: string): string {
  if (!isFormulaLike(cell)) return cell;
  return AS_TEXT.test(cell) ? guardText(unguardText(cell)) : `'${cell}`;
}
