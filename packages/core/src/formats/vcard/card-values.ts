import type { CardProperty } from './card-text';

/** The first value as one text. */
export const firstText = ({ values: [value] }: CardProperty): string =>
  Array.isArray(value) ? value.filter(Boolean).join(', ') : (value ?? '');

/** The parts of the first value. */
export const partsOf = ({ values: [value] }: CardProperty): string[] => (Array.isArray(value) ? value : [value ?? '']);

/** Parts of a name, by the place at which N has them (RFC 6350, 6.2.2). */
export const NAME_PARTS = ['family', 'given', 'additional', 'prefix', 'suffix'] as const;

/** A number as people write it, of one that is written as an address. */
export function phoneText(property: CardProperty): string {
  const text = firstText(property);
  if (!/^tel:/i.test(text)) return text;
  const [number = '', ...params] = text.slice(4).split(';');
  const extension = params.map((param) => /^ext=(\d+)/i.exec(param)?.[1]).find(Boolean);
  return `${number.replace(/-/g, ' ')}${extension ? ` ext. ${extension}` : ''}`;
}

const WHOLE_DATE = /^(\d{4})-?(\d{2})-?(\d{2})(?:T|$)/;
const YEARLESS = /^--(\d{2})-?(\d{2})(?:T|$)/;

/** "1971-07-14" of a date in basic or extended form, "--07-14" without a year, with or without a time; else as it stands. */
export function dateText(text: string): string {
  const whole = WHOLE_DATE.exec(text);
  if (whole) return `${whole[1]}-${whole[2]}-${whole[3]}`;
  const yearless = YEARLESS.exec(text);
  return yearless ? `--${yearless[1]}-${yearless[2]}` : text;
}

/** Places of an address (RFC 6350, 6.3.1). */
export const ADR = { box: 0, extended: 1, street: 2, locality: 3, region: 4, postalCode: 5, country: 6 } as const;

/** The lines above the town: extended address, street, box, as a letter has them. */
export const addressLines = (parts: readonly string[]): string =>
  [parts[ADR.extended], parts[ADR.street], parts[ADR.box]].filter(Boolean).join('\n');
