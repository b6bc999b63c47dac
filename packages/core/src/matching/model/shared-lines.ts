import { areNicknames } from '../../fields';
import { isNicknameSlip, isShortForm } from '../people/given-forms';
import { isFamilyReading, isReading, originOf } from '../people/han-names';
import { keyHash, lineOf } from '../people/keys';
import { nicknameKey } from './learn-nicknames';
import { forEachPerson, type People } from '../people/people-store';
import type { MatchPerson } from '../people/person';
import { Shelves } from '../people/shelves';
import { editDistance, isSlip } from '../comparing/text-distance';

/** Two given names that could be one in some damaged writing; only what could not counts as two people. */
function mayBeOne(a: string, b: string, nicknames: ReadonlySet<string>): boolean {
  if (a === b || areNicknames(a, b) || nicknames.has(nicknameKey(a, b))) return true;
  if (Math.min(a.length, b.length) <= 2) return a[0] === b[0];
  const limit = Math.max(1, Math.floor(Math.max(a.length, b.length) / 3));
  const [short, long] = a.length < b.length || (a.length === b.length && a < b) ? [a, b] : [b, a];
  return (
    isSlip(a, b) ||
    editDistance(a, b, limit) <= limit ||
    long.startsWith(short) ||
    isShortForm(short, long) ||
    isNicknameSlip(a, b) ||
    isNicknameSlip(b, a)
  );
}

function couldBeOnePerson(a: MatchPerson, b: MatchPerson, nicknames: ReadonlySet<string>): boolean {
  const [x, y] = [a.given[0] ?? '', b.given[0] ?? ''];
  if (!x || !y) return true;
  if (a.unreadable !== b.unreadable) return a.unreadable ? couldBeInHan(a, b) : couldBeInHan(b, a);
  return (
    mayBeOne(x, y, nicknames) ||
    a.given.some((word) => word.length > 1 && b.given.includes(word)) ||
    a.given.some((word) => b.family.some((other) => isWord(word, other))) ||
    b.given.some((word) => a.family.some((other) => isWord(word, other)))
  );
}

/** The same of a name in Han signs and one in another script. */
function couldBeInHan(han: MatchPerson, { given, givenText, family, familyText }: MatchPerson): boolean {
  if (isFamilyReading(han.familyText, familyText) || isReading(han.givenText, givenText)) return true;
  const origin = originOf(given, family);
  return !origin.chinese && !origin.given;
}

const isWord = (a: string, b: string) => a === b || (a.length > 3 && isSlip(a, b));

/** More clearly different names than this on one line are not looked at one by one. */
const NAMES_LOOKED_AT = 12;

/** The lines of a person as they are known, whatever country a number was read in. */
const linesOf = (person: MatchPerson): string[] => [
  ...person.emails.map((box) => box.key),
  ...person.phones.map(lineOf),
];

/**
 * Keys of e-mails and phones that people with clearly different names use, found from the data itself. Whoever may be
 * one with somebody who may be one with a third is of one company with both; a line with two companies is shared.
 */
export function findSharedLines(people: People, nicknames: ReadonlySet<string>): Set<string> {
  const shelves = new Shelves(people.length * 2);
  forEachPerson(people, (person, i) => {
    if (person.given[0]) for (const line of linesOf(person)) shelves.put(keyHash(line), i);
  });
  const shared = new Set<string>();
  shelves.forEachShared((members, hash) => {
    const names: MatchPerson[] = [];
    for (const i of members) {
      const person = people.at(i);
      if (!person || names.length > NAMES_LOOKED_AT) break;
      if (!names.some((other) => other.given[0] === person.given[0] && other.familyText === person.familyText))
        names.push(person);
    }
    if (names.length < 2 || (names.length <= NAMES_LOOKED_AT && isOneCompany(names, nicknames))) return;
    const line = linesOf(names[0] as MatchPerson).find((one) => keyHash(one) === hash);
    if (line !== undefined) shared.add(line);
  });
  return shared;
}

function isOneCompany(people: readonly MatchPerson[], nicknames: ReadonlySet<string>): boolean {
  const reached = [people[0] as MatchPerson];
  const rest = people.slice(1);
  for (let i = 0; i < reached.length; i++)
    for (let j = rest.length - 1; j >= 0; j--) {
      const [one, other] = [reached[i], rest[j]];
      if (one && other && couldBeOnePerson(one, other, nicknames)) reached.push(...rest.splice(j, 1));
    }
  return rest.length === 0;
}

/**
 * How many pairs of clearly different people share a home (place or line, same family name) or an office (other names).
 * Counted over whoever shares a place, phone or mailbox; sets of more than `most` people are counted by their square.
 */
export function countNeighbours(
  people: People,
  nicknames: ReadonlySet<string>,
  most = 60,
): { home: number; office: number } {
  const shelves = new Shelves(people.length * 3);
  forEachPerson(people, (person, i) => {
    if (!person.given[0]) return;
    if (person.street && person.house)
      shelves.put(keyHash(`a:${person.street}:${person.postal || person.locality}`), i);
    for (const line of linesOf(person)) shelves.put(keyHash(line), i);
  });
  const seen = new Set<number>();
  let home = 0;
  let office = 0;
  shelves.forEachShared((members) => {
    const set = members.subarray(0, most);
    for (let x = 0; x < set.length; x++) {
      for (let y = x + 1; y < set.length; y++) {
        const [i, j] = [set[x] ?? 0, set[y] ?? 0];
        const [a, b] = [people.at(i), people.at(j)];
        if (!a || !b || couldBeOnePerson(a, b, nicknames)) continue;
        const code = i * people.length + j;
        if (seen.has(code)) continue;
        seen.add(code);
        if (a.familyText === b.familyText) home++;
        else office++;
      }
    }
  });
  return { home, office };
}
