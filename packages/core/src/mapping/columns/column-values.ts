import {
  findCountry,
  foldText,
  guessDateOrder,
  guessDecimalMark,
  isEastFamily,
  isEastName,
  isGivenName,
  isLossyPhone,
  isPlaceholderText,
  mendLetters,
  isFirm,
  isReportLine,
  mailboxesIn,
  letterTitlesIn,
  nameVotes,
  parseDate,
  parseEmail,
  parseNumber,
  parseUrl,
  parseYesNo,
  phonesIn,
  PREFIXES,
  type DateOrder,
  type DecimalMark,
  type FieldType,
  unguardText,
  type NameVotes,
} from '../../fields';

/** What the values of one column look like, as shares (0 to 1) of the filled cells. */
export interface ColumnProfile {
  filled: number;
  distinct: number;
  samples: string[];
  email01: number;
  phone01: number;
  /** Phones with a plus, brackets or groups. */
  phoneMarks01: number;
  date01: number;
  number01: number;
  yesNo01: number;
  /** Letters for yes and no that are either only beside each other ("A" and "N"). */
  yesNoPair: readonly [yes: string, no: string] | null;
  url01: number;
  /** Web addresses, those without https:// as well. */
  host01: number;
  fullName01: number;
  givenName01: number;
  /** Two to five words written as names are. */
  nameShape01: number;
  /** Those of them with a known given name. */
  anyGivenName01: number;
  /** Whole names as China, Japan and Korea write them. */
  eastName01: number;
  /** Their family names alone. */
  eastFamily01: number;
  /** Their streets, towns and regions. */
  eastStreet01: number;
  eastTown01: number;
  eastRegion01: number;
  /** Three digits and four, as postal codes of Japan are, and some phones elsewhere. */
  japaneseCode01: number;
  /** One to four signs of theirs, as one name alone may be. */
  eastWord01: number;
  /** Nothing but titles before a name. */
  prefix01: number;
  severalWords01: number;
  /** Several words written as a name, the last of which is no given name that is known, or which have a comma. */
  wholeName01: number;
  /** Names of firms by their legal form. */
  firm01: number;
  street01: number;
  /** A town with its postal code before or behind it. */
  townLine01: number;
  postal01: number;
  regionCode01: number;
  country01: number;
  separator: string | null;
  separated01: number;
  longText01: number;
  dateOrder: DateOrder;
  /** Dates that can be read in no other order of day and month. */
  dateEvidence: number;
  /** Dates that can be read both ways, where none tells which. */
  unclearDates: number;
  decimal: DecimalMark;
  nameVotes: NameVotes;
  /** Letters that are titles before names here (M. in French). */
  letterTitles: string;
  /** Whole numbers each of which is more than the one before. */
  isRising: boolean;
  /** Words all in capitals, where they could be written otherwise. */
  capitals01: number;
  /** The first cell whose letters came in broken; null where none did. */
  brokenLetters: string | null;
  /** Distinct values, at most 30. */
  values: string[];
}

/** Longer cells are text; patterns that look for anything within one would take their time. */
const LONGEST = 300;
/** Cells that are asked in which order names stand. */
const ASKED = 500;
const PHONE = /^(?:[a-z]{1,6}[.:]?\s*)?\+?[(\d][\d\s().\-/]{5,24}(?:\s*(?:ext|x|#)\.?\s*\d+)?$/i;
const STREET = new RegExp(
  String.raw`^\d+[a-z]?[\s,]+\p{L}|\p{L}[\p{L}.\-' ]+,?\s\d+\s?[a-z]?(?:[-/]\d+)?(?:,.*)?$|^(?:c\/|calle|avda` +
    String.raw`|av\.|plaza|rua|travessa|via|viale|corso|piazza|ul\.|al\.|ул\.)\s?\p{L}|(?<!\p{L})(?:street|st|road` +
    String.raw`|rd|lane|ln|avenue|ave|drive|close|quay|weg|straße|strasse|straat|rue|via|calle|platz|place|square` +
    String.raw`|terrace|court)(?!\p{L})`,
  'iu',
);
/** A place with numbers of a block and house behind it, as China, Japan and Korea write streets. */
const EAST_STREET = new RegExp(
  String.raw`^[^\d]*[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}][^\d]*\d+(?:\s?[-－−]\s` +
    String.raw`?\d+)*\s?(?:[号號番弄幢栋棟楼樓室]|丁目|번지|번길|길|로|동|층)?(?:\P{L}.*|[番地号號].*)?$`,
  'u',
);
const EAST_TOWN = /^[\p{Script=Han}ヶケツ々]{1,5}[市区區町村县縣]$|^\p{Script=Hangul}{1,4}[시군구]$/u;
const EAST_REGION = /^[\p{Script=Han}]{1,4}(?:[県府都省]|自治区)$|^北海道$|^\p{Script=Hangul}{2,4}도$/u;
const JAPANESE_CODE = /^〒?\s?\d{3}[-－−]\d{4}$/;
const TOWN_LINE_SHAPE =
  /^(?:\d{5}|\d{3} \d{2}|\d{2}-\d{3}|\d{4}-\d{3}|\d{4} ?[A-Z]{2}) \p{Lu}|^\p{Lu}.*\s(?:[A-Z]{2} \d{5}(?:-\d{4})?|[A-Z]{1,2}\d[A-Z\d]? \d[A-Z]{2})$/u;
const POSTAL = new RegExp(
  String.raw`^(?:\d{4,5}(?:-\d{4})?|\d{2}-\d{3}|\d{4}-\d{3}|\d{3} \d{2}|[A-Z]{1,2}\d[A-Z\d]?\s?\d[A-Z]{2}` +
    String.raw`|\d{4}\s?[A-Z]{2}|[A-Z]\d[A-Z]\s?\d[A-Z]\d|[A-Z]\d{2}\s?(?=\d{0,3}[A-Z])[A-Z\d]{4})$`,
  'i',
);
const URL_LIKE = /^(?:https?:\/\/|www\.)\S+$/i;

const PHONE_MARKS = /^\+|^00[1-9]|^\(|\d[ ./-]+\(?\d{2}/;
const NAME_SHAPE = /^(?:\p{Ll}{1,3}\s+)*\p{Lu}[\p{L}.'’-]*,?(?:\s+[\p{L}.'’-]+,?){1,4}$/u;

const EAST_WORD = /^[\p{Script=Han}々\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]{1,4}$/u;

const LONGEST_NAME = 80;
const LONGEST_TITLE = 24;

/** Whether a name has a family name in it: behind a comma, or as a last word that is no given name. */
function isWholeName(cell: string): boolean {
  return cell.includes(',') || !isGivenName(foldText(cell).split(' ').at(-1) ?? '');
}

/** Titles before a name and nothing else. */
function isTitle(cell: string): boolean {
  if (cell.length > LONGEST_TITLE || /\d/.test(cell)) return false;
  const words = foldText(cell.replace(/\./g, ' ')).split(' ').filter(Boolean);
  // Folding reads Han and Hangul as they sound.
  if (TITLES_ALONE.has(cell)) return true;
  return words.length > 0 && words.every((word) => PREFIXES.has(word) || TITLES_ALONE.has(word));
}

function isPhoneLike(cell: string): boolean {
  const pieces = phonesIn(cell);
  if (pieces.length > 1) return pieces.map((piece) => piece.trim()).every(isPhoneLike);
  const digits = cell.replace(/\D/g, '');
  return (
    isLossyPhone(cell) ||
    (digits.length >= 7 && digits.length <= 15 && PHONE.test(cell) && !/^\d{4}-\d{2}-\d{2}/.test(cell))
  );
}

function isDateLike(cell: string, order: DateOrder): boolean {
  if (order !== 'serial' && /^\d+$/.test(cell)) return /^(?:19|20)\d{6}$/.test(cell) && parseDate(cell, order).ok;
  return (
    parseDate(cell, order).ok ||
    (/\d/.test(cell) && /^(?:\d{1,2}|\d{4})\s*[./-]\s*\d{1,2}\s*[./-]\s*(?:\d{1,2}|\d{4})$/.test(cell))
  );
}

/** Whether what stands between strokes stands in other cells as well: "crew/donor" is two words, "Sales/Repairs" may be one. */
function comesAgain(cells: readonly string[]): boolean {
  const seen = new Map<string, number>();
  const parts = cells.map((cell) => [...new Set(cell.split('/').map((part) => part.trim()))]);
  for (const part of parts.flat()) seen.set(part, (seen.get(part) ?? 0) + 1);
  const between = new Set(parts.filter((list) => list.length > 1).flat());
  const again = [...between].filter((part) => (seen.get(part) ?? 0) > 1);
  return new Set(cells.filter((cell) => cell.includes('/'))).size > 1 && again.length >= 0.7 * between.size;
}

/** Titles that are letters and other words as well, and are titles where nothing else stands beside them. */
const TITLES_ALONE = new Set(
  'd m dna dra mlle mlles dres sres pan pani pp dhr mevr ind inz eng arq lic κ κα κος κυρια κυριος δρ bay bayan sayin dn ob γιατρος 씨 님 様 殿 さん 先生 女士 小姐'.split(
    ' ',
  ),
);

/** Whether letters that are neither yes nor no stand beside some that might be yes, and nothing says no: sizes S and L. */
function hasOtherLetters(distinct: ReadonlySet<string>): boolean {
  const read = [...distinct].map((cell) => ({ isLetter: /^\p{L}$/u.test(cell), answer: parseYesNo(cell) }));
  return (
    read.some(({ isLetter, answer }) => isLetter && answer === null) && !read.some(({ answer }) => answer === false)
  );
}

/** First letters of yes and no in languages where they are not y, j, o, s or t and n, and of true and false. */
const YES_NO_PAIRS: readonly (readonly [yes: string, no: string])[] = [
  ['A', 'N'],
  ['I', 'N'],
  ['E', 'H'],
  ['K', 'E'],
  ['V', 'F'],
  ['W', 'F'],
  ['O', 'X'],
];

function yesNoPairOf(distinct: ReadonlySet<string>): readonly [yes: string, no: string] | null {
  const said = [...distinct].slice(0, 3).map((cell) => cell.toUpperCase());
  if (said.length !== 2) return null;
  return YES_NO_PAIRS.find((pair) => pair.every((letter) => said.includes(letter))) ?? null;
}

/** Whether a cell is one mailbox or several, and no text that has one in it. */
function isMailboxes(cell: string): boolean {
  const parts = mailboxesIn(cell);
  const read = parts.filter((part) => parseEmail(part).ok);
  return (read.length > 0 && 2 * read.length >= parts.length) || /^[^\s@]+@+[^\s@]+$/.test(cell);
}

/** Different cells that are asked first; where none of so many is alike, too few others would be to count. */
const PROBES = 100;

/** The share (0 to 1) of cells of which something holds; each is asked once, however often it comes. */
function shareOf(cells: readonly string[]): (test: (cell: string) => boolean) => number {
  const times = new Map<string, number>();
  for (const cell of cells) times.set(cell, (times.get(cell) ?? 0) + 1);
  const different = [...times];
  const step = Math.floor(different.length / PROBES);
  const probes = step > 1 ? different.filter((_, i) => i % step === 0) : [];
  return (test) => {
    if (probes.length && !probes.some(([cell]) => test(cell))) return 0;
    let n = 0;
    for (const [cell, often] of different) if (test(cell)) n += often;
    return cells.length ? n / cells.length : 0;
  };
}

/** Three capitals or more and no small letter; writing that knows no capitals has neither. */
const CAPITALS = /^(?=(?:\P{Lu}*\p{Lu}){3})\P{Ll}+$/u;

/** Measures one column of the sample. Cost linear in its cells. */
export function profileColumn(cells: readonly string[]): ColumnProfile {
  const filled = cells.map((cell) => unguardText(cell).trim()).filter((cell) => cell !== '');
  const said = filled.filter((cell) => !isPlaceholderText(cell) && !isReportLine(cell));
  const distinct = new Set(filled);
  const { order, evidence, ambiguous } = guessDateOrder(filled);
  const decimal = guessDecimalMark(filled);
  // What stands for nothing says nothing about the rest.
  const shareSaid = shareOf(said);
  const share = (test: (cell: string) => boolean) => shareSaid((cell) => cell.length <= LONGEST && test(cell));
  const exactShare = (test: (cell: string) => boolean) =>
    said.length ? said.filter((cell) => cell.length <= LONGEST && test(cell)).length / said.length : 0;
  const likeNames = said.filter((cell) => cell.length <= LONGEST_NAME && NAME_SHAPE.test(cell));
  const named = likeNames.filter((cell) => foldText(cell).split(' ').some(isGivenName));
  const separators = [';', ',', '|', '/'].map((mark) => ({
    mark,
    // Few cells with several mailboxes are enough to tell what parts them.
    n: exactShare((cell) => cell.includes(mark) && !/\s{0,1}[,;|/]\s{0,1}$/.test(cell)),
  }));
  const best = separators
    .filter(({ mark, n }) => mark === ';' || mark === '|' || (n > 0.1 && (mark !== '/' || comesAgain(filled))))
    .sort((a, b) => b.n - a.n)[0];
  return {
    filled: filled.length,
    distinct: distinct.size,
    samples: [...distinct].slice(0, 5),
    email01: share(isMailboxes),
    phone01: share(isPhoneLike),
    phoneMarks01: share((cell) => PHONE_MARKS.test(cell) && isPhoneLike(cell)),
    date01: share((cell) => isDateLike(cell, order)),
    number01: share((cell) => parseNumber(cell, decimal) !== null),
    yesNoPair: yesNoPairOf(distinct),
    yesNo01: hasOtherLetters(distinct) ? 0 : shareOf(filled)((cell) => parseYesNo(cell) !== null),
    url01: shareSaid((cell) => URL_LIKE.test(cell)),
    host01: shareSaid((cell) => parseUrl(cell) !== null),
    fullName01: share(
      (cell) =>
        /^\p{Lu}[\p{L}.'’-]+(?:\s+\p{L}[\p{L}.'’-]*){1,4}$/u.test(cell) &&
        isGivenName(foldText(cell).split(' ')[0] ?? ''),
    ),
    givenName01: share((cell) => isGivenName(foldText(cell).split(' ')[0] ?? '') && cell.split(/\s+/).length <= 2),
    nameShape01: said.length ? likeNames.length / said.length : 0,
    anyGivenName01: said.length ? named.length / said.length : 0,
    eastName01: share(isEastName),
    eastFamily01: share(isEastFamily),
    eastStreet01: share((cell) => cell.length <= LONGEST_NAME && EAST_STREET.test(cell)),
    eastTown01: share((cell) => EAST_TOWN.test(cell)),
    eastRegion01: share((cell) => EAST_REGION.test(cell)),
    japaneseCode01: share((cell) => JAPANESE_CODE.test(cell)),
    eastWord01: share((cell) => EAST_WORD.test(cell)),
    prefix01: share(isTitle),
    firm01: share(isFirm),
    wholeName01: said.length ? likeNames.filter(isWholeName).length / said.length : 0,
    severalWords01: share((cell) => /\S\s+\S/.test(cell)),
    townLine01: share((cell) => TOWN_LINE_SHAPE.test(cell)),
    street01: share((cell) => STREET.test(cell)),
    postal01: share((cell) => POSTAL.test(cell)),
    regionCode01: share((cell) => /^[A-Z]{2,3}$/.test(cell)),
    country01: share((cell) => (cell.length > 3 || /[^\p{Script=Latin}]/u.test(cell)) && findCountry(cell) !== null),
    separator: best && best.n > 0 ? best.mark : null,
    separated01: best?.n ?? 0,
    longText01: shareSaid((cell) => cell.length > 60 || /[\r\n]/.test(cell) || cell.split(/\s+/).length > 6),
    dateOrder: order,
    dateEvidence: order === 'dayFirst' || order === 'monthFirst' ? evidence : 0,
    unclearDates: evidence === 0 ? ambiguous : 0,
    decimal,
    nameVotes: nameVotes(filled.slice(0, ASKED)),
    letterTitles: letterTitlesIn(said.slice(0, ASKED).filter((cell) => cell.length <= LONGEST_NAME)),
    capitals01: shareSaid((cell) => CAPITALS.test(cell)),
    brokenLetters: [...distinct].find((cell) => mendLetters(cell) !== cell)?.slice(0, LONGEST) ?? null,
    isRising:
      said.length > 2 && said.every((cell, i) => /^\d+$/.test(cell) && (i === 0 || Number(cell) > Number(said[i - 1]))),
    values: [...distinct].filter((cell) => !isPlaceholderText(cell)).slice(0, 30),
  };
}

/** The type a new field would have for these values. `mayBeDay`: whether numbers alone may be the days of a spreadsheet. */
export function typeOfValues(profile: ColumnProfile, mayBeDay = true): FieldType {
  if (profile.filled === 0) return 'text';
  if (profile.email01 > 0.6) return 'email';
  if (profile.yesNoPair || (profile.yesNo01 >= 0.75 && profile.distinct <= 12)) return 'yesNo';
  const leadingZeros = profile.values.some((value) => /^0\d+$/.test(value));
  if (profile.date01 >= 0.6 && (mayBeDay || profile.dateOrder !== 'serial')) return 'date';
  if (profile.number01 >= 0.6 && !leadingZeros) return 'number';
  if (profile.phone01 > 0.6 && !profile.values.some((value) => /\p{L}{2}\d/u.test(value))) return 'tel';
  if (profile.longText01 > 0.3) return 'longText';
  if (leadingZeros) return 'text';
  const repeated = profile.filled / Math.max(1, profile.distinct);
  if (
    profile.distinct <= 20 &&
    (repeated >= 1.2 || (profile.distinct <= 6 && profile.filled <= 6)) &&
    profile.values.every((v) => v.length <= 40)
  )
    return 'choice';
  return 'text';
}
