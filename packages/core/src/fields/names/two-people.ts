import { foldText, tidyText } from '../values/fold';
import { isGivenName } from './given-names';
import { areNicknames } from './nicknames';
import { bare, isInitial, isParticle, type NameOrder } from './name-order';
import { FAMILY, splitName } from './person-name';
import { isPrefix } from './titles';

/** What stands between two people, wherever it stands. */
const BETWEEN = /\s+(?:&|\+|and|und|et|og|och|és|and\/or|or|oder)\s+|\s*[&+/]\s*(?=\p{L})/iu;
/** The same in letters that stand within the names of one person too, where a given name follows. */
const LETTER_BETWEEN = /\s+(?:y|e|i|en|ou|ja|и|та)\s+(?=\p{L})/iu;

/** A text in two parts, at what stands between two people; null where there are not two. */
function halves(text: string): [string, string] | null {
  const parts = text.split(BETWEEN).map(tidyText);
  const found = parts.length === 1 ? text.split(LETTER_BETWEEN).map(tidyText) : parts;
  const [a = '', b = '', ...more] = found;
  return a && b && !more.length ? [a, b] : null;
}

/** Two given names in one cell ("Sam & Maya", "Dr Alan and Mrs Beth"), or null where it holds those of one person. */
export function twoGivenNames(text: string): [string, string] | null {
  const whole = tidyText(text);
  const found = halves(whole) ?? commaHalves(whole);
  const names = found?.map((half) => {
    const { titles, names } = wordsOf(half);
    return titles.length && names.length ? names.join(' ') : half;
  });
  if (!found || !names?.every((name) => /^\p{L}[^,;@\d]*$/u.test(name) && name.split(' ').length <= 2)) return null;
  const [a = '', b = ''] = names;
  const isKnown = (name: string) => isGivenName(bare(name.split(' ')[0] ?? '')) || isInitial(name);
  // With a sign between them there are two, and so with a title before each.
  if (/[&+]/.test(text) || found.every((half, i) => half !== names[i])) return [a, b];
  // "José/Joe" is one who is called otherwise; "Tim/Jane" are two.
  if (/[/,;]/.test(text) && areAlike(a, b)) return null;
  return isKnown(a) && isKnown(b) ? [a, b] : null;
}

/** Two names with a comma or a semicolon between them. */
function commaHalves(text: string): [string, string] | null {
  const [a = '', b = '', ...more] = text.split(/[,;]/).map(tidyText);
  return a && b && !more.length ? [a, b] : null;
}

/** Whether two given names begin alike, as those do that one person goes by. */
function areAlike(a: string, b: string): boolean {
  const [x, y] = [bare(a), bare(b)];
  return x[0] === y[0] || areNicknames(x, y);
}

/** Titles of several people, and words for a family or a couple. */
const OF_SEVERAL = new RegExp(
  '^(?:the )?(?:misses|messrs|mesdames|messieurs|mssrs|mm|mmes|sisters|brothers|family|household|couple|twins|familie|fam|famille|familia|' +
    'famiglia|perhe|rodina|rodzina|eheleute|ehepaar|geschwister|gebruder|herren|damen|senores|senoras|signori|heren|dames)(?: |$)',
);

/**
 * Whether a part of a name says that it is that of several people: "Tim & Jane" for a given name, "Mr and Mrs" for a title, "The
 * Misses", "Penrose family".
 */
export function isOfSeveral(part: 'prefix' | 'givenName' | 'familyName', text: string): boolean {
  const plain = tidyText(text);
  if (OF_SEVERAL.test(foldText(plain)) || (part !== 'prefix' && FAMILY.test(plain))) return true;
  // "Mr/Ms" is a title that nobody chose.
  if (part === 'prefix') return !plain.includes('/') && twoTitles(plain) !== null;
  if (part === 'givenName') return twoGivenNames(plain) !== null || threeGivenNames(plain);
  return /\p{L} (?:&|\+|and|und|et|og|och) \p{Lu}/u.test(plain);
}

/** "Alan, Beth and Carol". */
function threeGivenNames(text: string): boolean {
  const names = text.split(/\s*(?:,|;|&|\+|\b(?:and|und|et|y|e|og|och)\b)\s*/).filter(Boolean);
  return names.length > 2 && names.every((name) => isGivenName(bare(name)));
}

/** Two titles in one cell ("Mr & Mrs"), or null. */
export function twoTitles(text: string): [string, string] | null {
  const found = halves(tidyText(text));
  return found?.every((title) => title.split(' ').every((word) => isPrefix(word, 2))) ? found : null;
}

interface Words {
  titles: string[];
  names: string[];
}

function wordsOf(text: string): Words {
  const words = text.split(' ').filter(Boolean);
  let at = 0;
  while (
    at < words.length &&
    isPrefix(words[at] ?? '', Math.max(1, words.length - at - 1)) &&
    !isInitial(words[at] ?? '')
  )
    at++;
  return { titles: words.slice(0, at), names: words.slice(at) };
}

const written = (...parts: (string | readonly string[])[]) => parts.flat().filter(Boolean).join(' ');

/** Where the family name stands among words of one whole name. */
function familyWords(names: readonly string[], order: NameOrder): string[] {
  const { familyName } = splitName(names.join(' '), order).name;
  const family = new Set(familyName.split(' ').map(bare));
  return names.filter((word) => family.has(bare(word)) || (isParticle(word) && familyName.includes(word)));
}

/**
 * The names of two people that are written as one ("Sam & Maya Okafor", "Mr and Mrs Sam Okafor", "Okafor, Sam and Maya"), each
 * with the family name they share; null where there are not two, or where it is not clear what each is called. `order` is how
 * the list writes names that do not tell by themselves.
 */
export function namesOfTwo(text: string, order: NameOrder = 'givenFirst'): [string, string] | null {
  const found = eachNamed(text, order);
  return found?.every((name) => /\p{L}/u.test(name) && splitName(name, order).fault === null) ? found : null;
}

function eachNamed(text: string, order: NameOrder): [string, string] | null {
  const whole = tidyText(text.normalize('NFC'));
  if (/[@\d]/.test(whole) || FAMILY.test(whole)) return null;
  const found = halves(whole);
  if (!found) return null;
  const [left, right] = found;
  const [family = '', ...given] = left.split(',').map(tidyText);
  if (given.length) return right.includes(',') ? [left, right] : [left, `${family}, ${right}`];
  if (right.includes(',')) return null;
  const [a, b] = [wordsOf(left), wordsOf(right)];
  // "Mr & Mrs Sam Okafor": the name is his, and she has the family name of it; with one word it is that alone.
  if (!a.names.length) {
    if (!a.titles.length || !b.names.length) return null;
    const shared = b.names.length > 1 ? familyWords(b.names, order) : b.names;
    return shared.length ? [written(a.titles, b.names), written(b.titles, shared)] : null;
  }
  if (!b.names.length) return null;
  if (a.names.length > 1 && b.names.length > 1 && !isShort(a.names)) return [left, right];
  if (a.names.length > 1 && b.names.length === 1) {
    // "OKAFOR SAM & MAYA": the family name stands before both.
    const shared = familyWords(
      a.names,
      order === 'givenFirst' && !isGivenName(bare(a.names[0] ?? '')) ? 'familyFirst' : order,
    );
    if (!shared.length || shared.length === a.names.length) return null;
    const isFirst = shared[0] === a.names[0];
    return [left, isFirst ? written(b.titles, shared, b.names) : written(b.titles, b.names, shared)];
  }
  const shared = familyWords(b.names, order);
  if (b.names.length < 2 || !shared.length || shared.length === b.names.length) return null;
  return [written(left, shared), right];
}

/** A given name alone, or with initials behind it. */
function isShort([first = '', ...more]: readonly string[]): boolean {
  return more.every(isInitial) && !isInitial(first);
}
