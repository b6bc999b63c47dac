import { isKnownGivenName } from '../../fields';
import { compareBday } from '../comparing/compare';
import { keyHash, lineOf } from '../people/keys';
import { forEachPerson, type People } from '../people/people-store';
import type { MatchPerson } from '../people/person';
import { Shelves } from '../people/shelves';
import { isClose, isSlip } from '../comparing/text-distance';

/** In how many families a pair of names has to meet before it counts as two forms of one name. */
const MEETINGS = 3;
/** Share of all meetings of the rarer name that must be with the other; people of one home are of all kinds of names. */
const SHARE = 0.6;
/** In how many of its records, at least, the rarer name has to meet the other; two common names meet by chance. */
const RECORDS = 0.05;

/** In what share of the families at most the two may be seen to be two people, as couples are whose names are seldom otherwise. */
const APART = 0.34;

/** One pair of folded names as one text, whichever comes first. */
export const nicknameKey = (a: string, b: string): string => (a < b ? `${a} ${b}` : `${b} ${a}`);

/** Counts with whom each name meets, each family once. */
class Meetings {
  private readonly pairs = new Map<string, Set<string>>();
  private readonly names = new Map<string, Set<string>>();
  /** Families in which the two are two people. */
  private readonly apart = new Map<string, Set<string>>();

  note(a: string, b: string, family: string, areTwo = false): void {
    const put = (map: Map<string, Set<string>>, key: string, value: string) => {
      const set = map.get(key);
      if (set) set.add(value);
      else map.set(key, new Set([value]));
    };
    put(this.pairs, nicknameKey(a, b), family);
    if (areTwo) put(this.apart, nicknameKey(a, b), family);
    put(this.names, a, `${family} ${b}`);
    put(this.names, b, `${family} ${a}`);
  }

  find(records: ReadonlyMap<string, number>): string[] {
    const found: string[] = [];
    for (const [key, families] of this.pairs) {
      const [a = '', b = ''] = key.split(' ');
      const rarer = Math.min(this.names.get(a)?.size ?? 0, this.names.get(b)?.size ?? 0);
      const seen = Math.min(records.get(a) ?? 0, records.get(b) ?? 0);
      const apart = this.apart.get(key)?.size ?? 0;
      if (
        families.size >= MEETINGS &&
        families.size >= SHARE * rarer &&
        families.size >= RECORDS * seen &&
        apart <= APART * families.size
      )
        found.push(key);
    }
    return found.sort();
  }
}

/**
 * Short forms of given names that no table knows, found in the data itself: two names that meet again and again on lines
 * (a mailbox or phone) within a family, and seldom meet others there; or a name whose bearers write from
 * mailboxes made of the other. Deterministic and independent of the order of people.
 */
export function learnNicknames(people: People): Set<string> {
  const meetings = new Meetings();
  const records = new Map<string, number>();
  const mayMeet = (a: string, b: string) =>
    a.length > 1 && b.length > 1 && !(isKnownGivenName(a) && isKnownGivenName(b)) && !isSlip(a, b) && !isClose(a, b);
  const shelves = new Shelves(people.length * 2);
  forEachPerson(people, (person, i) => {
    const given = person.given[0];
    if (given) records.set(given, (records.get(given) ?? 0) + 1);
    if (!given || given.length < 2 || !person.familyText || person.familyInferred) return;
    for (const box of person.emails) {
      if (!box.role) shelves.put(keyHash(`${box.key} ${person.familyText}`), i);
      const told = givenOfMailbox(box.stem, person);
      if (told && mayMeet(given, told)) meetings.note(given, told, person.familyText);
    }
    for (const phone of person.phones) shelves.put(keyHash(`${lineOf(phone)} ${person.familyText}`), i);
  });
  shelves.forEachShared((members) => {
    const here = Array.from(members, (i) => people.at(i)).filter((person) => person !== undefined);
    const list = [...new Set(here.map(({ given }) => given[0] ?? ''))];
    // More than a few different names are a home or an office.
    if (list.length < 2 || list.length > 3) return;
    const family = here[0]?.familyText ?? '';
    for (let i = 0; i < list.length; i++)
      for (let j = i + 1; j < list.length; j++) {
        const [a = '', b = ''] = [list[i], list[j]];
        if (mayMeet(a, b)) meetings.note(a, b, family, areTwoPeople(here, a, b));
      }
  });
  return new Set(meetings.find(records));
}

/** Whether somebody of one name and somebody of the other were born on other days, or write from mailboxes of their own. */
function areTwoPeople(people: readonly MatchPerson[], a: string, b: string): boolean {
  const named = (name: string) => people.filter(({ given }) => given[0] === name);
  return named(a).some((x) =>
    named(b).some(
      (y) =>
        compareBday(x.bday, y.bday) === 'different' ||
        (x.emails.length > 0 &&
          y.emails.length > 0 &&
          !x.emails.some(({ key }) => y.emails.some((box) => box.key === key))),
    ),
  );
}

/** The given name that a mailbox made of given and family name tells, where the family name is this person's. */
function givenOfMailbox(stem: string, { familyWhole, given }: MatchPerson): string {
  if (familyWhole.length < 3 || stem.length < familyWhole.length + 3) return '';
  const rest = stem.startsWith(familyWhole)
    ? stem.slice(familyWhole.length)
    : stem.endsWith(familyWhole)
      ? stem.slice(0, -familyWhole.length)
      : '';
  return rest.length >= 3 && rest !== given[0] && /^[a-z]+$/.test(rest) && isKnownOrLong(rest) ? rest : '';
}

const isKnownOrLong = (word: string) => isKnownGivenName(word) || word.length >= 4;
