import { familySigns } from './east-names';
import { tidyText } from '../values/fold';
import { isGivenName } from './given-names';
import {
  BORN,
  GIVEN_TITLES,
  HONORIFICS,
  PREFIXES,
  SECOND_GIVEN,
  SUFFIXES,
  THAI_TITLE,
  TITLES_WITH_POINT,
} from './name-tables';
import { isPrefix } from './titles';
import {
  bare,
  isInitial,
  isParticle,
  repairCase,
  spokenOrder,
  splitGiven,
  writtenFamilyFirst,
  type NameOrder,
} from './name-order';

export interface PersonName {
  prefix: string;
  givenName: string;
  additionalNames: string;
  familyName: string;
  suffix: string;
  nickname: string;
}

export type NameFault = 'twoPeople' | 'notAPerson';

export interface NameSplit {
  name: PersonName;
  /** How sure the split is, 0 to 1; below 0.75 it is offered for review. */
  certainty01: number;
  fault: NameFault | null;
}

const CJK = /^[\p{Script=Han}\p{Script=Hangul}\p{Script=Hiragana}\p{Script=Katakana}\s・]+$/u;
const TWO = /\s(?:&|\+|and|or|und|oder|et|ou|och|eller|og|en|és)\s|\s?[&+/]\s?(?=\p{L})/iu;
/** "And" where it is a letter, which stands within names of one person too. */
const SHORT_TWO = /\s(?:[eyiи]|ja|та)\s+(\p{L}+)\s+\p{L}/iu;
/** Whose child somebody is, as names of India and Malaysia say it: no second person. */
const CHILD_OF = /\s(?:[sdw]\/o|a\/[lp])\s/i;
const OF_SEVERAL = 'misses|messrs|mssrs|mesdames|messieurs|eheleute|ehepaar|geschwister|gebrüder';
export const FAMILY = new RegExp(
  String.raw`^(?:the\s+)?(?:(?:${OF_SEVERAL})\.?\s+\S|fam\.\s*\S|(?:family|familie|famille|familia|famiglia)\s+\S)` +
    String.raw`|\s(?:family|household|haushalt)$|^family$|^(?:the\s+)\S+s$`,
  'i',
);

const DOTTED = /^(?:[A-Z]\.){2,}$/;

function isSuffix(token: string): boolean {
  return SUFFIXES.has(bare(token)) || DOTTED.test(token);
}

const EMPTY: PersonName = { prefix: '', givenName: '', additionalNames: '', familyName: '', suffix: '', nickname: '' };

const HANGUL = /^\p{Script=Hangul}+$/u;

/** A name and what is said behind it. */
function withoutHonorific(text: string): { plain: string; honorific: string } {
  for (const [words, fewest] of HONORIFICS)
    for (const honorific of words.split(' ')) {
      if (!text.endsWith(honorific)) continue;
      const plain = text.slice(0, -honorific.length);
      if (plain.trim().length >= (/\s$/.test(plain) ? 1 : fewest)) return { plain: plain.trim(), honorific };
    }
  return { plain: text, honorific: '' };
}

function splitCjk(text: string): NameSplit {
  const { plain, honorific } = withoutHonorific(text);
  if (!honorific) return splitPlainCjk(text);
  // Whom one calls so in Japan or Korea by a name that is no longer than a family's is called by it; so is "王先生".
  const isFamily = plain.length === 1 || (plain.length === 2 && /^[様さ殿]/u.test(honorific));
  const split = splitPlainCjk(plain);
  return isFamily
    ? { name: { ...EMPTY, familyName: plain, suffix: honorific }, certainty01: 0.7, fault: null }
    : { ...split, name: { ...split.name, suffix: honorific } };
}

function splitPlainCjk(text: string): NameSplit {
  const [family = '', ...rest] = text.split(/[\s・]+/);
  if (rest.length)
    return { name: { ...EMPTY, familyName: family, givenName: rest.join(' ') }, certainty01: 0.95, fault: null };
  const cut = familySigns(family);
  if (family.length < 2) return { name: { ...EMPTY, givenName: family }, certainty01: 0.5, fault: null };
  return {
    name: { ...EMPTY, familyName: family.slice(0, cut), givenName: family.slice(cut) },
    certainty01: HANGUL.test(family) ? 0.85 : 0.7,
    fault: null,
  };
}

interface Ends {
  prefix: string;
  core: string[];
  suffix: string;
}

/** Titles that lists write behind a name as well ("Okafor Maya Mrs"), and that are no names. */
const BEHIND = new Set(
  'mr mrs ms miss mx dr prof herr frau mme mlle dhr mevr mevrouw sra srta signora pan pani'.split(' '),
);

/** Titles at the front and degrees at the end, apart from the name between them. */
function withoutEnds(words: string[], letters = ''): Ends {
  const isBehind = words.length > 1 && BEHIND.has(bare(words.at(-1) ?? ''));
  const tokens = isBehind ? [words.at(-1) ?? '', ...words.slice(0, -1)] : words;
  let from = 0;
  let to = tokens.length;
  if (/^the$/i.test(tokens[0] ?? '') && isPrefix(tokens[1] ?? '', to - 2)) from = 1;
  // A small letter before a whole name is no initial: "p. Jan Novák".
  else if (to > 2 && /^[dgp]\.$/.test(tokens[0] ?? '') && /^\p{Lu}/u.test(tokens[1] ?? '')) from = 1;
  if (/^de$/i.test(tokens[0] ?? '') && /^heer$/i.test(tokens[1] ?? '') && to > 2) from = 2;
  while (
    from < to - 1 &&
    isPrefix(tokens[from] ?? '', to - from - 1, letters) &&
    !(
      from > 0 &&
      isInitial(tokens[from] ?? '') &&
      !TITLES_WITH_POINT.has(bare(tokens[from] ?? '')) &&
      !letters.includes(bare(tokens[from] ?? ''))
    )
  )
    from++;
  while (to > from + 1 && isSuffix(tokens[to - 1] ?? '')) {
    // "Smith J.A." and "van Dijk P.J." have nothing else that could be a given name.
    const others = tokens.slice(from, to - 1).filter((token) => !isParticle(token));
    if (others.length < 2 && !SUFFIXES.has(bare(tokens[to - 1] ?? ''))) break;
    to--;
  }
  return { prefix: tokens.slice(0, from).join(' '), core: tokens.slice(from, to), suffix: tokens.slice(to).join(' ') };
}

/** What a line of a report says that is no record of anybody. */
const REPORT_LINE = new RegExp(
  `^[\\s*=.-]*(?:${[
    '(?:grand |sub)?-?totals?|sub total|sum|(?:gesamt|zwischen)?summe|gesamt|total general|totale|totaal|' +
      'suma|razem|yhteensä|celkem|összesen|toplam|итого|всего|合計|合计|总计|합계',
    'end(?: of (?:the )?(?:list|file|report|data|export))?|ende(?: der liste)?|ende der datei|fin(?: de la liste| del listado)?|koniec|konec',
    '\\d+ (?:records?|rows?|contacts?|people|members?|entries|einträge|datensätze|lignes|registros|righe|wierszy)(?: in total)?',
  ].join('|')})[\\s*=.:-]*$`,
  'i',
);
/** Legal forms of firms, and what bodies that are no firm end in. */
const FIRM =
  /\s(?:foundation|association|e\.?\s?v\.?|stiftung|gmbh|ltd|limited|inc|llc|plc|corp|sarl|s\.?r\.?l|b\.v|kft|ltda|lda|s\.r\.o|sp\. z o\.o)\.?$/i;

/** Whether a name ends in the legal form of a firm. */
export function isFirm(text: string): boolean {
  return FIRM.test(text);
}

/** Whether a text is a line of a report ("Total", "12 records", "End of list") where a record of somebody would be. */
export function isReportLine(text: string): boolean {
  return text.length < 60 && REPORT_LINE.test(text);
}

function tokensOf(text: string): string[] {
  return text.split(' ').filter(Boolean);
}

/** Whether a text has a number in it, and not just a letter that was read as a digit ("Ke1ly", "5chmidt"). */
function hasNumber(text: string): boolean {
  return (
    /\d/.test(text) &&
    (/\d(?:st|nd|rd|th)\b/i.test(text) || /\d/.test(text.replace(/(?<=\p{L})[0158]|[0158](?=\p{L}{2})/gu, '')))
  );
}

/** Whether a text names more than one person, or a family. */
function namesSeveral(text: string): boolean {
  if (FAMILY.test(text)) return true;
  const short = SHORT_TWO.exec(text)?.[1];
  if (short && isGivenName(bare(short))) return true;
  return TWO.test(text.replace(CHILD_OF, ' '));
}

/** Titles of women that go on behind their point: "Sig.ra", "Dott.ssa". */
const HER_TITLE = /^\s*(?:sig|dott|prof|dr|d|avv|sr|egr)\.(?:ra|na|ssa|in|ta)(?![\p{L}])/iu;

/** A title that is written up to the name, "Dr.Smith", has a blank behind it. */
function withTitlesApart(text: string): string {
  return text
    .replace(THAI_TITLE, '$1 ')
    .replace(/(^|\s)(\p{L}{2,5}\.)(?=\p{L}{2})/gu, (all, before: string, title: string, at: number) =>
      PREFIXES.has(bare(title)) && !HER_TITLE.test(text.slice(at)) ? `${before}${title} ` : all,
    );
}

const joined = (...parts: string[]) => parts.filter(Boolean).join(' ');

interface Asides {
  plain: string;
  nickname: string;
  /** What stood in brackets and is part of the suffix: a degree, or the name at birth. */
  behind: string;
  certain: boolean;
}

const startsBorn = (token: string) => BORN.has(bare(token)) && token === token.toLowerCase();

/** Names in quotes and brackets, apart from the rest. */
function withoutAsides(text: string): Asides {
  let nickname = '';
  let behind = '';
  let certain = true;
  const plain = tidyText(
    text.replace(/["“”„«»]([^"“”„«»]+)["“”„«»]|\(([^()]+)\)/gu, (_, quoted?: string, bracketed?: string) => {
      const aside = tidyText(quoted ?? bracketed ?? '');
      const tokens = tokensOf(aside);
      if (
        bracketed &&
        (startsBorn(tokens[0] ?? '') || tokens.every((token) => bare(token) === 'ret' || isSuffix(token)))
      )
        behind = [behind, startsBorn(tokens[0] ?? '') ? aside : `(${aside})`].filter(Boolean).join(' ');
      else {
        // Two words in brackets are more likely a firm or a remark; small letters are one ("deceased").
        if (bracketed && (tokens.length > 1 || /^\p{Ll}/u.test(aside))) certain = false;
        if (bracketed && /^\p{Ll}/u.test(aside)) behind = joined(behind, `(${aside})`);
        else nickname = aside;
      }
      return ' ';
    }),
  );
  return { plain, nickname, behind, certain };
}

/** The name at birth behind a name: "Elizabeth Windsor née Smith". */
function withoutBorn(tokens: string[]): { tokens: string[]; born: string } {
  const at = tokens.findIndex((token, i) => i > 0 && i < tokens.length - 1 && startsBorn(token));
  return at < 0 ? { tokens, born: '' } : { tokens: tokens.slice(0, at), born: tokens.slice(at).join(' ') };
}

/** A name with a comma: family, given. Small words behind the given names belong before the family name ("Gogh, Vincent van"). */
function splitAtComma(
  segments: string[],
  shouted: boolean,
  letterTitles: string,
): { ends: Ends; name: Partial<PersonName>; certainty01: number } {
  const [familyPart = '', ...givenParts] = segments;
  const given = withoutEnds(tokensOf(givenParts.join(' ')), letterTitles);
  const family = withoutEnds(tokensOf(familyPart), letterTitles);
  const mend = (part: string) => (shouted ? repairCase(part) : part);
  let to = given.core.length;
  while (to > 1 && isParticle(given.core[to - 1] ?? '') && given.core[to - 1] === given.core[to - 1]?.toLowerCase())
    to--;
  const core = given.core.slice(0, to);
  const particles = given.core.slice(to);
  const split =
    core.length === 2 && !core.some(isInitial) && !SECOND_GIVEN.has(bare(core[1] ?? ''))
      ? { ...splitGiven(core), certainty01: 0.8 }
      : splitGiven(core);
  return {
    ends: { prefix: joined(family.prefix, given.prefix), core, suffix: joined(family.suffix, given.suffix) },
    name: {
      givenName: mend(split.givenName),
      additionalNames: mend(split.additionalNames),
      familyName: joined(...particles, repairCase(family.core.join(' '), { shouted: true })),
    },
    certainty01: Math.min(0.95, split.certainty01),
  };
}

/** One word behind a title: the family name, but for titles that go with given names. */
function withTitle(token: string, prefix: string): { name: Partial<PersonName>; certainty01: number } {
  const title = bare(prefix.split(' ').at(-1) ?? '');
  const isGiven = GIVEN_TITLES.has(title) || isInitial(token);
  return { name: isGiven ? { givenName: token } : { familyName: token }, certainty01: 0.8 };
}

function splitSpoken(
  core: string[],
  prefix: string,
  order: NameOrder,
): { name: Partial<PersonName>; certainty01: number } {
  if (core.length === 1 && prefix) return withTitle(core[0] ?? '', prefix);
  const allCaps =
    core.length > 1 &&
    core.every((t) => t === t.toUpperCase()) &&
    core.some((t) => t.length > 2 && t !== t.toLowerCase());
  const twoFamilies = order === 'twoFamilies';
  if (!allCaps) return order === 'familyFirst' ? writtenFamilyFirst(core) : spokenOrder(core, { twoFamilies });
  let tokens = core.map((token) => repairCase(token));
  if (order === 'familyFirst') return writtenFamilyFirst(tokens);
  const [a = '', b = ''] = tokens;
  if (tokens.length === 2 && isGivenName(bare(b)) && !isGivenName(bare(a))) tokens = [b, a];
  const { name, certainty01 } = spokenOrder(tokens, { twoFamilies });
  return { name, certainty01: Math.min(certainty01, 0.7) };
}

/** A name without what a list puts around it: its number, marks that point to a footnote, quotation marks around the whole. */
function withoutMarks(text: string): string {
  const inner = text.replace(/^\d{1,4}[.)]\s+(?=\p{L}{2})/u, '').replace(/^[*†‡#•]+\s*|\s*[*†‡#•]+$/gu, '');
  const plain = /^["“„«]([^"“”„«»]+)["”“»]$/u.exec(inner)?.[1]?.trim() ?? inner;
  return plain.includes(',') ? plain : plain.replace(/^([^;]+);\s*([^;]+)$/, '$1, $2');
}

/**
 * Splits a full name as people write it into the parts of vCard 4 N (RFC 6350, 6.2.2), with a stated certainty.
 * Reads titles, suffixes, particles, family-first writings (comma, capitals, East Asian), nicknames in quotes, names at birth.
 * `order` is how the list writes names that do not tell by themselves, `letterTitles` the small letters that are titles in it as
 * M. is in French and D. in Spanish. Never loses a word: joining the parts gives all words back.
 */
export function splitName(text: string, order: NameOrder = 'givenFirst', letterTitles = ''): NameSplit {
  const whole = withoutMarks(tidyText(text.normalize('NFC')));
  if (!whole) return { name: EMPTY, certainty01: 0, fault: null };
  if (/@|https?:|:$|: /.test(whole) || hasNumber(whole) || isReportLine(whole) || isFirm(whole))
    return { name: { ...EMPTY, givenName: whole }, certainty01: 0, fault: 'notAPerson' };
  if (namesSeveral(whole)) return { name: { ...EMPTY, familyName: whole }, certainty01: 0, fault: 'twoPeople' };
  if (CJK.test(whole)) return splitCjk(whole);

  const { plain, nickname, behind, certain } = withoutAsides(withTitlesApart(whole));
  const segments = plain.split(',').map(tidyText).filter(Boolean);
  let suffix = '';
  while (segments.length > 1 && tokensOf(segments[segments.length - 1] ?? '').every(isSuffix))
    suffix = joined(segments.pop() ?? '', suffix);

  if (segments.length > 1) {
    const { ends, name, certainty01 } = splitAtComma(segments, plain === plain.toUpperCase(), letterTitles);
    return {
      name: { ...EMPTY, ...name, prefix: ends.prefix, suffix: joined(ends.suffix, suffix, behind), nickname },
      certainty01: certain ? certainty01 : Math.min(certainty01, 0.65),
      fault: null,
    };
  }
  const { tokens, born } = withoutBorn(tokensOf(segments[0] ?? ''));
  const { prefix, core, suffix: tail } = withoutEnds(tokens, letterTitles);
  const { name, certainty01 } = splitSpoken(core, prefix, order);
  return {
    name: { ...EMPTY, ...name, prefix, suffix: joined(tail, suffix, born, behind), nickname },
    certainty01: certain ? certainty01 : Math.min(certainty01, 0.65),
    fault: null,
  };
}

/** The parts in spoken order; the inverse of splitName for names it is certain of. */
export function joinName(name: Partial<PersonName>): string {
  const cjk = name.familyName && CJK.test(`${name.familyName}${name.givenName ?? ''}`);
  const core = cjk ? [name.familyName, name.givenName] : [name.givenName, name.additionalNames, name.familyName];
  return [name.prefix, ...core, name.suffix].filter(Boolean).join(' ');
}
