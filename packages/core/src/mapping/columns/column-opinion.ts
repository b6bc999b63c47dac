import { electOrder, type NameOrder } from '../../fields';
import type { ColumnProfile } from './column-values';
import { TOWN_LINE } from '../targets';

/** What a column may mean, and how sure that is. */
export interface Opinion {
  target: string | null;
  certainty01: number;
}

export const NONE: Opinion = { target: null, certainty01: 0 };

/** Share of titles before names, from which on a column is one of titles. */
const TITLES01 = 0.8;
/** How often a word comes again, from which on a column of single words is no column of people. */
const OFTEN = 4;
const FEW = 12;
/** Share of legal forms among names, from which on they are those of firms. */
const FIRMS01 = 0.3;

/** How letters begin. */
const GREETING = new RegExp(
  String.raw`^(?:dear|hello|hi|lieber?|liebe[rs]?|sehr geehrte[r]?|hallo|chers?|ch[eè]res?|bonjour|estimad[oa]s?` +
    String.raw`|querid[oa]s?|gentil[ei]|car[oaie]|beste|geachte|kj?ære|hej|b[aä]sta|drog[ai]|szanown[ayi]\w*` +
    String.raw`|vážen\w+|prezad[oa]s?)\s`,
  'iu',
);

/** Numbers, dates and mailboxes are no names, whatever the heading says. */
function isNoName({ email01, number01, date01 }: ColumnProfile): boolean {
  return email01 > 0.5 || number01 > 0.5 || date01 > 0.5;
}

function isOneOfFew({ filled, distinct, severalWords01 }: ColumnProfile): boolean {
  return severalWords01 < 0.2 && distinct <= FEW && filled >= 2 * OFTEN && filled >= OFTEN * distinct;
}

/** Checks what the heading says against what the cells hold. */
export function weighHeader(target: string, certainty01: number, p: ColumnProfile): Opinion {
  if (p.filled === 0) return { target, certainty01: certainty01 * 0.8 };
  const agree = (share: number, needed: number): Opinion =>
    share >= needed
      ? { target, certainty01: Math.min(0.99, certainty01 * 0.7 + 0.3 * share + 0.02) }
      : share > needed / 3
        ? { target, certainty01: certainty01 * 0.6 }
        : NONE;
  switch (target) {
    case 'email':
      return agree(p.email01, 0.5);
    case 'tel':
      return agree(Math.max(p.phone01, p.number01 * 0.6), 0.5);
    case 'bday':
    case 'anniversary':
    case 'opportunityCloseDate':
      return agree(p.date01, 0.4);
    case 'opportunityValue':
      return agree(p.number01, 0.4);
    case 'url':
      return agree(p.host01, 0.4);
    case 'fullName':
      // "Member" may be who it is or whether; of who it is, few stand there again and again.
      if (p.yesNo01 > 0.5 || isOneOfFew(p)) return NONE;
      // Customers are firms, where they are.
      if (p.firm01 >= FIRMS01) return { target: 'organization', certainty01: certainty01 * 0.7 };
      return isNoName(p) ? NONE : { target, certainty01 };
    case 'givenName':
    case 'familyName':
    case 'locality':
      return isNoName(p) ? NONE : { target, certainty01 };
    case 'organization':
      return p.yesNo01 > 0.5 || isNoName(p) ? NONE : { target, certainty01 };
    case 'externalId':
      // "Ref" is an id of people where no two have the same.
      if (certainty01 < 0.7 && p.distinct < p.filled) return NONE;
      return p.yesNo01 > 0.5 || p.longText01 > 0.2 ? NONE : { target, certainty01 };
    case 'title':
      return p.prefix01 >= TITLES01 ? { target: 'prefix', certainty01: 0.9 } : { target, certainty01 };
    case 'prefix':
      // What a letter begins with is no title.
      return p.longText01 > 0.2 || p.samples.some((cell) => GREETING.test(cell)) ? NONE : { target, certainty01 };
    case 'postalCode':
      // A word for the postal code in one language is one for the mobile phone in another.
      return p.values.length > 0 && p.values.every((v) => v.replace(/\D/g, '').length >= 10)
        ? { target: 'tel', certainty01: 0.75 }
        : // Letters that are something else as well ("PK") are believed where there are codes, and no numbers of rows.
          certainty01 < 0.7 && (p.postal01 < 0.8 || p.isRising)
          ? NONE
          : { target, certainty01 };
    case 'region':
      if (p.country01 >= 0.2 && p.country01 + p.regionCode01 >= 0.8 && p.distinct > 1)
        return { target: 'country', certainty01: 0.75 };
      return p.number01 > 0.5 ? NONE : { target, certainty01 };
    case 'country':
      // In some languages one word is a country, in others the part of one.
      if (p.country01 + p.regionCode01 >= 0.3) return { target, certainty01 };
      return p.number01 + p.date01 > 0.5 ? NONE : { target: 'region', certainty01: certainty01 * 0.6 };
    case 'phase':
      // Only opportunities have one.
      return NONE;
    default:
      return { target, certainty01 };
  }
}

/** What the cells alone say. */
export function weighValues(p: ColumnProfile): Opinion {
  if (p.filled === 0) return NONE;
  if (p.email01 >= 0.6) return { target: 'email', certainty01: 0.75 + 0.2 * p.email01 };
  if (p.url01 >= 0.7) return { target: 'url', certainty01: 0.8 };
  if (p.postal01 >= 0.8 && p.number01 < 0.5) return { target: 'postalCode', certainty01: 0.7 };
  if (p.date01 < 0.5 && p.phone01 >= 0.7) return { target: 'tel', certainty01: 0.5 + 0.3 * p.phone01 };
  if (p.country01 >= 0.2 && p.country01 + p.regionCode01 >= 0.8) return { target: 'country', certainty01: 0.75 };
  if (p.prefix01 >= TITLES01 && p.filled > 1) return { target: 'prefix', certainty01: 0.8 };
  if (p.fullName01 >= 0.5) return { target: 'fullName', certainty01: 0.65 };
  return NONE;
}

/** What cells say below a heading that says nothing that is known. */
export function weighUnderHeading(p: ColumnProfile): Opinion {
  const byValue = weighValues(p);
  if (byValue.target === 'email') return byValue;
  // Long numbers may be anything; with a plus, brackets or groups they are phones.
  if (byValue.target === 'tel' && p.phoneMarks01 < 0.5) return NONE;
  return byValue.certainty01 >= 0.7 ? { ...byValue, certainty01: byValue.certainty01 - 0.1 } : NONE;
}

/** Shares of cells of a column of whole names: written like one, beginning with a known name, and each its own. */
const LIKE_NAMES01 = 0.8;
const KNOWN_NAMES01 = 0.2;
const OWN_NAMES01 = 0.5;
/** By how much more families than other words there are, where what stands behind given names might be either. */
const MORE_FAMILIES = 2;
/** Share of names of China, Japan and Korea in a column of them, whose families are not all known. */
const EAST_NAMES01 = 0.6;
/** The same of families alone, before given names. */
const EAST_FAMILIES01 = 0.5;

/** The column that looks most like one of whole names, or -1. */
export function wholeNamesAmong(profiles: readonly ColumnProfile[], isFree: (index: number) => boolean): number {
  const ofNames = profiles.map((p, i) => {
    const fits =
      isFree(i) &&
      p.filled > 1 &&
      p.nameShape01 >= LIKE_NAMES01 &&
      p.anyGivenName01 >= KNOWN_NAMES01 &&
      p.distinct >= OWN_NAMES01 * p.filled;
    const isEast = isFree(i) && p.filled > 1 && p.eastName01 >= EAST_NAMES01 && p.distinct >= OWN_NAMES01 * p.filled;
    return Math.max(fits ? p.anyGivenName01 : 0, isEast ? p.eastName01 : 0);
  });
  const most = Math.max(0, ...ofNames);
  return most > 0 ? ofNames.indexOf(most) : -1;
}

/** The order in which a column's names stand, as they show it; those of China, Japan and Korea have one. Null where they do not. */
export function shownOrder(p: ColumnProfile): NameOrder | null {
  return p.eastName01 >= LIKE_NAMES01 ? 'familyFirst' : electOrder(p.nameVotes);
}

/** The columns of family and given names of China, Japan or Korea side by side; -1 where there are none. */
function eastNamesAmong(
  profiles: readonly ColumnProfile[],
  isFree: (index: number) => boolean,
): [family: number, given: number] {
  const isWord = (i: number) => isFree(i) && (profiles[i]?.eastWord01 ?? 0) >= LIKE_NAMES01;
  const family = profiles.findIndex(
    (p, i) => isWord(i) && p.filled > 1 && p.eastFamily01 >= EAST_FAMILIES01 && (isWord(i + 1) || isWord(i - 1)),
  );
  return [family, isWord(family + 1) ? family + 1 : family - 1];
}

/** Without a heading, neighbours help: given name before family name, street before town, region and postal code. */
export function guessWithoutHeader(profiles: ColumnProfile[]): Opinion[] {
  const isEastern = profiles.some(
    (p) => Math.max(p.eastName01, p.eastFamily01, p.eastStreet01, p.eastTown01) >= LIKE_NAMES01,
  );
  const opinions = profiles.map((p, i): Opinion => {
    if (p.yesNo01 > 0.5) return NONE;
    if (isEastern && p.japaneseCode01 >= LIKE_NAMES01) return { target: 'postalCode', certainty01: 0.7 };
    const byValue = weighValues(p);
    if (byValue.target) return byValue;
    if (p.filled && p.givenName01 >= 0.35 && p.nameShape01 < 0.5)
      return { target: 'givenName', certainty01: 0.5 + 0.4 * p.givenName01 };
    // Numbers that only grow, in front, are those of the rows or of the people.
    if (p.postal01 >= 0.8 && !(i === 0 && p.isRising)) return { target: 'postalCode', certainty01: 0.7 };
    if (p.regionCode01 >= 0.8) return { target: 'region', certainty01: 0.6 };
    if (p.townLine01 >= 0.6) return { target: TOWN_LINE, certainty01: 0.65 };
    if (p.date01 >= 0.6 && p.dateOrder !== 'serial') return { target: 'bday', certainty01: 0.6 };
    if (Math.max(p.street01, p.eastStreet01) >= 0.6) return { target: 'street', certainty01: 0.7 };
    if (p.eastTown01 >= 0.6) return { target: 'locality', certainty01: 0.65 };
    if (p.eastRegion01 >= 0.6) return { target: 'region', certainty01: 0.65 };
    if ((p.separator === ';' || p.separator === '|') && p.separated01 >= 0.15 && p.longText01 < 0.2)
      return { target: 'tags', certainty01: 0.6 };
    return NONE;
  });
  const isText = (i: number) => {
    const p = profiles[i];
    return !!p && p.filled > 0 && !opinions[i]?.target && p.number01 < 0.3 && p.date01 < 0.3 && p.longText01 < 0.2;
  };
  const given = opinions.findIndex((o) => o.target === 'givenName');
  const [family, beside] = eastNamesAmong(profiles, isText);
  const whole = opinions.some((o) => o.target === 'fullName') ? -1 : wholeNamesAmong(profiles, isText);
  if (given >= 0) {
    const isBehind = (profiles[given - 1]?.distinct ?? 0) < MORE_FAMILIES * (profiles[given + 1]?.distinct ?? 0);
    if (isText(given + 1) && (isBehind || !isText(given - 1)))
      opinions[given + 1] = { target: 'familyName', certainty01: 0.75 };
    else if (given > 0 && isText(given - 1)) opinions[given - 1] = { target: 'familyName', certainty01: 0.65 };
  } else if (family >= 0) {
    opinions[family] = { target: 'familyName', certainty01: 0.7 };
    opinions[beside] = { target: 'givenName', certainty01: 0.7 };
  } else if (whole >= 0) opinions[whole] = { target: 'fullName', certainty01: 0.6 };
  else if (isText(0) && isText(1)) {
    const isTurned = (profiles[1]?.givenName01 ?? 0) > (profiles[0]?.givenName01 ?? 0);
    opinions[isTurned ? 1 : 0] = { target: 'givenName', certainty01: 0.5 };
    opinions[isTurned ? 0 : 1] = { target: 'familyName', certainty01: 0.5 };
  }
  const street = opinions.findIndex((o) => o.target === 'street');
  const anchor =
    street >= 0 ? street + 1 : opinions.findIndex((o) => o.target === 'region' || o.target === 'postalCode') - 1;
  // The town stands before the postal code in some countries and behind it in others.
  const town = [anchor, opinions.findIndex((o) => o.target === 'postalCode') + 1].find((i) => i > 0 && isText(i));
  const hasTown = opinions.some((o) => o.target === 'locality');
  if (anchor >= 0 && town !== undefined && !hasTown) opinions[town] = { target: 'locality', certainty01: 0.7 };
  return opinions;
}
