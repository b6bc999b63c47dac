import { afterEach, expect, test } from '@jest/globals';
import type { MatchBoard } from '@gray-loom/wire';
import { cleanup, render, screen } from '@testing-library/react';
import { oddsInWords, Reasons } from './reasons';

afterEach(cleanup);

const pair = (a: number, b: number, bits: number) => ({
  a,
  b,
  bits,
  reasons: [
    { field: 'email', bits: 15.34, text: 'Same e-mail' },
    { field: 'family', bits: -2, text: 'Other family names' },
  ],
});

test('two records: the reasons with their weights, signs written as people read them', () => {
  const board = { members: [{ id: 3 }, { id: 8 }], reasons: [pair(3, 8, 13.3)] } as unknown as MatchBoard;
  render(<Reasons board={board} />);
  expect(screen.getByRole('heading').textContent).toBe('Evidence in bits, +13.3 in all; each bit doubles the odds');
  expect(screen.getAllByRole('listitem').map((item) => item.textContent)).toEqual([
    '•Same e-mail +15.3',
    '•Other family names −2.0',
  ]);
});

test('more records: each pair by the numbers that the board gives its records', () => {
  const board = {
    members: [{ id: 8 }, { id: 3 }, { id: 5 }],
    reasons: [pair(3, 8, 9), pair(5, 8, -1)],
  } as unknown as MatchBoard;
  render(<Reasons board={board} />);
  expect(screen.getAllByRole('heading').map((one) => one.textContent)).toEqual([
    '2 and 1, +9.0 in all',
    '3 and 1, −1.0 in all',
  ]);
});

test.each([
  [0, 'about 1 to 1'],
  [3, 'about 8 to 1'],
  [7.6, 'about 190 to 1'],
  [16.3, 'about 81,000 to 1'],
  [31, 'more than a million to 1'],
  [Infinity, 'more than a million to 1'],
  [-5, 'about 32 to 1 against'],
])('%f bits: %s', (bits, words) => expect(oddsInWords(bits)).toBe(words));
