import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { findHouseholds } from './households';
import { matchPeople } from './match-people';
import { preparePerson } from './people/person';
import type { PersonFacts } from './people/person-facts';

const HOME: PersonFacts = { street: '4 Quay Street', locality: 'Quillhaven', postalCode: 'QH1 2AB' };
const OFFICE: PersonFacts = { street: '9 Wharf Road', locality: 'Quillhaven', organization: 'Tern Joinery' };
const NAMES = 'Ada Ben Cora Dag Edda Finn Gale Hope Ivo Jon Kit Lars Mona Nils'.split(' ');

/** Households by the given names of their people, of a small book. */
function householdsOf(facts: PersonFacts[]): string[][] {
  const people = facts.map((one) => preparePerson(one));
  return matchPeople(people, { threshold01: 0.5 }).households.map((members) =>
    members.map((i) => people[i]?.given[0] ?? ''),
  );
}

describe('households', () => {
  const family = { ...HOME, familyName: 'Reis', phones: ['+441632960011'] };
  const strangers = NAMES.map((givenName, i) => ({
    givenName,
    familyName: `Far${'aeiouaeiouaeio'[i]}well`,
    phones: [`+4416329605${10 + i}`],
  }));

  test('people of one address and one line are a household', () =>
    expect(householdsOf([{ ...family, givenName: 'Ana' }, { ...family, givenName: 'Tom' }, ...strangers])).toEqual([
      ['ana', 'tom'],
    ]));
  test('one record twice counts once, and is no household by itself', () => {
    const ana = { ...family, givenName: 'Ana', emails: ['ana.reis@example.org'] };
    expect(householdsOf([ana, { ...ana }, { ...family, givenName: 'Tom' }, ...strangers])).toEqual([['ana', 'tom']]);
    expect(householdsOf([ana, { ...ana }, ...strangers])).toEqual([]);
  });
  test('an address without a line in common, or a line without an address, is none', () => {
    const other = { ...HOME, familyName: 'Reis', phones: ['+441632960099'] };
    expect(householdsOf([{ ...family, givenName: 'Ana' }, { ...other, givenName: 'Tom' }, ...strangers])).toEqual([]);
    expect(
      householdsOf([
        { ...family, givenName: 'Ana' },
        { familyName: 'Reis', givenName: 'Tom', phones: family.phones },
        ...strangers,
      ]),
    ).toEqual([]);
  });
  test('colleagues at one desk are none', () =>
    expect(
      householdsOf([
        ...['Ana', 'Tom', 'Eva'].map((givenName, i) => ({
          ...OFFICE,
          givenName,
          familyName: ['Reis', 'Okoro', 'Lindqvist'][i],
          phones: ['+441632960077'],
        })),
        ...strangers,
      ]),
    ).toEqual([]));

  const pairs = fc.array(
    fc.tuple(fc.nat(30), fc.nat(30)).filter(([a, b]) => a !== b),
    { maxLength: 30 },
  );
  const sorted = (list: [number, number][]) => list.map(([a, b]) => ({ a, b }));
  test('do not depend on the order of pairs, hold nobody twice, and are two to twelve', () =>
    fc.assert(
      fc.property(pairs, pairs, fc.nat(), (homes, ones, turn) => {
        const found = findHouseholds(sorted(homes), sorted(ones));
        const turned = (list: [number, number][]) => {
          const at = turn % Math.max(1, list.length);
          return sorted([...list.slice(at), ...list.slice(0, at)].map(([a, b]) => [b, a]));
        };
        expect(findHouseholds(turned(homes), turned(ones))).toEqual(found);
        expect(new Set(found.flat()).size).toBe(found.flat().length);
        expect(found.every(({ length }) => length >= 2 && length <= 12)).toBe(true);
      }),
    ));
});
