import ICAL from 'ical.js';

/** A line of a card as it stands in the text: with its folds and its end. */
export interface RawLine {
  raw: string;
  /** The same without folds and end. */
  text: string;
}

const isQuotedPrintable = (text: string) => /^[^:]*;(?:ENCODING=)?QUOTED-PRINTABLE[;:]/i.test(text);

/** Cuts a card into its lines. Put together again they are the card, byte for byte. */
export function rawLines(card: string): RawLine[] {
  const lines: RawLine[] = [];
  for (const [raw] of card.matchAll(/[^\n]*\n|[^\n]+$/g)) {
    const text = raw.replace(/\r?\n$/, '');
    const last = lines.at(-1);
    const isFolded = /^[ \t]/.test(text) && text.trim() !== '';
    const isSoft = last !== undefined && last.text.endsWith('=') && isQuotedPrintable(last.text);
    if (last && (isFolded || isSoft)) {
      last.raw += raw;
      last.text += isFolded ? text.slice(1) : `\n${text}`;
    } else lines.push({ raw, text });
  }
  return lines;
}

/** A line taken apart; every piece as it is written. */
export interface ContentLine {
  group: string;
  name: string;
  params: string[];
  value: string;
}

/** Cuts a text at a mark that does not stand in quotation marks. */
function cutOutsideQuotes(text: string, mark: string): string[] {
  const pieces: string[] = [];
  let from = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '"') quoted = !quoted;
    else if (text[i] === mark && !quoted) {
      pieces.push(text.slice(from, i));
      from = i + 1;
    }
  }
  return [...pieces, text.slice(from)];
}

/** Takes a line apart; null for one that is none of a property. */
export function contentLine(text: string): ContentLine | null {
  const [head = ''] = cutOutsideQuotes(text, ':');
  if (head.length >= text.length) return null;
  const [full = '', ...params] = cutOutsideQuotes(head, ';');
  const dot = full.indexOf('.');
  return {
    group: dot < 0 ? '' : full.slice(0, dot),
    name: full.slice(dot + 1),
    params,
    value: text.slice(head.length + 1),
  };
}

/** Writes a line, folded at 75 octets (RFC 6350, 3.2). */
export function lineText({ group, name, params, value }: ContentLine, end: string): string {
  const text = `${group ? `${group}.` : ''}${[name, ...params].join(';')}:${value}`;
  return `${ICAL.helpers.foldline(text).replaceAll('\r\n', end)}${end}`;
}

/** Cuts a written value at a mark that is not escaped. */
export function cutWritten(value: string, mark: ';' | ','): string[] {
  const pieces: string[] = [];
  let from = 0;
  for (let i = 0; i < value.length; i++) {
    if (value[i] === '\\') i++;
    else if (value[i] === mark) {
      pieces.push(value.slice(from, i));
      from = i + 1;
    }
  }
  return [...pieces, value.slice(from)];
}

/** A text as it is written in a value (RFC 6350, 3.4). */
export const written = (text: string): string =>
  text.replace(/[\\,;]/g, (mark) => `\\${mark}`).replace(/\r?\n/g, '\\n');

/** A written piece as the text that it stands for. */
export const plainText = (piece: string): string =>
  piece.replace(/\\(.)/g, (_both, mark: string) => (mark === 'n' || mark === 'N' ? '\n' : mark));

/** A text in the place of one that is a list: a list again, so that what reads it finds several. */
export const writtenLike = (text: string, before: string): string =>
  cutWritten(before, ',').length > 1 ? text.split(/,\s*/).map(written).join(',') : written(text);

/** The name of a parameter, in capitals; a type without a name, as version 2.1 writes it, is "TYPE". */
export function paramName(param: string): string {
  const equals = param.indexOf('=');
  return equals < 0 ? 'TYPE' : param.slice(0, equals).toUpperCase();
}

/** Parameters without some, by name. */
export const withoutParams = (params: readonly string[], ...names: string[]): string[] =>
  params.filter((param) => !names.includes(paramName(param)));
