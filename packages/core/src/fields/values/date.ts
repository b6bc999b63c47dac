import { err, ok, type Result } from '../../model';
import { readWordedDate } from './month-words';

export type DateOrder = 'iso' | 'dayFirst' | 'monthFirst' | 'serial';
export type DateFault = 'noSuchDay' | 'notADate' | 'noSuchSerial';

const DAYS = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

function isRealDay(year: number | null, month: number, day: number): boolean {
  if (month < 1 || month > 12 || day < 1 || day > (DAYS[month - 1] ?? 0)) return false;
  if (month === 2 && day === 29 && year !== null) return (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  return true;
}

function isoOf(year: number | null, month: number, day: number): Result<string, DateFault> {
  if (!isRealDay(year, month, day)) return err('noSuchDay');
  const rest = `${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  return ok(year === null ? `--${rest}` : `${String(year).padStart(4, '0')}-${rest}`);
}

/** Where nothing says how late a day may be, two digits above these are a year of the last century. */
const LATEST = 2030;

function fullYear(text: string, latest: number): number {
  const year = Number(text);
  if (text.length > 2) return year;
  const century = latest - (latest % 100);
  return century + year > latest ? century - 100 + year : century + year;
}

/** Day numbers of a spreadsheet, 1900 system: 1 is 1900-01-01, and 60 is a day that never was. */
function fromSerial(text: string): Result<string, DateFault> {
  const serial = Math.floor(Number(text));
  if (!(serial >= 1 && serial <= 73050) || serial === 60) return err('noSuchSerial');
  const date = new Date(Date.UTC(1899, 11, serial > 60 ? 30 : 31) + serial * 86_400_000);
  return ok(date.toISOString().slice(0, 10));
}

/** No date is written longer than this. */
const LONGEST = 200;
const WHOLE = /^\d{4}-\d{2}-\d{2}$/;
const ISO = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]\d{1,2}:\d{2}.*)?$/;
const BASIC = /^(\d{4})(\d{2})(\d{2})$/;
const PARTIAL = /^--(\d{2})-?(\d{2})$/;
const NUMERIC = /^(\d{1,4})(?:[./-] ?| )(\d{1,2})(?:[./-] ?| )(\d{1,4})\.?(?:[T ,]+\d{1,2}[:.]\d{2}.*)?$/;
const TIME = /[T ,]+\d{1,2}[:.]\d{2}.*$/;
/** Year, month and day with the characters that East Asian dates have behind them. */
const EAST_ASIAN = /^(\d{4}) ?[年년] ?(\d{1,2}) ?[月월] ?(\d{1,2}) ?[日일]?(?:[ ,]+\d{1,2}[:.]\d{2}.*)?$/;
/** "of the year", as some languages write behind it. */
const YEAR_WORD = /(?<=\d) ?(?:r|г|р|g)\.?$/u;
/** A month in Roman numerals, between day and year. */
const ROMAN = /^(\d{1,2})[./ -]+(I{1,3}|I?V|VI{1,3}|I?X|XI{1,2})[./ -]+(\d{2,4})\.?$/i;
const ROMAN_MONTHS = 'I II III IV V VI VII VIII IX X XI XII'.split(' ');
const DAY_MONTH = /^(\d{1,2})[./-](\d{1,2})\.?$/;
const SERIAL = /^\d{1,8}(?:[.,]\d+)?$/;
/** Vietnamese says the month by its number. */
const VIETNAMESE = /^(?:ngày )?(\d{1,2}) (?:tháng|thg) (\d{1,2}),? (?:năm )?(\d{4})$/i;
/** The day of the week that East Asian dates have behind them. */
const EAST_ASIAN_DAY = / ?(?:[日月火水木金土](?:曜日)?|[일월화수목금토]요일|星期.|周.)$/u;
const DIRECTION = /[\u200e\u200f\u061c]/g;
const OTHER_DIGITS = /[\u0660-\u0669\u06f0-\u06f9]/g;

/**
 * Reads a date into ISO 8601, or "--07-14" when it has no year (vCard 4, RFC 6350 4.3.1).
 * `order` was decided for the whole column by guessDateOrder; a cell never decides it for itself. A year of two digits is the
 * last such year up to `latest`.
 */
export function parseDate(text: string, order: DateOrder, latest = LATEST): Result<string, DateFault> {
  // Most dates are whole ones in this form, which reads the same in every order.
  if (WHOLE.test(text)) {
    const digits = (from: number, to: number) => Number(text.slice(from, to));
    return isRealDay(digits(0, 4), digits(5, 7), digits(8, 10)) ? ok(text) : err('noSuchDay');
  }
  if (text.length > LONGEST) return err('notADate');
  const plain = text
    .trim()
    .normalize('NFKC')
    .replace(DIRECTION, '')
    .replace(OTHER_DIGITS, (digit) => String(digit.charCodeAt(0) & 15))
    .replace(YEAR_WORD, '');
  let m = ISO.exec(plain) ?? (order === 'serial' ? null : BASIC.exec(plain));
  if (m) return isoOf(Number(m[1]), Number(m[2]), Number(m[3]));
  if ((m = EAST_ASIAN.exec(plain) ?? EAST_ASIAN.exec(plain.replace(EAST_ASIAN_DAY, ''))))
    return isoOf(Number(m[1]), Number(m[2]), Number(m[3]));
  if ((m = PARTIAL.exec(plain))) return isoOf(null, Number(m[1]), Number(m[2]));
  if (order === 'serial' && SERIAL.test(plain)) return fromSerial(plain.replace(',', '.'));
  if ((m = NUMERIC.exec(plain))) {
    const [, a = '', b = '', c = ''] = m;
    if (a.length === 4) return isoOf(Number(a), Number(b), Number(c));
    if (c.length === 3 || a.length === 3) return err('notADate');
    const [day, month] = order === 'monthFirst' ? [b, a] : [a, b];
    return isoOf(fullYear(c, latest), Number(month), Number(day));
  }
  if ((m = ROMAN.exec(plain)))
    return isoOf(fullYear(m[3] ?? '', latest), ROMAN_MONTHS.indexOf((m[2] ?? '').toUpperCase()) + 1, Number(m[1]));
  if ((m = DAY_MONTH.exec(plain))) {
    const [day, month] = order === 'monthFirst' ? [m[2], m[1]] : [m[1], m[2]];
    return isoOf(null, Number(month), Number(day));
  }
  if ((m = VIETNAMESE.exec(plain))) return isoOf(Number(m[3]), Number(m[2]), Number(m[1]));
  const worded = /\p{L}{3}/u.test(plain) ? readWordedDate(plain.replace(TIME, '')) : null;
  if (worded) return isoOf(worded.year === null ? null : fullYear(worded.year, latest), worded.month, worded.day);
  return err('notADate');
}

export interface DateOrderGuess {
  order: DateOrder;
  /** Values that can only be read in this order. */
  evidence: number;
  /** Values that can only be read in the other one. */
  against: number;
  /** Values that could be read either way with different results. */
  ambiguous: number;
}

/** 1910-01-01 as a spreadsheet counts days; smaller numbers are amounts. */
const FIRST_LIKELY_SERIAL = 3654;

/**
 * Decides the order of day and month of a column from all its values. Day first when nothing tells
 * (`evidence` 0 and `ambiguous` above 0 then says that it is unclear).
 */
export function guessDateOrder(values: readonly string[]): DateOrderGuess {
  let day = 0;
  let month = 0;
  let either = 0;
  let serial = 0;
  let iso = 0;
  let filled = 0;
  for (const value of values) {
    const plain = value.trim();
    if (!plain) continue;
    filled++;
    if (SERIAL.test(plain) && !BASIC.test(plain)) {
      // A year alone is none of a spreadsheet's days.
      if (Number(plain) >= FIRST_LIKELY_SERIAL && !/^(?:19|20)\d{2}$/.test(plain)) serial++;
      continue;
    }
    if (ISO.test(plain) || BASIC.test(plain)) {
      iso++;
      continue;
    }
    const m = NUMERIC.exec(plain);
    if (!m || (m[1]?.length ?? 0) > 2) continue;
    const [a, b] = [Number(m[1]), Number(m[2])];
    if (a > 12 && a <= 31 && b <= 12) day++;
    else if (b > 12 && b <= 31 && a <= 12) month++;
    else if (a <= 12 && b <= 12 && a !== b) either++;
  }
  if (serial > 0 && serial >= filled * 0.4) return { order: 'serial', evidence: serial, against: iso, ambiguous: 0 };
  if (month > day) return { order: 'monthFirst', evidence: month, against: day, ambiguous: either };
  if (day === 0 && either === 0) return { order: 'iso', evidence: iso, against: 0, ambiguous: 0 };
  return { order: 'dayFirst', evidence: day, against: month, ambiguous: either };
}

/** A date whose digits are all noughts. */
export function isZeroDate(text: string): boolean {
  return /^\s*0+([./-])0+\1?0*\s*$/.test(text);
}

/** Dates that stand for "not known" in other people's lists. */
export function isPlaceholderDate(iso: string): boolean {
  return (
    iso === '1900-01-01' ||
    iso === '1900-01-00' ||
    iso === '1970-01-01' ||
    iso === '1899-12-30' ||
    iso.startsWith('9999') ||
    iso.startsWith('0001')
  );
}
