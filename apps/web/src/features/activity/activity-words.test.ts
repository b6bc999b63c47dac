import { describe, expect, test } from '@jest/globals';
import { activityOf } from '@gray-loom/core/activity';
import { everyInWords, factsOf, lateness, localDay, localTime, whenFrom, whenOf } from './activity-words';

describe('when', () => {
  test('a day, several days, and no day', () => {
    expect(whenOf({ at: '2026-03-04', end: null })).toBe('4 Mar 2026');
    expect(whenOf({ at: '2026-03-04', end: '2026-03-06' })).toBe('4 Mar 2026 to 6 Mar 2026');
    expect(whenOf({ at: null, end: null })).toBe('no day');
  });
  test('a time by the clock of whoever looks, and back', () => {
    const at = whenFrom('2026-03-04', '09:30') ?? '';
    expect(whenOf({ at, end: whenFrom('2026-03-04', '10:15') })).toBe('4 Mar 2026, 09:30 to 10:15');
    expect([localDay(at), localTime(at)]).toEqual(['2026-03-04', '09:30']);
    expect(whenFrom('2026-03-04', '')).toBe('2026-03-04');
    expect(whenFrom('', '09:30')).toBeNull();
  });
  test.each([
    ['2026-02-24', '3 days late', true],
    ['2026-02-26', '1 day late', true],
    ['2026-02-27', 'today', false],
    ['2026-02-28', 'tomorrow', false],
    ['2026-03-09', 'in 10 days', false],
    [null, '', false],
  ])('%s is %s', (at, words, isLate) => expect(lateness(at, '2026-02-27')).toEqual({ words, isLate }));
});

test('facts are told in order, and only those there are', () => {
  const talk = activityOf('talk', { way: 'call', minutes: 12, outcome: 'will come' });
  expect(factsOf(talk)).toEqual(['by phone', '12 min', 'will come']);
  expect(factsOf(activityOf('gift', { quantity: 2, amount: { amount: 1234.5, currency: 'GBP' } }))[0]).toBe('2 ×');
  expect(factsOf(activityOf('note'))).toEqual([]);
});

test('how often', () => {
  expect(everyInWords({ every: 1, unit: 'week', until: null })).toBe('every week');
  expect(everyInWords({ every: 3, unit: 'month', until: '2026-12-31' })).toBe('every 3 months until 31 Dec 2026');
});
