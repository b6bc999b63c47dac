import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { keyHash } from './keys';
import { KeyNumbers } from './key-numbers';
import { Shelves } from './shelves';

const KEYS = Array.from({ length: 40 }, (_, i) => keyHash(`key ${i}`));
const key = fc.oneof(fc.constantFrom(...KEYS), fc.integer({ min: 0, max: 2 ** 53 - 1 }));

test('keys are numbered in the order in which they come, however many there are', () => {
  fc.assert(
    fc.property(fc.array(key, { maxLength: 9000, size: 'max' }), (keys) => {
      const numbers = new KeyNumbers(4);
      const oracle = new Map<number, number>();
      for (const one of keys) {
        expect(numbers.find(one)).toBe(oracle.get(one) ?? -1);
        if (!oracle.has(one)) oracle.set(one, oracle.size);
        expect(numbers.of(one)).toBe(oracle.get(one));
      }
      expect(numbers.count).toBe(oracle.size);
    }),
    { numRuns: 15 },
  );
});

test('who shares a key is what a map of lists says, in ascending order and each once', () => {
  const entry = fc.record({ hash: key, kind: fc.integer({ min: 0, max: 3 }) });
  fc.assert(
    // Each person's keys, some of them twice.
    fc.property(fc.array(fc.array(entry, { maxLength: 6 }), { maxLength: 60 }), (people) => {
      const shelves = new Shelves(3);
      const oracle = new Map<number, { members: Set<number>; kind: number }>();
      people.forEach((entries, person) => {
        for (const { hash, kind } of entries) {
          shelves.put(hash, person, kind);
          const known = oracle.get(hash) ?? { members: new Set(), kind: 0 };
          known.members.add(person);
          known.kind |= kind;
          oracle.set(hash, known);
        }
      });
      const found = new Map<number, { members: number[]; kind: number }>();
      shelves.forEachShared((members, hash, kind) => {
        expect(found.has(hash)).toBe(false);
        found.set(hash, { members: [...members], kind });
      });
      const expected = [...oracle].filter(([, { members }]) => members.size > 1);
      expect(found).toEqual(
        new Map(expected.map(([hash, { members, kind }]) => [hash, { members: [...members], kind }])),
      );
    }),
    { numRuns: 200 },
  );
});
