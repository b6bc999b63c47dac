import { expect, test } from '@jest/globals';
import { isPassing, pauseBefore } from './retry';

test.each([
  [{ code: '57P01' }, true],
  [{ code: '08006' }, true],
  [{ code: '40P01' }, true],
  [{ code: 'ECONNRESET' }, true],
  [{ message: 'Connection terminated unexpectedly' }, true],
  [{ code: '53100' }, false],
  [{ code: '23505' }, false],
  [{ code: 'ECONNRESET', retryable: false }, false],
  [new TypeError('x is not a function'), false],
])('%j passes by itself: %s', (error, expected) => {
  expect(isPassing(error)).toBe(expected);
});

test('pauses grow, up to five minutes', () => {
  const pauses = Array.from({ length: 12 }, (_, i) => pauseBefore(i + 1));
  expect([...pauses].sort((a, b) => a - b)).toEqual(pauses);
  expect(pauses[0]).toBe(2000);
  expect(pauses.at(-1)).toBe(300_000);
});
