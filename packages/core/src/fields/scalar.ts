import type { MoneyValue, RangeValue } from '../model';
import { tidyText } from './fold';

const YES = new Set(
  'y yes true t 1 x on ja j oui o si sí s sim vero verdadero verdadeiro wahr vrai waar sant ok ✓ ✔ ☑ ✅ tak prawda da ano áno kyllä igen evet да д так ναι はい 是 예 네 כן نعم'.split(
    ' ',
  ),
);
const NO = new Set(
  'n no false f 0 off nein non não nao nee falsch faux falso onwaar falskt nie fałsz nej nei - ✗ ✘ ☐ ❌ ne ei nem hayır нет н ні не όχι いいえ 否 아니오 아니요 לא لا'.split(
    ' ',
  ),
);

/** Yes or no in the spellings people use, or null for neither. */
export function parseYesNo(text: string): boolean | null {
  const plain = tidyText(text).toLowerCase().normalize('NFC').replace(/[.!]$/, '');
  if (YES.has(plain)) return true;
  if (NO.has(plain)) return false;
  return null;
}

export type DecimalMark = '.' | ',';

/** Decides the decimal mark of a column from all its values. */
export function guessDecimalMark(values: readonly string[]): DecimalMark {
  let comma = 0;
  let point = 0;
  for (const value of values) {
    const plain = value.replace(/[^\d.,]/g, '');
    const lastComma = plain.lastIndexOf(',');
    const lastPoint = plain.lastIndexOf('.');
    const both = lastComma >= 0 && lastPoint >= 0;
    if (both ? lastComma > lastPoint : lastComma >= 0 && !/,\d{3}(?:,|$)/.test(plain)) comma++;
    else if (both || lastComma >= 0 || (lastPoint >= 0 && !/\.\d{3}(?:\.|$)/.test(plain))) point++;
  }
  return comma > point ? ',' : '.';
}

/** A number as written with group marks, a currency sign or a percent sign, or null when it is none. */
export function parseNumber(text: string, decimal: DecimalMark): number | null {
  let plain = tidyText(text)
    .replace(/[\s\u00a0'’]/g, '')
    .replace(/^(?:\p{Sc}|[A-Z]{3}(?=[\d+.-])|kr\.?|zł|kč|ft|lei|руб\.?|грн\.?|р\.)+/iu, '')
    .replace(/(?:\p{Sc}|%|(?<=[\d.,-])[A-Z]{3}|kr\.?|zł|kč|ft|lei|руб\.?|грн\.?|р\.?)+$/iu, '')
    // No cents, as in "1 500,-", and what an accountant puts in brackets.
    .replace(/[.,]-{1,2}$/, '')
    .replace(/^\((.+)\)$/, '-$1');
  plain = decimal === ',' ? plain.replace(/\./g, '').replace(',', '.') : plain.replace(/,/g, '');
  if (!/^[+-]?(?:\d+\.?\d*|\.\d+)$/.test(plain)) return null;
  return Number(plain);
}

const CURRENCY_SIGNS: Record<string, string> = { '€': 'EUR', '£': 'GBP', $: 'USD', '¥': 'JPY' };

/** An amount with or without its currency ("1,250.50", "£1,250", "1250 EUR"); `currency` is that of the field. */
export function parseMoney(text: string, decimal: DecimalMark, currency: string): MoneyValue | null {
  const plain = tidyText(text);
  const amount = parseNumber(plain.replace(/^[A-Z]{3}\b|\b[A-Z]{3}$/g, ''), decimal);
  if (amount === null || !Number.isFinite(amount)) return null;
  const sign = /[€£$¥]/.exec(plain)?.[0];
  const code = /\b[A-Z]{3}\b/.exec(plain)?.[0];
  return { amount, currency: code ?? (sign ? (CURRENCY_SIGNS[sign] ?? currency) : currency) };
}

/** A range of numbers: "12-16", "12 to 16", "from 12", "up to 16", or one number for both ends. Null when it is none, or upside down. */
export function parseRange(text: string, decimal: DecimalMark): RangeValue | null {
  const plain = tidyText(text).toLowerCase();
  const open =
    /^(?:from|over|at least|min|>=?|≥)\s*(.+)$/.exec(plain) ?? /^(.+?)\s*(?:\+|and (?:more|up)|or more)$/.exec(plain);
  if (open?.[1]) return rangeOf(parseNumber(open[1], decimal), null, true);
  const upTo = /^(?:to|up to|under|at most|max|<=?|≤)\s*(.+)$/.exec(plain);
  if (upTo?.[1]) return rangeOf(null, parseNumber(upTo[1], decimal), true);
  const both = /^(.+?)\s*(?:\.\.+|–|—|\bto\b|\bbis\b|-(?=\s*[\d.,]))\s*(.+)$/.exec(plain);
  if (both?.[1] && both[2]) return rangeOf(parseNumber(both[1], decimal), parseNumber(both[2], decimal), false);
  const one = parseNumber(plain, decimal);
  return rangeOf(one, one, false);
}

function rangeOf(from: number | null, to: number | null, open: boolean): RangeValue | null {
  if (open ? from === null && to === null : from === null || to === null) return null;
  if (from !== null && to !== null && from > to) return null;
  return { from, to };
}

/** Text that a spreadsheet would run as a formula when it opens an export (OWASP: CSV injection). */
export function isFormulaLike(text: string): boolean {
  if (!/^[\s=@+-]/.test(text)) return false;
  return /^\s*[=@+\-\t\r]/.test(text) && !/^\s*[+-]?[\d\s().,/-]+$/.test(text);
}

const PLACEHOLDERS = new Set(
  'n/a|#n/a|n.a.|na|nan|none|(none)|null|(null)|nil|#null!|#ref!|#value!|#name?|#div/0!|#num!|(blank)|(empty)|unknown|unbekannt|inconnu|desconocido|sconosciuto|desconhecido|onbekend|okänd|ukendt|ukjent|nieznany|neznámý|неизвестно|brak|s/o|s.o.|s/d|n.v.t.|k.a.|k. a.|keine angabe|(leer)|-|--|---|–|—|?|??|???|.|..|...|x|xx|xxx|tbc|tbd|test|dummy|not known|not given|not provided'.split(
    '|',
  ),
);

const LONGEST_PLACEHOLDER = 13;

/** Words that stand for "nothing is known here". */
export function isPlaceholderText(text: string): boolean {
  if (text.length > LONGEST_PLACEHOLDER) return false;
  return PLACEHOLDERS.has(text.trim().toLowerCase());
}

/** Reads a web address; adds https:// where only the host was written. */
export function parseUrl(text: string): string | null {
  const plain = text.trim();
  if (/\s/.test(plain) || plain.includes('@')) return null;
  if (/^https?:\/\/[^/]+\.[^/]+/i.test(plain)) return plain;
  return /^(?:[\p{L}\p{N}-]+\.)+\p{L}{2,}(?:[/?#].*)?$/u.test(plain) ? `https://${plain}` : null;
}
