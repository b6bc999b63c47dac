import { doubleMetaphone } from 'double-metaphone';
import { nicknameGroups } from '../../fields';
import type { MatchPerson } from './person';

/**
 * Takes a blocking key: people who share one may be compared. `loose` ones bring two together only in company; `name` ones are
 * made of names alone, and prove nothing by themselves where many people are called so.
 */
type TakeKey = (text: string, loose: boolean, name: boolean) => void;

/** The part of a number that tells it whatever country it was read in: ten digits in North America, nine elsewhere. */
export function phoneBlock(phone: string): string {
  return phone.startsWith('+1') ? phone.slice(-10) : phone.slice(-9);
}

/** The last nine digits, by which the line is known whatever country it was read in; ten in North America. */
export const lineOf = (phone: string): string => (phone.startsWith('+1') ? phone.slice(-10) : phone.slice(-9));

/**
 * Whether two numbers are one line. One without a country code is taken as the other's national part; of two with
 * different codes one may have been read in the wrong country, so nine digits in common are enough.
 */
export function isSamePhone(a: string, b: string): boolean {
  if (a === b) return true;
  const [known, other] = [a.startsWith('+'), b.startsWith('+')];
  if (known && other) {
    if (a.startsWith('+1') && b.startsWith('+1')) return false;
    return a.length > 9 && b.length > 9 && a.slice(-9) === b.slice(-9);
  }
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  return short.length >= 7 && !short.startsWith('+') && long.endsWith(short);
}

/** A power of two. */
const PLACES = 1 << 13;
const wordsKept = new Array<string>(PLACES).fill('');
const codesKept = new Array<string>(PLACES).fill('');

/**
 * The primary code of the double metaphone (Philips 2000). Each word has one place where its code is kept until another
 * word needs it: names that come again and again are found, and those that come once cost hardly more.
 */
function phonetic(word: string): string {
  let place = word.length;
  for (let i = 0; i < word.length; i++) place = (Math.imul(place, 31) + word.charCodeAt(i)) | 0;
  place = (place ^ (place >>> 13)) & (PLACES - 1);
  if (wordsKept[place] === word) return codesKept[place] ?? '';
  const code = doubleMetaphone(word)[0] || word.slice(0, 4);
  wordsKept[place] = word;
  codesKept[place] = code;
  return code;
}

/** Classes a given name falls in: its phonetic form, and the groups of names that stand for one another. */
function givenClasses(name: string): string[] {
  const groups = nicknameGroups(name);
  return groups.length ? groups.map((group) => `#${group}`) : [phonetic(name).slice(0, 3)];
}

/**
 * The blocking keys of one person. Tight ones (mailbox, phone, whole name, birthday with a name, street with a name)
 * name few people each; loose ones (phonetic family name with a class of given name) catch what tight ones miss.
 */
export function eachBlockingKey(person: MatchPerson, take: TakeKey): void {
  const add = (text: string, loose = false) => take(text, loose, false);
  const addName = (text: string, loose = false) => take(text, loose, true);
  const first = person.given[0] ?? '';
  const family = person.familyText;
  for (const box of person.emails) {
    add(`e:${box.key}`, box.role);
    if (box.role || box.plain.length < 5) continue;
    add(`l:${box.plain}`);
    // A slip leaves one end of the address as it was, or at least its letters.
    const host = box.domain.slice(0, 4);
    add(`h:${box.plain.slice(0, 5)}:${host}`);
    add(`t:${box.plain.slice(-5)}:${host}`);
    add(`s:${[...box.plain].sort().join('')}:${host}`);
  }
  for (const phone of person.phones) add(`p:${phone.slice(-8)}`);
  if (first && family) {
    addName(nameKey(first, family));
    for (const part of person.family) {
      const sound = phonetic(part);
      for (const group of givenClasses(first)) addName(`f:${sound}:${group}`);
      addName(`i:${sound}:${first[0]}`, true);
    }
    for (const part of person.given.slice(0, 2))
      if (part.length > 2) addName(`x:${phonetic(part)}:${family[0]}:${person.family.length}`, true);
  }
  if (person.bday && person.bday.length === 10) {
    const [y, m, d] = [person.bday.slice(0, 4), person.bday.slice(5, 7), person.bday.slice(8, 10)];
    const day = [m, d].sort().join('');
    if (first) add(`b:${y}${day}:${first[0]}`);
    if (family) add(`c:${y}${day}:${family[0]}`);
  }
  if (person.street && person.house) {
    const street = person.street.replace(/[^a-z]/g, '').slice(0, 6);
    if (first) add(`a:${person.house}:${street}:${first[0]}`, true);
    if (family) add(`g:${person.house}:${street}:${family[0]}`, true);
  }
  if (person.postal && first) add(`z:${person.postal}:${givenClasses(first)[0]}`, true);
  if (person.organization.length && first) add(`o:${person.organization[0]}:${first.slice(0, 3)}`, true);
}

/**
 * The keys kept in the database for each contact: few and tight enough to be written for every import, and enough for
 * recognition at import and the single check at entry. A subset in meaning of what a full scan blocks by.
 */
export function indexKeys(person: MatchPerson): string[] {
  const keys: string[] = [];
  const add = (key: string) => {
    if (!keys.includes(key)) keys.push(key);
  };
  for (const box of person.emails) add(`e:${box.key}`);
  for (const phone of person.phones) add(`p:${phoneBlock(phone)}`);
  if (person.given[0] && person.familyText) for (const key of soundKeys(person)) add(key);
  for (const key of wholeNameKeys(person)) add(key);
  return keys;
}

/** The whole name as it is, without regard to which part stands first. */
export function wholeNameKeys(person: Pick<MatchPerson, 'given' | 'familyText' | 'familyInferred'>): string[] {
  const first = person.given[0];
  return first && person.familyText && !person.familyInferred ? [nameKey(first, person.familyText)] : [];
}

/** Names that sound alike: the last family word with each class of the given name. */
export function soundKeys(person: Pick<MatchPerson, 'given' | 'family'>): string[] {
  const sound = phonetic(person.family[person.family.length - 1] ?? '');
  return givenClasses(person.given[0] ?? '').map((group) => `f:${sound}:${group}`);
}

function nameKey(given: string, familyText: string): string {
  return given < familyText ? `n:${given} ${familyText}` : `n:${familyText} ${given}`;
}

/**
 * A stable 53-bit number of a key, for the index in the database and in memory alike: FNV-1a in two halves with
 * different primes. Two keys of one number are as good as never met (two in a thousand chances of one pair among six
 * million keys), and what is found by it is compared anyway.
 */
export function keyHash(text: string): number {
  let a = 0x811c9dc5;
  let b = 0x9747b28c;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x5bd1e995);
    b ^= b >>> 15;
  }
  return ((a >>> 0) & 0x1fffff) * 4294967296 + (b >>> 0);
}
