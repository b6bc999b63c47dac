import { tidyText } from '../values/fold';
import { isGivenName } from './given-names';
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

/** Two given names in one cell ("Sam & Maya"), or null where it holds those of one person. */
export function twoGivenNames(text: string): [string, string] | null {
  const found = halves(tidyText(text));
  if (!found?.every((name) => /^\p{L}[^,;@\d]*$/u.test(name) && name.split(' ').length <= 2)) return null;
  const [a, b] = found;
  const isKnown = (name: string) => isGivenName(bare(name.split(' ')[0] ?? '')) || isInitial(name);
  // With a sign between them there are two; "José/Joe" is one who is called otherwise.
  if (/[&+]/.test(text)) return found;
  return !text.includes('/') && isKnown(a) && isKnown(b) ? found : null;
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
