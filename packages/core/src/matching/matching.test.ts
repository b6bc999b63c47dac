import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { explainPair } from './model/explain';
import { groupPairs, type WeighSets } from './pairs/group';
import { indexKeys, keyHash } from './people/keys';
import { DEFAULT_THRESHOLDS, matchPeople } from './match-people';
import { modelFromJson, modelToJson } from './model/model-json';
import { believedModel, levelsOf, patternOf } from './model/model';
import { LEVELS } from './comparing/levels';
import { comparePeople, namesAgree } from './comparing/compare';
import { contextOf } from './people/names';
import { pairCode } from './pairs/pair-list';
import { preparePerson } from './people/person';
import type { PersonFacts } from './people/person-facts';
import { bandOf, scorePair } from './model/score';
import { editDistance } from './comparing/text-distance';

const apart = contextOf({
  sharedLines: new Set(),
  givenNames: new Map(),
  familyNames: new Map(),
  nicknames: new Set(),
});
const level = (
  field: 'given' | 'family' | 'email' | 'phone' | 'bday' | 'generation',
  a: PersonFacts,
  b: PersonFacts,
) => {
  const index = ['given', 'family', 'email', 'phone', 'bday', 'place', 'organization', 'generation'].indexOf(field);
  return LEVELS[field][comparePeople(preparePerson(a), preparePerson(b), apart).levels[index] ?? 0];
};

describe('comparing', () => {
  test('an absent phone is not disagreement', () =>
    expect(level('phone', { phones: ['+441632960301'] }, {})).toBe('absent'));
  test.each([
    ['Katherine', 'Kate', 'nickname'],
    ['Thomas', 'Tohmas', 'slip'],
    ['Anndy', 'Andrew', 'close'],
    ['J', 'James', 'initial'],
    ['Ana', 'Tom', 'different'],
  ])('%s and %s are %s', (a, b, expected) =>
    expect(level('given', { givenName: a, familyName: 'Reis' }, { givenName: b, familyName: 'Reis' })).toBe(expected),
  );
  test('a double-barrelled name agrees in part', () =>
    expect(
      level('family', { givenName: 'Ana', familyName: 'Reis-Costa' }, { givenName: 'Ana', familyName: 'Costa' }),
    ).toBe('part'));
  test('names in each other’s place are seen', () =>
    expect(
      comparePeople(
        preparePerson({ givenName: 'Coppola', familyName: 'Antonio' }),
        preparePerson({ givenName: 'Antonio', familyName: 'Coppola' }),
        apart,
      ).swapped,
    ).toBe(true));
  test('birthdays with day and month swapped are not different', () =>
    expect(level('bday', { bday: '1972-08-11' }, { bday: '1972-11-08' })).toBe('swapped'));
  test('Jr and Sr contradict', () =>
    expect(level('generation', { suffix: 'Jr.' }, { suffix: 'Sr' })).toBe('different'));
  test('placeholders are absent', () => {
    expect(preparePerson({ emails: ['none@example.com'], phones: ['0000000000'], bday: '1900-01-01' })).toMatchObject({
      emails: [],
      phones: [],
      bday: '',
    });
  });
  test('a mailbox tells the family name of somebody with none', () =>
    expect(preparePerson({ givenName: 'Andrzej', emails: ['andrzej.witkowski86@example.org'] })).toMatchObject({
      family: ['witkowski'],
      familyInferred: true,
    }));
  test('names alone agree, differ or leave doubt', () => {
    const agree = (a: string, b: string) => namesAgree(preparePerson({ fullName: a }), preparePerson({ fullName: b }));
    expect(agree('Kate Pike', 'Katherine Pike')).toBe('agree');
    expect(agree('Ana Reis', 'Tom Reis')).toBe('differ');
    expect(agree('Ana Reis', 'Ana Okoro')).toBe('unclear');
  });
  test('the distance is that of a slow and obvious oracle', () => {
    const slow = (a: string, b: string): number => {
      const d = Array.from({ length: a.length + 1 }, (_, i) =>
        Array.from({ length: b.length + 1 }, (__, j) => (i ? (j ? 0 : i) : j)),
      );
      const at = (i: number, j: number) => d[i]?.[j] ?? 0;
      for (let i = 1; i <= a.length; i++)
        for (let j = 1; j <= b.length; j++) {
          let best = Math.min(at(i - 1, j) + 1, at(i, j - 1) + 1, at(i - 1, j - 1) + (a[i - 1] === b[j - 1] ? 0 : 1));
          if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
            best = Math.min(best, at(i - 2, j - 2) + 1);
          (d[i] as number[])[j] = best;
        }
      return at(a.length, b.length);
    };
    const word = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 9 });
    fc.assert(
      fc.property(word, word, (a, b) => expect(editDistance(a, b, 3)).toBe(Math.min(4, slow(a, b)))),
      { numRuns: 500 },
    );
  });
  test('a pattern and its levels are one', () => {
    const levels = [3, 2, 5, 1, 0, 4, 2, 3];
    expect(levelsOf(patternOf(levels))).toEqual(levels);
  });
});

const GIVEN = ['Ana', 'Tom', 'Kari', 'Sigrid', 'Oskar', 'Maja', 'Rowan', 'Priya', 'Duarte', 'Ellen'];
const FAMILY = [
  'Reis',
  'Okoro',
  'Amundsen',
  'Lindqvist',
  'Ferreira',
  'Pike',
  'Moreau',
  'Quist',
  'Aguiar',
  'Adair',
  'Strand',
  'Jessop',
];
/** 120 people, every fourth with a second record by another tool, and a couple that shares a phone. */
function cast(): PersonFacts[] {
  const people: PersonFacts[] = [];
  for (let i = 0; i < 120; i++) {
    const given = GIVEN[i % 10] as string;
    const family = FAMILY[Math.floor(i / 10)] as string;
    const phone = `+1${200 + i}5550${String(100 + (i % 100))}`;
    const person = {
      givenName: given,
      familyName: family,
      emails: [`${given}.${family}${i}@example.org`.toLowerCase()],
      phones: [phone],
      street: `${i + 1} Slip Lane`,
      locality: 'Falmouth',
      bday: `19${String(40 + (i % 50))}-03-${String((i % 27) + 1).padStart(2, '0')}`,
    };
    people.push(person);
    if (i % 4 === 0) people.push({ givenName: given.toUpperCase(), familyName: family.toUpperCase(), phones: [phone] });
  }
  people.push({
    givenName: 'Benedita',
    familyName: 'Okafor',
    phones: ['+17005550199'],
    street: '9 Quay Road',
    locality: 'Oban',
  });
  people.push({
    givenName: 'Anselm',
    familyName: 'Okafor',
    phones: ['+17005550199'],
    street: '9 Quay Road',
    locality: 'Oban',
  });
  return people;
}

describe('matching all', () => {
  const people = cast().map(preparePerson);
  const result = matchPeople(people, { threshold01: 0.9 });
  test('second records are found, and only they', () => {
    expect(result.groups).toHaveLength(30);
    for (const group of result.groups)
      expect(people[group.members[0] ?? 0]?.givenText).toBe(people[group.members[1] ?? 0]?.givenText);
  });
  test('groups do not depend on the order of people', () => {
    const order = people.map((_, i) => i).sort((a, b) => ((a * 7919) % 151) - ((b * 7919) % 151));
    const again = matchPeople(
      order.map((i) => people[i] as (typeof people)[number]),
      { threshold01: 0.9 },
    );
    const named = (groups: typeof result.groups, map: (i: number) => number) =>
      groups
        .map((group) =>
          group.members
            .map(map)
            .sort((a, b) => a - b)
            .join('-'),
        )
        .sort();
    expect(named(again.groups, (i) => order[i] ?? -1)).toEqual(named(result.groups, (i) => i));
  });
  test('the score of a pair does not depend on its order, and a frozen model gives the same verdict', () => {
    const frozen = modelFromJson(JSON.parse(JSON.stringify(modelToJson(result.model))));
    for (const [a, b] of [
      [0, 1],
      [0, 2],
      [people.length - 1, people.length - 2],
    ] as const) {
      const [x, y] = [people[a], people[b]];
      if (!x || !y) throw new Error('there');
      expect(scorePair(frozen, y, x).bits).toBeCloseTo(scorePair(result.model, x, y).bits, 9);
    }
  });
  test('so it is for names in each other’s place, of several words, with particles, cut off and misspelt', () => {
    const word = fc.constantFrom('ruben', 'hendrik', 'hednrik', 'toni', 'antonio', 'nicole', 'nicoas', 'jan', 'kelly');
    const family = fc.constantFrom(
      'de jong',
      'van dijk',
      'dominguez delgado',
      'kelly',
      'perez',
      'ruben',
      'jan',
      'grey',
    );
    const name = fc.record({ givenName: fc.oneof(word, family), familyName: fc.oneof(word, family) });
    fc.assert(
      fc.property(name, name, (a, b) => {
        // Prepared anew each time, so that no level is kept from the other order.
        const bits = (x: PersonFacts, y: PersonFacts) =>
          scorePair(result.model, preparePerson(x), preparePerson(y)).bits;
        expect(bits(b, a)).toBeCloseTo(bits(a, b), 9);
        expect(bits({ givenName: a.familyName, familyName: a.givenName }, b)).toBeCloseTo(
          bits(b, { givenName: a.familyName, familyName: a.givenName }),
          9,
        );
      }),
      { numRuns: 600 },
    );
  });
  test('two people of one home are kept apart however much they share', () => {
    const [x, y] = [people[people.length - 1], people[people.length - 2]];
    if (!x || !y) throw new Error('there');
    const score = scorePair(result.model, x, y);
    expect(score.band).toBe('apart');
    expect(bandOf(result.model, score.probability01)).toBe(score.band);
  });
  test('the reasons add up to the score', () => {
    const [x, y] = [people[0], people[1]];
    if (!x || !y) throw new Error('there');
    const reasons = explainPair(result.model, x, y);
    expect(reasons.reduce((sum, reason) => sum + reason.bits, 0)).toBeCloseTo(scorePair(result.model, x, y).bits, 0);
    expect(reasons.map((reason) => reason.text)).toContainEqual(expect.stringMatching(/^Same phone, /));
  });
  test('what a person keeps apart stays apart', () => {
    const kept = matchPeople(people, { threshold01: 0.9, keptApart: new Set([pairCode(1, 0)]) });
    expect(kept.groups.some((group) => group.members.includes(0) && group.members.includes(1))).toBe(false);
  });
  test('a scan stops when told to', () =>
    expect(matchPeople(people, { threshold01: 0.9, onProgress: () => false })).toMatchObject({
      stopped: true,
      groups: [],
    }));
});

test('before any scan the first people are recognised, and strangers are not', () => {
  const model = believedModel(DEFAULT_THRESHOLDS);
  const ana = preparePerson({ givenName: 'Ana', familyName: 'Reis', emails: ['ana.reis@example.org'] });
  const bandWith = (facts: Parameters<typeof preparePerson>[0]) => scorePair(model, ana, preparePerson(facts)).band;
  expect(bandWith({ givenName: 'Ana', familyName: 'Reis', emails: ['Ana.Reis@example.org'] })).toBe('certain');
  expect(bandWith({ givenName: 'Ana', familyName: 'Reis' })).not.toBe('apart');
  expect(bandWith({ givenName: 'Tom', familyName: 'Reis' })).toBe('apart');
  expect(bandWith({ givenName: 'Ana', familyName: 'Okoro', emails: ['ana.okoro@example.net'] })).toBe('apart');
});

/** Weighs sets by the best weight of two members, as listed; -Infinity stands. */
const weighBy =
  (pairs: readonly { a: number; b: number; bits: number }[], otherwise: number): WeighSets =>
  (a, b) => {
    const all = a.flatMap((i) =>
      b.map((j) => pairs.find((pair) => pair.a === Math.min(i, j) && pair.b === Math.max(i, j))?.bits ?? otherwise),
    );
    return all.includes(-Infinity) ? -Infinity : Math.max(...all) + Math.min(0, ...all);
  };

describe('grouping', () => {
  test('a chain of weak links is no group', () => {
    const pairs = [
      { a: 1, b: 2, bits: 4 },
      { a: 2, b: 3, bits: 4 },
    ];
    const groups = groupPairs(pairs, 3, weighBy(pairs, -5));
    expect(groups.map((group) => group.members)).toEqual([[1, 2]]);
  });
  test('a word that keeps two apart is a veto', () => {
    const pairs = [
      { a: 1, b: 2, bits: 16 },
      { a: 2, b: 3, bits: 16 },
      { a: 1, b: 3, bits: -Infinity },
    ];
    const groups = groupPairs(pairs, 3, weighBy(pairs, 0));
    expect(groups.every((group) => !(group.members.includes(1) && group.members.includes(3)))).toBe(true);
  });
  test('sets are weighed as a whole, so that a weak pair rides on a strong one', () => {
    const pairs = [
      { a: 1, b: 2, bits: 12 },
      { a: 2, b: 3, bits: 9 },
      { a: 1, b: 3, bits: -4 },
    ];
    expect(groupPairs(pairs, 3, weighBy(pairs, 0))).toMatchObject([{ members: [1, 2, 3], weakestBits: 5 }]);
  });
  test('pairs in any order give the same groups', () => {
    const pair = fc.tuple(
      fc.integer({ min: 0, max: 8 }),
      fc.integer({ min: 9, max: 16 }),
      fc.integer({ min: -4, max: 12 }),
    );
    fc.assert(
      fc.property(fc.uniqueArray(pair, { selector: ([a, b]) => `${a}:${b}`, maxLength: 20 }), (pairs) => {
        const scored = pairs.map(([a, b, bits]) => ({ a, b, bits }));
        const weigh = weighBy(scored, -3);
        expect(groupPairs([...scored].reverse(), 3, weigh)).toEqual(groupPairs(scored, 3, weigh));
      }),
    );
  });
});

test('look-up keys are few, stable and fold writing', () => {
  const keys = indexKeys(
    preparePerson({
      givenName: 'Ana',
      familyName: 'Reis',
      emails: ['Ana+x@Example.org'],
      phones: ['+1 207 555 0111'],
      bday: '1971-07-14',
    }),
  );
  expect(keys).toContain('e:ana@example.org');
  expect(keys).toContain('p:2075550111');
  expect(keys.length).toBeLessThan(8);
  expect(Number.isSafeInteger(keyHash('e:ana@example.org'))).toBe(true);
  expect(keyHash('e:ana@example.org')).not.toBe(keyHash('e:ana@example.net'));
});
