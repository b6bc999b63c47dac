import { err, ok, type Result } from '../model';

export type DateOrder = 'iso' | 'dayFirst' | 'monthFirst' | 'serial';
export type DateFault = 'noSuchDay' | 'notADate' | 'noSuchSerial';

const MONTHS: Record<string, number> = {};
const MONTH_WORDS = [
  'jan january januar janvier enero januari gennaio janeiro janv ene gen',
  'feb february februar fevrier febrero februari febbraio fevereiro fev febr',
  'mar march marz mars marzo maart marco mrz mrt maerz',
  'apr april avril abril aprile avr abr',
  'may mai mayo mei maggio maio mag',
  'jun june juni juin junio giugno junho giu',
  'jul july juli juillet julio luglio julho juil lug',
  'aug august aout agosto augustus ago',
  'sep sept september septembre septiembre settembre setembro set',
  'oct october oktober octobre octubre ottobre outubro okt ott out',
  'nov november novembre noviembre novembro',
  'dec december dezember decembre diciembre dicembre dezembro dez dic',
];
MONTH_WORDS.forEach((words, i) => words.split(' ').forEach((word) => (MONTHS[word] = i + 1)));

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

function fullYear(text: string): number {
  const year = Number(text);
  if (text.length > 2) return year;
  return year > 30 ? 1900 + year : 2000 + year;
}

const plainWord = (word: string) => word.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().replace(/\.$/, '');

/** Languages whose months are read beside those above, in the order in which one is believed where a word is two months. */
const MORE_LANGUAGES = 'pl cs sk hu ru uk bg da nb sv fi tr ro el nl sl lt lv et id'.split(' ');
let moreMonths: Map<string, number> | null = null;

/** Months of more languages as Unicode's locale data (CLDR) names them, alone and within a date, long and short. */
function monthsOfLanguages(): Map<string, number> {
  if (moreMonths) return moreMonths;
  const found = new Map<string, number>();
  for (const language of MORE_LANGUAGES)
    for (const month of ['long', 'short'] as const)
      for (const day of [undefined, 'numeric'] as const) {
        const format = new Intl.DateTimeFormat(language, { month, day, timeZone: 'UTC' });
        for (let i = 0; i < 12; i++) {
          const part = format.formatToParts(Date.UTC(2001, i, 15)).find(({ type }) => type === 'month');
          const word = plainWord(part?.value ?? '');
          if (/^\p{L}{3,}$/u.test(word) && !found.has(word)) found.set(word, i + 1);
        }
      }
  return (moreMonths = found);
}

function monthOf(word: string): number | undefined {
  const plain = plainWord(word);
  return MONTHS[plain] ?? monthsOfLanguages().get(plain) ?? MONTHS[plain.slice(0, 3)];
}

/** Day numbers of a spreadsheet, 1900 system: 1 is 1900-01-01, and 60 is a day that never was. */
function fromSerial(text: string): Result<string, DateFault> {
  const serial = Math.floor(Number(text));
  if (!(serial >= 1 && serial <= 73050) || serial === 60) return err('noSuchSerial');
  const date = new Date(Date.UTC(1899, 11, serial > 60 ? 30 : 31) + serial * 86_400_000);
  return ok(date.toISOString().slice(0, 10));
}

const WHOLE = /^(\d{4})-(\d{2})-(\d{2})$/;
const ISO = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]\d{1,2}:\d{2}.*)?$/;
const BASIC = /^(\d{4})(\d{2})(\d{2})$/;
const PARTIAL = /^--(\d{2})-?(\d{2})$/;
const NUMERIC = /^(\d{1,4})(?:[./-] ?| )(\d{1,2})(?:[./-] ?| )(\d{1,4})\.?(?:[T ,]+\d{1,2}[:.]\d{2}.*)?$/;
/** Year, month and day with the characters that East Asian dates have behind them. */
const EAST_ASIAN = /^(\d{4}) ?[年년] ?(\d{1,2}) ?[月월] ?(\d{1,2}) ?[日일]?$/;
/** "of the year", as some languages write behind it. */
const YEAR_WORD = /(?<=\d) ?(?:r|г|р|g)\.?$/u;
const DAY_MONTH = /^(\d{1,2})[./-](\d{1,2})\.?$/;
const SERIAL = /^\d{1,8}(?:[.,]\d+)?$/;
const WORDS_DAY =
  /^(?:\p{L}+,?\s+)?(\d{1,2})(?:st|nd|rd|th|\.)?[\s\-/]*(?:of\s+|de\s+)?(\p{L}{3,})\.?,?[\s\-/]*(?:de\s+)?(\d{2,4})?$/iu;
const WORDS_MONTH = /^(\p{L}{3,})\.?\s+(\d{1,2})(?:st|nd|rd|th)?(?:,?\s+(\d{4}))?$/iu;

/**
 * Reads a date into ISO 8601, or "--07-14" when it has no year (vCard 4, RFC 6350 4.3.1).
 * `order` was decided for the whole column by guessDateOrder; a cell never decides it for itself.
 */
export function parseDate(text: string, order: DateOrder): Result<string, DateFault> {
  const whole = WHOLE.exec(text);
  // Most dates are whole ones in this form, which reads the same in every order.
  if (whole) return isRealDay(Number(whole[1]), Number(whole[2]), Number(whole[3])) ? ok(text) : err('noSuchDay');
  const plain = text.trim().normalize('NFKC').replace(YEAR_WORD, '');
  let m = ISO.exec(plain) ?? (order === 'serial' ? null : BASIC.exec(plain));
  if (m) return isoOf(Number(m[1]), Number(m[2]), Number(m[3]));
  if ((m = EAST_ASIAN.exec(plain))) return isoOf(Number(m[1]), Number(m[2]), Number(m[3]));
  if ((m = PARTIAL.exec(plain))) return isoOf(null, Number(m[1]), Number(m[2]));
  if (order === 'serial' && SERIAL.test(plain)) return fromSerial(plain.replace(',', '.'));
  if ((m = NUMERIC.exec(plain))) {
    const [, a = '', b = '', c = ''] = m;
    if (a.length === 4) return isoOf(Number(a), Number(b), Number(c));
    if (c.length === 3 || a.length === 3) return err('notADate');
    const [day, month] = order === 'monthFirst' ? [b, a] : [a, b];
    return isoOf(fullYear(c), Number(month), Number(day));
  }
  if ((m = DAY_MONTH.exec(plain))) {
    const [day, month] = order === 'monthFirst' ? [m[2], m[1]] : [m[1], m[2]];
    return isoOf(null, Number(month), Number(day));
  }
  if ((m = WORDS_DAY.exec(plain))) {
    const month = monthOf(m[2] ?? '');
    if (month) return isoOf(m[3] ? fullYear(m[3]) : null, month, Number(m[1]));
  }
  if ((m = WORDS_MONTH.exec(plain))) {
    const month = monthOf(m[1] ?? '');
    if (month) return isoOf(m[3] ? Number(m[3]) : null, month, Number(m[2]));
  }
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
      if (Number(plain) > 366 && !/^(?:19|20)\d{2}$/.test(plain)) serial++;
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
  return /^0+([./-])0+\1?0*$/.test(text.trim());
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
