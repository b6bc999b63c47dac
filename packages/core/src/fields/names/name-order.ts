import { isPrefix } from './titles';
import { foldText } from '../values/fold';
import { isAlsoFamily, isFamilyOfFamilyFirst, isGivenName } from './given-names';
import {
  BETWEEN_FAMILIES,
  FAMILY_FIRST,
  ONE_SYLLABLE_FAMILIES,
  PARTICLES,
  RANKS_OF_NOBILITY,
  SECOND_GIVEN,
} from './name-tables';

/** The words of a name between titles and degrees, each in its part. */
export interface Ordered {
  name: { givenName: string; additionalNames: string; familyName: string };
  certainty01: number;
}

/** A word of a name folded, without blanks. */
export function bare(token: string): string {
  return foldText(token).replace(/ /g, '');
}

export function isParticle(token: string): boolean {
  return PARTICLES.has(bare(token)) || /^(?:d|l)['’]$/i.test(token);
}

/** Three or four capitals without a vowel are initials written together ("JRR"). */
const INITIALS = /^(?:\p{L}\.?|(?:\p{Lu}\.){1,4}|(?:\p{Lu}\.?-){1,2}\p{Lu}\.?|[BCDFGHJKLMNPQRSTVWXZ]{2,4})$/u;

export function isInitial(token: string): boolean {
  return INITIALS.test(token);
}

const SMALL_BEGINNING = /^(?:Mc|Mac|Fitz|O['’]|D['’]|Le|La|De|Van)(?=\p{Lu}{2})/u;

/** Whether a word is in capitals, but for what a name begins with ("McDONALD"). */
function isShouted(token: string): boolean {
  const rest = token.replace(SMALL_BEGINNING, '');
  return rest.length > 1 && rest === rest.toUpperCase() && rest !== rest.toLowerCase() && !isInitial(token);
}

/**
 * Text all in capitals or all in small letters, written as a name: "SMITH-JONES" becomes "Smith-Jones". With `shouted`
 * only what is in capitals.
 */
export function repairCase(text: string, { shouted = false } = {}): string {
  const letters = text.replace(/[^\p{L}]/gu, '');
  const upper = letters === letters.toUpperCase();
  if (letters.length < 2 || (!upper && letters !== letters.toLowerCase())) return mixedCapitals(text);
  if ((upper && letters === letters.toLowerCase()) || (shouted && (!upper || isInitial(text)))) return text;
  return text
    .toLowerCase()
    .replace(/(^|[\s\-'’.])(\p{L})/gu, (_, before: string, letter: string) => before + letter.toUpperCase())
    .replace(/\bMc(\p{L})/gu, (_, letter: string) => `Mc${letter.toUpperCase()}`);
}

/** "McDONALD" as "McDonald"; anything else stays as it is. */
function mixedCapitals(text: string): string {
  const found = /^(Mc|Mac|Fitz)(\p{Lu})(\p{Lu}+)$/u.exec(text);
  return found ? `${found[1]}${found[2]}${found[3]?.toLowerCase()}` : text;
}

export function splitGiven(tokens: string[]): { givenName: string; additionalNames: string; certainty01: number } {
  if (tokens.length < 2) return { givenName: tokens[0] ?? '', additionalNames: '', certainty01: 1 };
  const [first = '', ...rest] = tokens;
  if (rest.every(isInitial)) return { givenName: first, additionalNames: rest.join(' '), certainty01: 0.95 };
  if (rest.length === 1 && SECOND_GIVEN.has(bare(rest[0] ?? '')))
    return { givenName: tokens.join(' '), additionalNames: '', certainty01: 0.85 };
  return { givenName: first, additionalNames: rest.join(' '), certainty01: 0.65 };
}

const ordered = (familyName: string, givenName: string, additionalNames: string, certainty01: number): Ordered => ({
  name: { familyName, givenName, additionalNames },
  certainty01,
});

/** Words in capitals that a name begins with, while the rest is written otherwise: its family name. */
function leadingCapitals(tokens: string[]): number {
  let n = 0;
  while (
    n < tokens.length &&
    (isShouted(tokens[n] ?? '') || (isParticle(tokens[n] ?? '') && isCapital(tokens[n] ?? '')))
  )
    n++;
  return n < tokens.length && tokens.slice(0, n).some((token) => token.length > 2) ? n : 0;
}

const isCapital = (token: string) => token.length > 1 && token === token.toUpperCase();

/**
 * A name in the order in which it is spoken, given name first, unless something in it shows otherwise. With `twoFamilies` a
 * word that is not known to be a given name is the first of two family names.
 */
export function spokenOrder(tokens: string[], { twoFamilies = false } = {}): Ordered {
  const last = tokens.length - 1;
  if (last <= 0) return ordered('', tokens[0] ?? '', '', 0.8);
  const shown = showsFamilyFirst(tokens);
  if (shown) return shown;
  const capitals = leadingCapitals(tokens);
  if (capitals) {
    const { certainty01: _, ...given } = splitGiven(tokens.slice(capitals));
    return {
      name: { ...given, familyName: repairCase(tokens.slice(0, capitals).join(' ')) },
      certainty01: 0.85,
    };
  }
  const { start, groups } = familyStart(tokens);
  if (twoFamilies && start === last && last > 1) return withTwoFamilies(tokens);
  const family = repairCase(tokens.slice(start).join(' '), { shouted: true });
  const before = tokens.slice(0, start);
  if (start === last) {
    const { certainty01, ...given } = splitGiven(before);
    return { name: { ...given, familyName: family }, certainty01: Math.min(0.95, certainty01) };
  }
  if (groups > 1) return ordered(family, before.join(' '), '', 0.6);
  const { certainty01, ...given } = splitGiven(before);
  return { name: { ...given, familyName: family }, certainty01: Math.max(0.7, certainty01) };
}

/** Given names up to where two family names are left, or one where the word before it is a given name ("José María García"). */
function withTwoFamilies(tokens: string[]): Ordered {
  const last = tokens.length - 1;
  const before = tokens[last - 1] ?? '';
  const hasOne = isInitial(before) || isSecondGiven(before);
  const start = hasOne ? last : last - 1;
  return ordered(tokens.slice(start).join(' '), tokens.slice(0, start).join(' '), '', hasOne ? 0.75 : 0.85);
}

/** Where the family name begins: at the last group of small words; more than one group leaves doubt. */
function familyStart(tokens: string[]): { start: number; groups: number } {
  const last = tokens.length - 1;
  let start = -1;
  let groups = 0;
  for (let i = 1; i < last; i++) {
    const token = tokens[i] ?? '';
    if (BETWEEN_FAMILIES.has(bare(token))) {
      // "Ortega y Gasset", "da Silva e Souza": one family name, with what stood before the small word.
      if (i > 1) start = start > 0 ? start : i - 1;
      groups = Math.max(groups, i > 1 ? 1 : 0);
    } else if (isParticle(token) && !isParticle(tokens[i - 1] ?? '')) {
      start = i;
      groups++;
    }
  }
  if (start < 0) return { start: last, groups: 0 };
  // "Georg Prinz von Preußen"
  if (start > 1 && RANKS_OF_NOBILITY.has(bare(tokens[start - 1] ?? ''))) start--;
  return { start, groups };
}

/** A name of a father, as Slavic names have it between given and family name or behind both. */
const PATRONYMIC = /(?:(?:ов|ев|йов)ич|(?:ов|ев|ён|ен)на|ична|инична|(?:ov|ev|yev)ich|(?:ov|ev|yev)na|ichna)$/iu;
/** A Korean given name in Latin letters. */
const TWO_SYLLABLES = /^\p{Lu}\p{Ll}{1,5}-\p{L}\p{Ll}{1,5}$/u;

const isGiven = (token: string) => isGivenName(bare(token));
const isSecondGiven = (token: string) =>
  SECOND_GIVEN.has(bare(token)) || (isGiven(token) && !isAlsoFamily(bare(token)));
const KOREAN_FAMILIES = new Set(['kim', 'lee', 'park', 'jung', 'jeong', 'kang', 'cho', 'yoon', 'lim', 'han', 'seo']);

/** Names that show by themselves that the family name comes first; null where nothing does. */
function showsFamilyFirst(tokens: string[]): Ordered | null {
  const last = tokens.length - 1;
  const [first = '', second = '', third = ''] = tokens;
  if (last >= 2 && last <= 3 && FAMILY_FIRST.has(bare(first)))
    return ordered(first, tokens[last] ?? '', tokens.slice(1, last).join(' '), 0.6);
  if (last === 2 && PATRONYMIC.test(third) && !PATRONYMIC.test(second)) return ordered(first, second, third, 0.9);
  if (last === 2 && PATRONYMIC.test(second)) return ordered(third, first, second, 0.9);
  if (isParticle(first) && (first !== first.toUpperCase() || last > 1)) {
    const small = first === first.toLowerCase();
    let to = 0;
    while (to < last - 1 && isParticle(tokens[to] ?? '')) to++;
    // "Lo Presti Giuseppe", but "Van Morrison" and "Di Marshall".
    if (small || (last > 1 && to < last && isGiven(tokens[to + 1] ?? '') && !isGiven(tokens[to] ?? '')))
      return ordered(repairCase(tokens.slice(0, to + 1).join(' ')), tokens.slice(to + 1).join(' '), '', 0.7);
  }
  // "Smith J", but "Anna S." has her family name cut off.
  if (last === 1 && isInitial(second) && !isInitial(first) && first.length > 2)
    return isOnlyGiven(first) ? ordered(second, first, '', 0.7) : ordered(first, second, '', 0.7);
  // "Smith John A", "Smith J. A."
  if (last === 2 && isInitial(third) && !isInitial(first) && first.length > 2 && !isGiven(first))
    return ordered(first, second, third, isGiven(second) ? 0.75 : 0.7);
  const isSyllable = (token: string) => token.length <= 5 && !isGiven(token);
  if (last === 2 && ONE_SYLLABLE_FAMILIES.has(bare(first)) && isSyllable(second) && isSyllable(third))
    return ordered(first, `${second} ${third}`, '', 0.6);
  if (
    last === 1 &&
    (KOREAN_FAMILIES.has(bare(first)) || ONE_SYLLABLE_FAMILIES.has(bare(first))) &&
    TWO_SYLLABLES.test(second) &&
    !isGiven(second.split('-')[0] ?? '')
  )
    return ordered(first, second, '', 0.85);
  // Two given names and two family names, as in Spanish.
  if (last === 3 && !tokens.some(isParticle) && !tokens.some(isInitial) && isSecondGiven(second))
    return ordered(`${third} ${tokens[3] ?? ''}`, `${first} ${second}`, '', 0.65);
  return null;
}

/** A name of a list that writes family names first, where neither comma nor capitals say where they end. */
export function writtenFamilyFirst(tokens: string[]): Ordered {
  const last = tokens.length - 1;
  if (last <= 0) return ordered(tokens[0] ?? '', '', '', 0.6);
  const capitals = leadingCapitals(tokens);
  if (
    capitals ||
    (last === 2 && tokens.some((token) => PATRONYMIC.test(token))) ||
    FAMILY_FIRST.has(bare(tokens[0] ?? ''))
  )
    return last === 1 ? ordered(repairCase(tokens[0] ?? ''), tokens[1] ?? '', '', 0.9) : spokenOrder(tokens);
  // One of a list who wrote it as it is spoken all the same.
  if (isOnlyGiven(tokens[0] ?? '') && !tokens.slice(1).some(isGiven)) {
    const { name } = spokenOrder(tokens);
    return { name, certainty01: 0.7 };
  }
  let to = 0;
  while (to < last - 1 && isParticle(tokens[to] ?? '')) to++;
  // The family name goes on up to the first word that is known to be a given name, where one is ("García Márquez Gabriel").
  const known = tokens.findIndex((token, i) => i > to && isGiven(token));
  const start = known > 0 ? known : to + 1;
  const given = tokens.slice(start);
  const together = given.length === 2 && ONE_SYLLABLE_FAMILIES.has(bare(tokens[0] ?? ''));
  const { certainty01, ...split } = together
    ? { givenName: given.join(' '), additionalNames: '', certainty01: 0.8 }
    : splitGiven(given);
  return {
    name: { ...split, familyName: tokens.slice(0, start).join(' ') },
    certainty01: Math.min(known > 0 ? 0.9 : 0.8, Math.max(0.7, certainty01)),
  };
}

/** Which part of a name a list writes first where nothing in the name itself tells; with `twoFamilies` the given name, and two family names behind. */
export type NameOrder = 'givenFirst' | 'familyFirst' | 'twoFamilies';

/** How many names of a list there are, and how many show by our tables which part comes first. */
export type NameVotes = Record<'givenFirst' | 'familyFirst' | 'asked', number>;

const isOnlyGiven = (token: string) =>
  (isGiven(token) && !isAlsoFamily(bare(token))) || (token.includes('-') && token.split('-').every(isGiven));

/** Asks every name of a list which part it has first, by words that are known as given or as family names. */
export function nameVotes(names: readonly string[]): NameVotes {
  const votes: NameVotes = { givenFirst: 0, familyFirst: 0, asked: names.length };
  for (const name of names) {
    let tokens = name.trim().split(/\s+/);
    const begins = tokens.findIndex((token, i) => !isPrefix(token, tokens.length - i - 1));
    tokens = tokens.slice(Math.max(0, begins));
    // A comma says the order by itself.
    if (/[,@\d]/.test(name) || tokens.length < 2 || tokens.length > 4) continue;
    const [first = '', second = ''] = tokens;
    const last = tokens.at(-1) ?? '';
    if (tokens.length === 3 && PATRONYMIC.test(last) !== PATRONYMIC.test(second))
      votes[PATRONYMIC.test(last) ? 'familyFirst' : 'givenFirst']++;
    else if (isInitial(first)) continue;
    else if (isGiven(first)) votes.givenFirst += isGiven(last) ? 0 : 1;
    else if (tokens.slice(1).some(isOnlyGiven)) votes.familyFirst++;
    else if (isFamilyOfFamilyFirst(first) !== isFamilyOfFamilyFirst(last))
      votes[isFamilyOfFamilyFirst(last) ? 'givenFirst' : 'familyFirst']++;
  }
  return votes;
}

/** Names that have to show an order before it is believed, their least share, and how many more than show the other. */
const LEAST_VOTES = 3;
const LEAST_SHARE01 = 0.1;
const TIMES_MORE = 3;

/** The order that a list writes names in, or null where it does not show. */
export function electOrder({ givenFirst, familyFirst, asked }: NameVotes): NameOrder | null {
  if (Math.max(givenFirst, familyFirst) < Math.max(LEAST_VOTES, LEAST_SHARE01 * asked)) return null;
  if (familyFirst >= TIMES_MORE * givenFirst) return 'familyFirst';
  return givenFirst >= TIMES_MORE * familyFirst ? 'givenFirst' : null;
}
