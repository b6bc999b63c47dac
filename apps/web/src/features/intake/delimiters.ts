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

export function delimiterName(delimiter: string): string {
  return DELIMITERS.find(([mark]) => mark === delimiter)?.[1] ?? delimiter;
}
