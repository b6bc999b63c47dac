import { describe, expect, test } from '@jest/globals';
import { correctionBits, DECISIONS_NEEDED, learnCorrections, nothingLearned, type Decision } from './corrections';
import { COMPARED, level, LEVELS, type ComparedField } from '../comparing/levels';

/** Levels of a comparison by name; the rest has nothing to compare. */
function levels(named: Partial<Record<ComparedField, string>>): number[] {
  return COMPARED.map((field) => (LEVELS[field] as readonly string[]).indexOf(named[field] ?? 'absent'));
}
const NAMESAKE = levels({ given: 'same', family: 'same', place: 'sameTown' });
const SHARED = levels({ given: 'nickname', family: 'same', phone: 'sameShared' });
const many = (n: number, one: Decision): Decision[] => Array.from({ length: n }, () => one);

describe('what people’s decisions teach', () => {
  test('too few, or of one kind alone, teach nothing', () => {
    const { all, ofEachKind } = DECISIONS_NEEDED;
    const same = { levels: NAMESAKE, bits: 2, same: true };
    const apart = { ...same, same: false };
    expect(learnCorrections(many(all - 1, same))).toBeNull();
    expect(learnCorrections([...many(all * 2, same), ...many(ofEachKind - 1, apart)])).toBeNull();
    expect(learnCorrections([...many(all, same), ...many(ofEachKind, apart)])).not.toBeNull();
  });
  test('what people keep apart weighs less, what they merge more, and nothing else moves', () => {
    const corrections = learnCorrections([
      ...many(30, { levels: NAMESAKE, bits: 1, same: false }),
      ...many(30, { levels: SHARED, bits: 1, same: true }),
    ]);
    expect(correctionBits(corrections, NAMESAKE)).toBeLessThan(-1);
    expect(correctionBits(corrections, SHARED)).toBeGreaterThan(1);
    expect(corrections?.email).toEqual(nothingLearned().email);
    expect(corrections?.place[level('place', 'sameTown')]).toBeLessThan(0);
  });
  test('decisions that agree with the weights leave them nearly as they are', () => {
    const corrections = learnCorrections([
      ...many(40, { levels: SHARED, bits: 9, same: true }),
      ...many(40, { levels: NAMESAKE, bits: -9, same: false }),
    ]);
    expect(Math.abs(correctionBits(corrections, NAMESAKE))).toBeLessThan(0.3);
    expect(Math.abs(correctionBits(corrections, SHARED))).toBeLessThan(0.3);
  });
  test('a level that weighs two bits too much is found out from decisions alone', () => {
    let state = 7;
    const chance = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
    const decisions = Array.from({ length: 3000 }, (): Decision => {
      const has = chance() < 0.5;
      const bits = chance() * 8 - 4;
      const true_ = bits - (has ? 2 : 0);
      return {
        levels: levels(has ? { family: 'same', email: 'close' } : { family: 'same' }),
        bits,
        same: chance() < 1 / (1 + 2 ** -true_),
      };
    });
    const corrections = learnCorrections(decisions);
    expect(corrections?.email[level('email', 'close')]).toBeCloseTo(-2, 0);
    expect(Math.abs(corrections?.family[level('family', 'same')] ?? 9)).toBeLessThan(0.4);
  });
  test('do not depend on the order in which people decided', () => {
    const decisions = [
      ...many(9, { levels: NAMESAKE, bits: 2.5, same: false }),
      ...many(4, { levels: NAMESAKE, bits: 3.5, same: true }),
      ...many(12, { levels: SHARED, bits: 0.5, same: true }),
    ];
    expect(learnCorrections([...decisions].reverse())).toEqual(learnCorrections(decisions));
  });
});
