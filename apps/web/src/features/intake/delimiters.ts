import { TEXT_KIND_NAMES, type DelimitedShape } from '@gray-loom/core/formats';

/** Delimiters that a file can be read by, with their names. */
export const DELIMITERS: readonly (readonly [mark: string, name: string])[] = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
  ['^', 'caret'],
  ['~', 'tilde'],
  ['\u001f', 'unit separator'],
];

/** Whether the rows of a file say where its heading is; a table that was made of records has none of its own. */
export const hasOwnHeading = ({ madeOf }: Pick<DelimitedShape, 'madeOf'>): boolean =>
  madeOf === undefined || madeOf === 'spreadsheet' || madeOf === 'page';

/** How a file reads, in a few words: what it is, or how its text is written. */
export function writtenAs(shape: DelimitedShape): string[] {
  const heading = shape.headerRow === null ? 'no heading' : `heading in row ${shape.headerRow}`;
  const { madeOf } = shape;
  if (madeOf === undefined) return [heading, delimiterName(shape.delimiter), shape.encoding.name];
  const name = madeOf === 'message' ? 'messages' : madeOf === 'spreadsheet' ? 'spreadsheet' : TEXT_KIND_NAMES[madeOf];
  const said = `${name[0]?.toLowerCase() ?? ''}${name.slice(1)}`;
  return hasOwnHeading(shape) ? [heading, said] : [said];
}

export function delimiterName(delimiter: string): string {
  return DELIMITERS.find(([mark]) => mark === delimiter)?.[1] ?? delimiter;
}
