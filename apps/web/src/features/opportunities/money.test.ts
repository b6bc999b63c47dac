import { expect, test } from '@jest/globals';
import { addUp, sumsInWords } from './money';

test('amounts are added by currency, and those without one are left out', () =>
  expect(
    addUp([
      { amount: 1200, currency: 'EUR' },
      null,
      { amount: 300.5, currency: 'GBP' },
      { amount: 99.5, currency: 'EUR' },
    ]),
  ).toEqual([
    { amount: 1299.5, currency: 'EUR' },
    { amount: 300.5, currency: 'GBP' },
  ]));

test('sums stand side by side, the largest first, and nothing for nothing', () => {
  const words = sumsInWords([
    { amount: 20, currency: 'GBP' },
    { amount: 0, currency: 'USD' },
    { amount: 1299.5, currency: 'EUR' },
  ]);
  expect(words).toMatch(/1[.,]299.*20/);
  expect(words).not.toContain('USD');
  expect(sumsInWords([])).toBe('');
});
