import type { MoneyValue, RangeValue } from '../../model';
import { foldText, tidyText } from './fold';

const YES = new Set(
  (
    'y yes true t 1 x on ja j oui o si sí sì s sim vero verdadero verdadeiro wahr vrai waar sant sand tosi doğru ' +
    'igaz pravda adevărat točno resnica истина істина ok + √ ○ ◯ 有 真 ✓ ✔ ☑ ✅ tak prawda da ano áno kyllä igen evet ' +
    'да д так ναι はい 是 예 네 כן نعم'
  ).split(' '),
);
const NO = new Set(
  (
    'n no false f 0 off nein non não nao nee falsch faux falso onwaar falskt falsk epätosi yanlış yanliş hamis ' +
    'nepravda fals netočno ложь хибність nie fałsz nej nei - × ✕ 無 无 假 ✗ ✘ ☐ ❌ ne ei nem hayır hayir нет н ні не ' +
    'όχι οχι いいえ 否 아니오 아니요 לא لا'
  ).split(' '),
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

// The yen and the won stand where other encodings have the backslash.
const CURRENCY = '(?:R|US|CA?|AU?|NZ|HK|S|MX|NT)\\$|s?fr\\.?|\\p{Sc}|\\\\|kr\\.?|zł|kč|ft|lei|руб\\.?|грн\\.?';
const BEFORE = new RegExp(`^(?:(?:${CURRENCY}|[A-Z]{3}(?=[\\s\\d+.-])|р\\.)\\s*)+`, 'iu');
const BEHIND = new RegExp(`(?:\\s*(?:${CURRENCY}|%|(?<=[\\s\\d.,-])[A-Z]{3}|р\\.?))+$`, 'iu');
/** Thousands are three digits, and in India two before the last three: anything else is no group, but a mark at the wrong place. */
const GROUPED = /^\d{1,3}([ '’.,])(?:\d{2,3}\1)*\d{3}$/;

/** No amount is written longer than this. */
const LONGEST_NUMBER = 200;

/** What says before, behind or around an amount that it is less than nothing, or that it is more. */
const SIGNED = /^(?:([+-])(.+)|(.+)(-)|(\()(.+)\))$/;

/** An amount without currency, percent and sign; null where it has two signs. */
function bareAmount(text: string): { amount: string; sign: number } | null {
  let rest = text;
  let sign = 0;
  for (;;) {
    rest = rest.replace(BEFORE, '').replace(BEHIND, '').trim();
    const found = SIGNED.exec(rest);
    if (!found) return { amount: rest, sign: sign || 1 };
    if (sign) return null;
    sign = found[1] === '+' ? 1 : -1;
    rest = (found[2] ?? found[3] ?? found[6] ?? '').trim();
  }
}

/**
 * A number as written with group marks, a currency sign or a percent sign, or null when it is none. A mark that is neither
 * the decimal one nor between thousands makes it none, so that "1,5" is never read as fifteen.
 */
export function parseNumber(text: string, decimal: DecimalMark): number | null {
  if (text.length > LONGEST_NUMBER) return null;
  const plain = tidyText(text)
    .normalize('NFKC')
    .replace(/[−–](?=\s*[\d.,(\p{Sc}])/gu, '-')
    // No cents, as in "1 500,-".
    .replace(/(?<=\d)[.,]-{1,2}(?!\d)/, '');
  const bare = bareAmount(plain);
  if (!bare) return null;
  const parts = (decimal === ',' ? /^([^,]*)(?:,(\d*))?$/ : /^([^.]*)(?:\.(\d*))?$/).exec(bare.amount);
  const whole = parts?.[1] ?? '';
  const fraction = parts?.[2] ?? '';
  if (!parts || (whole === '' && fraction === '')) return null;
  if (whole !== '' && !/^\d+$/.test(whole) && !GROUPED.test(whole)) return null;
  const size = Number(`${whole.replace(/\D/g, '') || 0}.${fraction || 0}`);
  return size === 0 ? 0 : bare.sign * size;
}

/** Currencies (ISO 4217) by their sign, the commonest first where several have one. */
const CURRENCY_SIGNS: readonly (readonly [sign: RegExp, codes: string])[] = [
  [/€/, 'EUR'],
  [/£/, 'GBP'],
  [/R\$/, 'BRL'],
  [/US\$/, 'USD'],
  [/CA?\$/, 'CAD'],
  [/AU?\$/, 'AUD'],
  [/NZ\$/, 'NZD'],
  [/HK\$/, 'HKD'],
  [/MX\$/, 'MXN'],
  [/NT\$/, 'TWD'],
  [/S\$/, 'SGD'],
  [/(?<!\p{L})s?fr(?!\p{L})/iu, 'CHF'],
  [/\$/, 'USD CAD AUD NZD SGD HKD MXN'],
  [/¥|\\|円/, 'JPY CNY'],
  [/₽|руб|(?<!\p{L})р\./iu, 'RUB'],
  [/₹/, 'INR'],
  [/₩/, 'KRW'],
  [/₺/, 'TRY'],
  [/₴|грн/iu, 'UAH'],
  [/฿/, 'THB'],
  [/₫/, 'VND'],
  [/₪/, 'ILS'],
  [/₱/, 'PHP'],
  [/(?<!\p{L})zł/iu, 'PLN'],
  [/(?<!\p{L})kč/iu, 'CZK'],
  [/(?<!\p{L})ft(?!\p{L})/iu, 'HUF'],
  [/(?<!\p{L})lei(?!\p{L})/iu, 'RON'],
  [/(?<!\p{L})kr(?!\p{L})/iu, 'SEK NOK DKK ISK'],
];

/**
 * The currency (ISO 4217) that an amount says itself, by its code or its sign; null where it says none. Of a sign that several
 * have it is `home`, where that is one of them.
 */
export function currencyIn(text: string, home: string): string | null {
  const code = /(?<!\p{L})[A-Z]{3}(?!\p{L})/u.exec(text)?.[0];
  if (code) return code;
  const codes = CURRENCY_SIGNS.find(([sign]) => sign.test(text))?.[1].split(' ');
  return codes ? (codes.includes(home) ? home : (codes[0] ?? null)) : null;
}

/** Amounts added up, one sum for each currency, in the order of the currencies' letters. */
export function sumMoney(amounts: Iterable<MoneyValue>): MoneyValue[] {
  const sums = new Map<string, number>();
  // In hundredths, so that no sum of cents ends in a row of nines.
  for (const { amount, currency } of amounts) sums.set(currency, (sums.get(currency) ?? 0) + Math.round(amount * 100));
  return [...sums]
    .map(([currency, n]) => ({ amount: n / 100, currency }))
    .sort((a, b) => (a.currency < b.currency ? -1 : 1));
}

/** An amount with or without its currency ("1,250.50", "£1,250", "1250 EUR"); `currency` is that of the field. */
export function parseMoney(text: string, decimal: DecimalMark, currency: string): MoneyValue | null {
  const plain = tidyText(text);
  const amount = parseNumber(plain.replace(/^[A-Z]{3}\b|\b[A-Z]{3}$/g, ''), decimal);
  if (amount === null || !Number.isFinite(amount)) return null;
  return { amount, currency: currencyIn(plain, currency) ?? currency };
}

/** A unit behind a number. Thousands and millions are none, and would be lost. */
const UNIT = /(?<=\d)\s*(?!(?:k|tsd|tds|mn|mio|mill?|bn|lakh|crore|thousand|million)\b)(?:\p{L}{1,8}\.?|["'″′])$/iu;
const MILLIONS = /\p{Sc}.*\dm\b/iu;

/**
 * A range of numbers: "12-16", "12 to 16 ft", "between 12 and 16", "from 12", "up to 16", or one number for both ends. Null
 * when it is none, or upside down.
 */
export function parseRange(text: string, decimal: DecimalMark): RangeValue | null {
  if (text.length > 2 * LONGEST_NUMBER) return null;
  const plain = tidyText(text).toLowerCase();
  if (MILLIONS.test(plain)) return null;
  const measure = (part: string) => parseNumber(part.replace(UNIT, ''), decimal);
  const between = /^(?:between|from|zwischen|von|entre|de)\s+(.+?)\s+(?:and|to|und|bis|et|y|à|a)\s+(.+)$/.exec(plain);
  if (between?.[1] && between[2]) return rangeOf(measure(between[1]), measure(between[2]), false);
  const open =
    /^(?:from|over|at least|min|>=?|≥)\s*(.+)$/.exec(plain) ?? /^(.+?)\s*(?:\+|and (?:more|up)|or more)$/.exec(plain);
  if (open?.[1]) return rangeOf(measure(open[1]), null, true);
  const upTo = /^(?:to|up to|under|at most|max|<=?|≤)\s*(.+)$/.exec(plain);
  if (upTo?.[1]) return rangeOf(null, measure(upTo[1]), true);
  const both = /^(.+?)\s*(?:\.\.+|–|—|\bto\b|\bbis\b|-(?=\s*[\d.,]))\s*(.+)$/.exec(plain);
  if (both?.[1] && both[2]) return rangeOf(measure(both[1]), measure(both[2]), false);
  const one = measure(plain);
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
  (
    'n/a|#n/a|n.a.|na|nan|none|(none)|null|(null)|nil|#null!|#ref!|#value!|#name?|#div/0!|#num!|(blank)|(empty)|' +
    'unknown|unbekannt|inconnu|desconocido|sconosciuto|desconhecido|onbekend|okänd|ukendt|ukjent|nieznany|neznámý|' +
    'неизвестно|brak|s/o|s.o.|s/d|n.v.t.|k.a.|k. ' +
    'a.|keine angabe|(leer)|-|--|---|–|—|?|??|???|.|..|...|x|xx|xxx|tbc|tbd|test|dummy|not known|not given|not provided'
  ).split('|'),
);

const LONGEST_PLACEHOLDER = 13;

/** No placeholder does, and most cells that are no words do. */
function startsWithDigit(text: string): boolean {
  const first = text.charCodeAt(0);
  return first >= 48 && first <= 57;
}

/** Words that stand for "nothing is known here". */
export function isPlaceholderText(text: string): boolean {
  if (text.length > LONGEST_PLACEHOLDER || startsWithDigit(text)) return false;
  return PLACEHOLDERS.has(text.trim().toLowerCase());
}

/** What stands for somebody who is not named; no name of anybody, alone or beside each other. */
const NOBODY = new RegExp(
  `^(?:an?|the|our|one|other|another)? ?(?:${
    'anon|anonym|anonymous|anonyme|anonimo|anonymus|anoniem|anonymt|anonim|anonymni|guest|guests|gast|gaste|gaeste|invite|invitee|invitado|invitada|' +
    'ospite|walk in|walkin|walk ins|passer by|visitor|unnamed|no name|noname|name unknown|unknown name|unknown person|' +
    'not disclosed|undisclosed|withheld|name withheld|wishes to remain anonymous|prefers not to say|ohne namen|ohne name|kein name|sans nom|' +
    'sin nombre|senza nome|zonder naam|sem nome|cash sale|cash customer|counter sale|laufkundschaft|test user|tester|test test|admin|administrator'
  })(?: (?:donor|donors|guest|customer|client|person|visitor|user|member|giver|supporter|spender|gast|donateur|donante|donatore|gever|\\d+))?$`,
);

/** Whether a text stands for somebody who is not named ("Anonymous", "Guest 2", "Walk-in"). */
export function isNobodysName(text: string): boolean {
  return text.length < 40 && NOBODY.test(foldText(text));
}

/** What is a name as well, where it is written like one. */
const WRITTEN_AS_NAME = /^\s*(?:Na|Nan)\s*$/;

/** The same of a name: Na and Nan are names, NA and n/a are none. */
export function isPlaceholderName(text: string): boolean {
  return isPlaceholderText(text) && !WRITTEN_AS_NAME.test(text);
}

/** Reads a web address; adds https:// where only the host was written. */
export function parseUrl(text: string): string | null {
  const plain = text.trim().replace(/^<([^<>]+)>$/, '$1');
  if (/\s/.test(plain) || plain.includes('@')) return null;
  if (/^https?:\/\/[^/]+\.[^/]+/i.test(plain)) return plain;
  return /^(?:[\p{L}\p{N}-]+\.)+\p{L}{2,}(?::\d{1,5})?(?:[/?#].*)?$/u.test(plain) ? `https://${plain}` : null;
}
