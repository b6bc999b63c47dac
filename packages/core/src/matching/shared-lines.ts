import { areNicknames, isKnownGivenName } from '../fields';
import type { MatchContext } from './compare';
import type { MatchPerson } from './person';
import { editDistance, isSlip } from './text-distance';

/** Two given names that could be one in some damaged writing; only what could not counts as two people. */
function mayBeOne(a: string, b: string): boolean {
  if (a === b || areNicknames(a, b)) return true;
  if (Math.min(a.length, b.length) <= 2) return a[0] === b[0];
  const limit = Math.max(1, Math.floor(Math.max(a.length, b.length) / 3));
  return editDistance(a, b, limit) <= limit || a.startsWith(b) || b.startsWith(a);
}

function couldBeOnePerson(a: MatchPerson, b: MatchPerson): boolean {
  const [x, y] = [a.given[0] ?? '', b.given[0] ?? ''];
  if (!x || !y || a.unreadable !== b.unreadable) return true;
  return (
    mayBeOne(x, y) ||
    x === b.familyText ||
    y === a.familyText ||
    (x.length > 3 && isSlip(x, b.familyText)) ||
    (y.length > 3 && isSlip(y, a.familyText)) ||
    a.given.includes(y) ||
    b.given.includes(x)
  );
}

/** Keys of e-mails and phones that people with clearly different names use, found from the data itself. */
export function findSharedLines(people: readonly MatchPerson[]): Set<string> {
  const users = new Map<string, MatchPerson[]>();
  const shared = new Set<string>();
  const note = (key: string, person: MatchPerson) => {
    if (!person.given[0] || shared.has(key)) return;
    const known = users.get(key);
    if (!known) users.set(key, [person]);
    else if (!known.some((other) => couldBeOnePerson(other, person))) {
      shared.add(key);
      users.delete(key);
    }
  };
  for (const person of people) {
    for (const box of person.emails) note(box.key, person);
    for (const phone of person.phones) note(phone, person);
  }
  return shared;
}

const NAME_COUNT = 5;

/** Given names that occur often enough in the data to be names of their own. */
export function findGivenNames(people: readonly MatchPerson[]): Set<string> {
  const counts = new Map<string, number>();
  for (const { given } of people) if (given[0]) counts.set(given[0], (counts.get(given[0]) ?? 0) + 1);
  const names = new Set<string>();
  for (const [name, count] of counts) if (count >= NAME_COUNT) names.add(name);
  return names;
}

export function contextOf(sharedLines: ReadonlySet<string>, givenNames: ReadonlySet<string>): MatchContext {
  return {
    isShared: (key) => sharedLines.has(key),
    isGivenName: (word) => givenNames.has(word) || isKnownGivenName(word),
  };
}

/**
 * How many pairs of clearly different people share a home (place or line, same family name) or an office (other names).
 * Counted over whoever shares a place, phone or mailbox; sets of more than `most` people are counted by their square.
 */
export function countNeighbours(people: readonly MatchPerson[], most = 60): { home: number; office: number } {
  const sets = new Map<string, number[]>();
  const note = (key: string, i: number) => {
    const set = sets.get(key);
    if (set) set.push(i);
    else sets.set(key, [i]);
  };
  people.forEach((person, i) => {
    if (!person.given[0]) return;
    if (person.street && person.house) note(`a:${person.street}:${person.postal || person.locality}`, i);
    for (const phone of person.phones) note(`p:${phone}`, i);
    for (const box of person.emails) note(`e:${box.key}`, i);
  });
  const seen = new Set<number>();
  let home = 0;
  let office = 0;
  for (const members of sets.values()) {
    const set = members.slice(0, most);
    for (let x = 0; x < set.length; x++) {
      for (let y = x + 1; y < set.length; y++) {
        const [i, j] = [set[x] ?? 0, set[y] ?? 0];
        const [a, b] = [people[i], people[j]];
        if (!a || !b || couldBeOnePerson(a, b)) continue;
        const code = i * people.length + j;
        if (seen.has(code)) continue;
        seen.add(code);
        if (a.familyText === b.familyText) home++;
        else office++;
      }
    }
  }
  return { home, office };
}
