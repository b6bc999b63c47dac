import { describe, expect, test } from '@jest/globals';
import { conditionOfPicks, isPicked, NO_PICKS, pickedOf, whatOf, withPicked, type Picks } from './use-picks';

const some = (...ids: number[]): Picks => ({ isAll: false, ids: new Set(ids) });
const allBut = (...ids: number[]): Picks => ({ isAll: true, ids: new Set(ids) });

describe('who is picked', () => {
  test.each<[Picks, number, boolean]>([
    [NO_PICKS, 1, false],
    [some(1), 1, true],
    [allBut(1), 1, false],
    [allBut(1), 2, true],
  ])('%#', (picks, id, is) => expect(isPicked(picks, id)).toBe(is));
  test('of a list of ten', () =>
    expect([NO_PICKS, some(1, 2), allBut(), allBut(3)].map((one) => pickedOf(one, 10))).toEqual([0, 2, 10, 9]));
  test('some are turned to picked and back, of some as of all', () => {
    expect(withPicked(some(1), [2, 3], true)).toEqual(some(1, 2, 3));
    expect(withPicked(some(1, 2), [1], false)).toEqual(some(2));
    expect(withPicked(allBut(), [5], false)).toEqual(allBut(5));
    expect(withPicked(allBut(5), [5], true)).toEqual(allBut());
  });
});

describe('whom a batch is told', () => {
  test('those that are named, or the filter and those left out', () => {
    expect(whatOf(some(3, 4), 'kind=person')).toEqual({ ids: [3, 4] });
    expect(whatOf(allBut(3), 'find=ana')).toEqual({ filter: { find: 'ana' }, except: [3] });
  });
  test('as a condition, while they are few enough to be named', () => {
    expect(conditionOfPicks(some(3))).toEqual({ field: '@id', op: 'is', value: ['3'] });
    expect(conditionOfPicks(allBut(3))).toEqual({ field: '@id', op: 'is', value: ['3'], not: true });
    expect(conditionOfPicks(some(...Array.from({ length: 1001 }, (_, i) => i)))).toBeNull();
  });
});
