import { foldText, tidyText } from './fold';
import { FAMILY_FIRST, ONE_SYLLABLE_FAMILIES, PARTICLES, PREFIXES, SECOND_GIVEN, SUFFIXES } from './name-tables';
import { isKnownGivenName } from './nicknames';

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
const TWO = /\s(?:&|\+|and|und|et|och|og|en)\s|\s?[&+/]\s?(?=\p{L})/iu;
const FAMILY = /^(?:the\s+)?(?:family\s+\S|familie\s+\S|famille\s+\S)|\bfamily$|^(?:the\s+)\S+s$/i;

function bare(token: string): string {
  return foldText(token).replace(/ /g, '');
}

function isPrefix(token: string): boolean {
  return PREFIXES.has(bare(token));
}

function isSuffix(token: string): boolean {
  return SUFFIXES.has(bare(token)) || /^(?:[A-Z]\.){2,}$/.test(token);
}

function isParticle(token: string): boolean {
  return PARTICLES.has(bare(token)) || /^(?:d|l)['’]$/i.test(token);
}

function isInitial(token: string): boolean {
  return /^\p{L}\.?$/u.test(token) || /^(?:\p{Lu}\.){1,4}$/u.test(token);
}

/** Text all in capitals or all in small letters, written as a name: "SMITH-JONES" becomes "Smith-Jones". */
export function repairCase(text: string): string {
  const letters = text.replace(/[^\p{L}]/gu, '');
  if (letters.length < 2 || (letters !== letters.toUpperCase() && letters !== letters.toLowerCase())) return text;
  if (letters === letters.toUpperCase() && letters === letters.toLowerCase()) return text;
  return text
    .toLowerCase()
    .replace(/(^|[\s\-'’.])(\p{L})/gu, (_, before: string, letter: string) => before + letter.toUpperCase())
    .replace(/\bMc(\p{L})/gu, (_, letter: string) => `Mc${letter.toUpperCase()}`);
}

const EMPTY: PersonName = { prefix: '', givenName: '', additionalNames: '', familyName: '', suffix: '', nickname: '' };

/** The commonest family names of one sign, Chinese and Korean; three signs that begin otherwise are two and one, as in Japan. */
const ONE_SIGN_FAMILIES = new Set(
  '王李张張刘劉陈陳杨楊黄黃赵趙吴吳周徐孙孫马馬朱胡郭何高罗羅郑鄭梁谢謝宋唐许許韩韓冯馮邓鄧曹彭曾肖蕭董袁潘于蒋蔣蔡余杜叶葉程苏蘇魏吕呂丁任沈姚卢盧姜崔钟鍾谭譚陆陸汪范金廖贾賈韦韋付方白邹鄒孟熊秦邱尹薛闫閆段雷侯龙龍陶黎贺賀顾顧毛郝龚龔邵万萬钱錢严嚴武戴莫孔汤湯朴林',
);

function splitCjk(text: string): NameSplit {
  const [family = '', ...rest] = text.split(/[\s・]+/);
  if (rest.length)
    return { name: { ...EMPTY, familyName: family, givenName: rest.join(' ') }, certainty01: 0.95, fault: null };
  const cut = family.length === 2 || (family.length === 3 && ONE_SIGN_FAMILIES.has(family[0] ?? '')) ? 1 : 2;
  if (family.length < 2) return { name: { ...EMPTY, givenName: family }, certainty01: 0.5, fault: null };
  return {
    name: { ...EMPTY, familyName: family.slice(0, cut), givenName: family.slice(cut) },
    certainty01: 0.7,
    fault: null,
  };
}

function splitGiven(tokens: string[]): { givenName: string; additionalNames: string; certainty01: number } {
  if (tokens.length < 2) return { givenName: tokens[0] ?? '', additionalNames: '', certainty01: 1 };
  const [first = '', ...rest] = tokens;
  if (rest.every(isInitial)) return { givenName: first, additionalNames: rest.join(' '), certainty01: 0.95 };
  if (rest.length === 1 && SECOND_GIVEN.has(bare(rest[0] ?? '')))
    return { givenName: tokens.join(' '), additionalNames: '', certainty01: 0.85 };
  return { givenName: first, additionalNames: rest.join(' '), certainty01: 0.65 };
}

function splitSpoken(tokens: string[]): {
  parts: Omit<PersonName, 'prefix' | 'suffix' | 'nickname'>;
  certainty01: number;
} {
  const last = tokens.length - 1;
  if (last <= 0)
    return { parts: { givenName: tokens[0] ?? '', additionalNames: '', familyName: '' }, certainty01: 0.8 };
  if (tokens.length === 3 && FAMILY_FIRST.has(bare(tokens[0] ?? ''))) {
    return {
      parts: { familyName: tokens[0] ?? '', additionalNames: tokens[1] ?? '', givenName: tokens[2] ?? '' },
      certainty01: 0.6,
    };
  }
  const shown = familyFirst(tokens);
  if (shown) return shown;
  const capitals = tokens.filter(
    (t) => t.length > 2 && t === t.toUpperCase() && t !== t.toLowerCase() && !isInitial(t),
  );
  if (capitals.length && capitals.length < tokens.length && capitals[0] === tokens[0]) {
    const family = tokens.slice(0, capitals.length);
    return {
      parts: { ...splitGiven(tokens.slice(capitals.length)), familyName: repairCase(family.join(' ')) },
      certainty01: 0.85,
    };
  }
  // The last group of particles begins the family name; more than one group leaves doubt.
  let start = -1;
  let groups = 0;
  for (let i = 1; i <= last; i++) {
    if (i < last && isParticle(tokens[i] ?? '') && !isParticle(tokens[i - 1] ?? '')) {
      start = i;
      groups++;
    }
  }
  if (start > 0) {
    const given =
      groups > 1
        ? { givenName: tokens.slice(0, start).join(' '), additionalNames: '', certainty01: 0.6 }
        : compoundGiven(tokens.slice(0, start));
    return { parts: { ...given, familyName: tokens.slice(start).join(' ') }, certainty01: given.certainty01 };
  }
  const given = splitGiven(tokens.slice(0, last));
  return { parts: { ...given, familyName: tokens[last] ?? '' }, certainty01: Math.min(0.95, given.certainty01) };
}

/** A name of a father, as Slavic names have it between given and family name or behind both. */
const PATRONYMIC = /(?:(?:ов|ев|йов)ич|(?:ов|ев|ён|ен)на|ична|инична|(?:ov|ev|yev)ich|(?:ov|ev|yev)na|ichna)$/iu;

/** Names that show by themselves that the family name comes first; null where nothing does. */
function familyFirst(tokens: string[]): ReturnType<typeof splitSpoken> | null {
  const last = tokens.length - 1;
  const [first = '', second = '', third = ''] = tokens;
  const parts = (familyName: string, givenName: string, additionalNames: string, certainty01: number) => ({
    parts: { familyName, givenName, additionalNames },
    certainty01,
  });
  if (tokens.length === 3 && PATRONYMIC.test(third) && !PATRONYMIC.test(second))
    return parts(first, second, third, 0.9);
  if (tokens.length === 3 && PATRONYMIC.test(second)) return parts(third, first, second, 0.9);
  if (isParticle(first) && first === first.toLowerCase() && first !== first.toUpperCase()) {
    let to = 0;
    while (to < last - 1 && isParticle(tokens[to] ?? '')) to++;
    return parts(tokens.slice(0, to + 1).join(' '), tokens.slice(to + 1).join(' '), '', 0.7);
  }
  if (last === 1 && isInitial(second) && !isInitial(first) && first.length > 2) return parts(first, second, '', 0.7);
  const isSyllable = (token: string) => token.length <= 5 && !isKnownGivenName(bare(token));
  if (last === 2 && ONE_SYLLABLE_FAMILIES.has(bare(first)) && isSyllable(second) && isSyllable(third))
    return parts(first, `${second} ${third}`, '', 0.6);
  // Two given names and two family names, as in Spanish.
  if (last === 3 && !tokens.some(isParticle) && !tokens.some(isInitial) && isSecondGiven(second))
    return parts(`${third} ${tokens[3] ?? ''}`, `${first} ${second}`, '', 0.65);
  return null;
}

const isSecondGiven = (token: string) => SECOND_GIVEN.has(bare(token)) || isKnownGivenName(bare(token));

function compoundGiven(tokens: string[]): { givenName: string; additionalNames: string; certainty01: number } {
  const given = splitGiven(tokens);
  return given.certainty01 < 0.7 ? { ...given, certainty01: 0.7 } : given;
}

function withoutEnds(tokens: string[]): { prefix: string; core: string[]; suffix: string } {
  let from = 0;
  let to = tokens.length;
  while (from < to - 1 && isPrefix(tokens[from] ?? '') && !(from > 0 && isInitial(tokens[from] ?? ''))) from++;
  while (to > from + 1 && isSuffix(tokens[to - 1] ?? '')) to--;
  return { prefix: tokens.slice(0, from).join(' '), core: tokens.slice(from, to), suffix: tokens.slice(to).join(' ') };
}

/** Lines of a report, and legal forms of firms. */
const NO_PERSON =
  /^(?:(?:grand |sub)?-?totals?|sub total|(?:gesamt|zwischen)?summe|gesamt|total general|totale|totaal|suma|razem|yhteensä|celkem|összesen|toplam|итого|всего)$|\s(?:gmbh|ltd|limited|inc|llc|plc|corp|sarl|s\.?r\.?l|b\.v|kft|ltda|lda|s\.r\.o|sp\. z o\.o)\.?$/i;

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

/**
 * Splits a full name as people write it into the parts of vCard 4 N (RFC 6350, 6.2.2), with a stated certainty.
 * Reads titles, suffixes, particles, family-first writings (comma, capitals, East Asian), nicknames in quotes.
 * Never loses a word: joining the parts gives all words back.
 */
export function splitName(text: string): NameSplit {
  const plain = tidyText(text.normalize('NFC'));
  if (!plain) return { name: EMPTY, certainty01: 0, fault: null };
  if (/@|https?:|:$|: /.test(plain) || hasNumber(plain) || NO_PERSON.test(plain))
    return { name: { ...EMPTY, givenName: plain }, certainty01: 0, fault: 'notAPerson' };
  if (TWO.test(plain) || FAMILY.test(plain))
    return { name: { ...EMPTY, familyName: plain }, certainty01: 0, fault: 'twoPeople' };
  if (CJK.test(plain)) return splitCjk(plain);

  let nickname = '';
  const unquoted = tidyText(
    plain.replace(/["“”„«»]([^"“”„«»]+)["“”„«»]|\(([^()]+)\)/gu, (_, quoted?: string, bracketed?: string) => {
      nickname = (quoted ?? bracketed ?? '').trim();
      return ' ';
    }),
  );
  const segments = unquoted.split(',').map(tidyText).filter(Boolean);
  let suffix = '';
  while (segments.length > 1 && tokensOf(segments[segments.length - 1] ?? '').every(isSuffix))
    suffix = [segments.pop(), suffix].filter(Boolean).join(' ');

  if (segments.length > 1) {
    const [familyPart = '', ...givenParts] = segments;
    const { prefix, core, suffix: tail } = withoutEnds(tokensOf(givenParts.join(' ')));
    const family = withoutEnds(tokensOf(familyPart));
    const allCaps = unquoted === unquoted.toUpperCase();
    const mend = (part: string) => (allCaps ? repairCase(part) : part);
    const given =
      core.length === 2 && !core.some(isInitial) && !SECOND_GIVEN.has(bare(core[1] ?? ''))
        ? { ...splitGiven(core), certainty01: 0.8 }
        : splitGiven(core);
    return {
      name: {
        prefix: [family.prefix, prefix].filter(Boolean).join(' '),
        givenName: mend(given.givenName),
        additionalNames: mend(given.additionalNames),
        familyName: mend(family.core.join(' ')),
        suffix: [family.suffix, tail, suffix].filter(Boolean).join(' '),
        nickname,
      },
      certainty01: Math.min(0.95, given.certainty01),
      fault: null,
    };
  }

  const { prefix, core, suffix: tail } = withoutEnds(tokensOf(segments[0] ?? ''));
  const allCaps =
    core.length > 1 &&
    core.every((t) => t === t.toUpperCase()) &&
    core.some((t) => t.length > 2 && t !== t.toLowerCase());
  let tokens = core;
  let doubt = 1;
  if (allCaps) {
    tokens = core.map(repairCase);
    const [a = '', b = ''] = tokens;
    if (tokens.length === 2 && isKnownGivenName(bare(b)) && !isKnownGivenName(bare(a))) tokens = [b, a];
    doubt = 0.7;
  }
  const { parts, certainty01 } = splitSpoken(tokens);
  return {
    name: { prefix, ...pick(parts), suffix: [tail, suffix].filter(Boolean).join(' '), nickname },
    certainty01: Math.min(certainty01, doubt),
    fault: null,
  };
}

function pick(
  parts: Omit<PersonName, 'prefix' | 'suffix' | 'nickname'>,
): Omit<PersonName, 'prefix' | 'suffix' | 'nickname'> {
  return { givenName: parts.givenName, additionalNames: parts.additionalNames, familyName: parts.familyName };
}

/** The parts in spoken order; the inverse of splitName for names it is certain of. */
export function joinName(name: Partial<PersonName>): string {
  const cjk = name.familyName && CJK.test(`${name.familyName}${name.givenName ?? ''}`);
  const core = cjk ? [name.familyName, name.givenName] : [name.givenName, name.additionalNames, name.familyName];
  return [name.prefix, ...core, name.suffix].filter(Boolean).join(' ');
}
