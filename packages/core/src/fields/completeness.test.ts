import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { completenessOf, EQUAL_WEIGHTS, faultOfWeights, missingOf, WORTH_HAVING, type Weights } from './index';

const having =
  (...keys: string[]) =>
  (key: string) =>
    keys.includes(key);

describe('completeness', () => {
  test('is the share of the weights that is there', () => {
    const weights = { email: 6, tel: 3, note: 1 };
    expect(completenessOf('person', having('email', 'custom.1'), weights)).toBe(60);
    expect(completenessOf('person', having('email', 'tel', 'note'), weights)).toBe(100);
    expect(completenessOf('person', having(), weights)).toBe(0);
  });
  test('asks of an organization only what it can have', () => {
    expect(
      completenessOf('organization', having('organization', 'email', 'tel', 'adr', 'source', 'stage', 'tags')),
    ).toBe(100);
    expect(completenessOf('person', having('organization', 'email', 'tel', 'adr', 'source', 'stage', 'tags'))).toBe(70);
  });
  test('names what adds most first, and of two alike the first of those as shipped', () => {
    expect(missingOf('person', having('tel'), { bday: 1, tel: 9, adr: 4, stage: 1, note: 0 })).toEqual([
      'adr',
      'stage',
      'bday',
    ]);
    expect(missingOf('organization', having(), { bday: 1, email: 1 })).toEqual(['email']);
  });
  const anyWeights = fc.dictionary(
    fc.constantFrom(...WORTH_HAVING, 'note', 'custom.2'),
    fc.nat(9),
  ) as fc.Arbitrary<Weights>;
  test('nobody gets less complete by a value, and whoever lacks nothing is whole', () =>
    fc.assert(
      fc.property(
        anyWeights,
        fc.subarray([...WORTH_HAVING, 'note']),
        fc.constantFrom('person', 'organization'),
        (weights, there, kind) => {
          const of = (...keys: string[]) => completenessOf(kind, having(...keys), weights);
          const missing = missingOf(kind, having(...there), weights);
          for (const key of missing) expect(of(...there, key)).toBeGreaterThanOrEqual(of(...there));
          expect(of(...there, ...missing)).toBe(100);
        },
      ),
    ));
  test.each<[string, Weights, string | null]>([
    ['as shipped', EQUAL_WEIGHTS, null],
    ['half a weight', { email: 0.5 }, 'whole number'],
    ['too much', { email: 10 }, 'whole number'],
    ['nothing at all', { email: 0 }, 'At least one'],
    ['no such field', { nothing: 1 }, "no field 'nothing'"],
  ])('weights: %s', (_, weights, words) => {
    const fault = faultOfWeights(weights, (key) => key !== 'nothing');
    if (words) expect(fault).toMatch(words);
    else expect(fault).toBeNull();
  });
});
