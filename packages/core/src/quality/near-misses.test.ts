import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nearMisses } from './near-misses';

const LIST = ['Boat fair', 'Alumni', 'Regatta', 'Open yard', 'Supplier', 'VIP', 'Box', 'bursary'];

describe('near misses of a pick-list', () => {
  test.each([
    ['boat-fair', 'Boat fair', 'writing'],
    ['BOATFAIR', 'Boat fair', 'writing'],
    ['Boat fairs', 'Boat fair', 'form'],
    ['fair, boat', 'Boat fair', 'form'],
    ['Suppliers', 'Supplier', 'form'],
    ['bursaries', 'bursary', 'form'],
    ['boxes', 'Box', 'form'],
    ['Regata', 'Regatta', 'slip'],
    ['Regtata', 'Regatta', 'slip'],
  ])('"%s" may be meant for "%s"', (typed, label, why) => expect(nearMisses(typed, LIST)[0]).toEqual({ label, why }));
  test.each(['Harbour', 'VAP', 'Yacht club', ''])('"%s" is something new', (typed) =>
    expect(nearMisses(typed, LIST)).toEqual([]),
  );
  test('what is there already is no near miss of itself', () => expect(nearMisses('Alumni', LIST)).toEqual([]));
  test('one letter more or less in a long word is always found', () =>
    fc.assert(
      fc.property(fc.stringMatching(/^[a-rt-z]{6,14}$/), fc.nat(), (word, at) => {
        const where = at % word.length;
        const shorter = word.slice(0, where) + word.slice(where + 1);
        return shorter === word || nearMisses(shorter, [word]).some((miss) => miss.label === word);
      }),
    ));
});
