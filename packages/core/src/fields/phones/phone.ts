import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { tidyText } from '../values/fold';
import { groupedInternational, plainInternational, plainNational } from './phone-plans';

export interface PhoneNumber {
  /** E.164 with the extension apart, such as "+441632960301" or "+12075550142;ext=12"; null when it cannot be read. */
  norm: string | null;
  valid: boolean;
  extension: string | null;
}

const LOSSY = /^\+?\d(?:[.,]\d+)?\s?e\s?\+?\s?\d{1,2}$/i;
const EXTENSION = /(?:;ext=|\b(?:ext|extn|extension|x|durchwahl|poste)\.?\s*|#)(\d{1,7})\s*$/i;
const WORDS = /^\s*(?:tel|phone|mobile|mob|cell|home|work|office|fax|handy|mobil|t|m|p|h|w)\s*[.:]\s*/i;
const TRAILING_WORDS = /\s*\((?:mobile|home|work|office|cell|eve|day|m|h|w)\)\s*$/i;

/** Digits and what stands between them: no words, no extension. */
const BARE = /^\+?[\d ().\-/]+$/;

/** True for a number that a spreadsheet wrote as 1.6325E+10: its digits are gone. */
export function isLossyPhone(text: string): boolean {
  return LOSSY.test(text.trim());
}

/** Digits of the shortest number that stands for itself. */
const FEWEST_DIGITS = 6;

/**
 * The numbers of a text: parted by semicolons, bars, lines and small words; by commas and strokes where each piece is a
 * number, and not the area and the line of one ("030 / 123456").
 */
export function phonesIn(text: string): string[] {
  if (BARE.test(text) && !text.includes('/')) return [text];
  return text.split(/[;|\n]+|\s(?:and|or|und|oder|et|ou|y|o|e|en|of)\s/i).flatMap((part) => {
    const pieces = part.split(/[,/]/);
    const digits = pieces.map((piece) => piece.replace(/\D/g, '').length);
    const areNumbers =
      Math.max(...digits) >= FEWEST_DIGITS &&
      digits.every((n, i) => n >= FEWEST_DIGITS || (n === 0 && /\p{L}/u.test(pieces[i] ?? '')));
    const [first = '', second = ''] = pieces.map((piece) => piece.trim());
    // The area alone, or behind its country ("0039 348/2040430").
    const isOne =
      pieces.length === 2 &&
      /^0\d{1,5}$|^(?:\+|00)[1-9]\d{0,2}[ .-]?\(?\d{1,4}\)?$/.test(first) &&
      (/^[1-9]/.test(second) || /^(?:\+|00)[1-9]\d{0,2}[ .-]\(?\d{3,4}\)?$/.test(first));
    return pieces.length > 1 && areNumbers && !isOne ? pieces : [part];
  });
}

/** Plain digits of a number, in ranges where the library agrees (checked by a test). */
function fastNational(digits: string, country: string): string | null {
  if (country === 'US' || country === 'CA') return /^[2-9]\d{2}[2-9]\d{6}$/.test(digits) ? `+1${digits}` : null;
  if (country === 'GB') return /^07[4-57-9]\d{8}$/.test(digits) ? `+44${digits.slice(1)}` : null;
  return /^\d+$/.test(digits) ? plainNational(digits, country) : null;
}

/** The same with the country's code. Of the two plans of most numbers the length tells, as it does the library. */
function fastInternational(digits: string): string | null {
  if (/^\+1[2-9]\d{2}[2-9]\d{6}$/.test(digits) || /^\+44[1-9]\d{9}$/.test(digits)) return digits;
  return /^\+\d+$/.test(digits) ? plainInternational(digits) : null;
}

/**
 * Reads a phone number as written. A number that parses but cannot be dialled keeps its normal form and is marked; what counts is its length in its
 * country, not the list of ranges in use, which ages.
 * `country` is the ISO code that national numbers are read in. Source: ITU-T E.164; metadata of libphonenumber-js.
 */
export function parsePhone(text: string, country: string): PhoneNumber {
  // A spreadsheet that took the number for an amount.
  let plain = tidyText(text);
  if (plain.endsWith('.0')) plain = plain.replace(/^(\+?\d{7,})\.0$/, '$1');
  let extension: string | null = null;
  const isBare = BARE.test(plain);
  if (!isBare) plain = plain.normalize('NFKC').replace(WORDS, '').replace(TRAILING_WORDS, '');
  const found = isBare ? null : EXTENSION.exec(plain);
  if (found?.[1] && /\d{5}/.test(plain.slice(0, found.index).replace(/\D/g, ''))) {
    extension = found[1];
    plain = plain
      .slice(0, found.index)
      .trim()
      .replace(/[,;]+$/, '');
  }
  const digits = plain.replace(/[\s().\-/]+/g, '');
  const fast = digits.startsWith('+') ? fastInternational(digits) : fastNational(digits, country);
  if (fast) return { norm: withExtension(fast, extension), valid: true, extension };
  const international = plain.startsWith('00') ? `+${plain.slice(2)}` : plain;
  const parsed = parsePhoneNumberFromString(international, country as CountryCode);
  if (!parsed) return { norm: null, valid: false, extension };
  const whole = /^[1-9]\d{6,}$/.test(digits) && !parsed.isValid() ? withLostZero(digits, country) : undefined;
  if (whole && (whole.isValid() || !parsed.isPossible()))
    return { norm: withExtension(whole.number, extension), valid: true, extension };
  return { norm: withExtension(parsed.number, extension), valid: parsed.isPossible(), extension };
}

/**
 * A number from which a spreadsheet took the zero in front, where that is no digit to be left out: in Italy it is part of the
 * number, in Hungary of what is dialled before it.
 */
function withLostZero(digits: string, country: string) {
  const whole = parsePhoneNumberFromString(`0${digits}`, country as CountryCode);
  return whole?.isPossible() ? whole : undefined;
}

/** Whether a number written without its country code is one of a country's by its numbering plan, not by its length alone. */
export function isPhoneOf(text: string, country: string): boolean {
  return parsePhoneNumberFromString(text, country as CountryCode)?.isValid() ?? false;
}

/** The largest country of each code that several have. */
const LARGEST: Readonly<Record<string, string>> = {
  1: 'US',
  7: 'RU',
  39: 'IT',
  44: 'GB',
  47: 'NO',
  61: 'AU',
  358: 'FI',
};

/** The country (ISO 3166-1 alpha-2) whose code a number begins with, the largest of those that share it; null where it has none. */
export function countryOfPhone(text: string): string | null {
  const international = text.trim().replace(/^00/, '+');
  const parsed = international.startsWith('+') ? parsePhoneNumberFromString(international) : undefined;
  return parsed ? (LARGEST[parsed.countryCallingCode] ?? parsed.country ?? null) : null;
}

function withExtension(e164: string, extension: string | null): string {
  return extension ? `${e164};ext=${extension}` : e164;
}

const NORTH_AMERICAN = /^\+1\d{10}$/;

/** A normal form as people read it: "+44 1632 960301 ext. 12". */
export function formatPhone(norm: string): string {
  const [number = '', extension] = norm.includes(';') ? norm.split(';ext=') : [norm];
  if (!extension && NORTH_AMERICAN.test(number))
    return `+1 ${number.slice(2, 5)} ${number.slice(5, 8)} ${number.slice(8)}`;
  const plain = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(number) ?? /^\+44(7\d{3})(\d{6})$/.exec(number);
  if (plain) {
    const grouped = `${number.startsWith('+1') ? '+1' : '+44'} ${plain.slice(1).join(' ')}`;
    return extension ? `${grouped} ext. ${extension}` : grouped;
  }
  const shown = number.startsWith('+')
    ? (groupedInternational(number) ?? parsePhoneNumberFromString(number)?.formatInternational() ?? number)
    : number;
  return extension ? `${shown} ext. ${extension}` : shown;
}

/** The number without its extension, for matching. */
export function phoneKey(norm: string): string {
  const at = norm.indexOf(';');
  return at < 0 ? norm : norm.slice(0, at);
}
