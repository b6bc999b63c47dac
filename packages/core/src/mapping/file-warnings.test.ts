import { expect, test } from '@jest/globals';
import type { Issue } from '../model';
import { defaultMapping } from './default-mapping';
import { WarningCounter, wordWarning } from './file-warnings';
import { guessColumns } from './guess-columns';

const guesses = guessColumns(
  ['Name', 'Born'],
  Array.from({ length: 20 }, (_, i) => ['Ana Reis', `0${(i % 8) + 1}/0${((i + 3) % 8) + 1}/1980`]),
);
const mapping = defaultMapping(guesses, 'GB');

function warningsOf(
  issues: Issue[][],
  file: { rows: number; held?: number; lastRows?: number | null } = { rows: 100 },
) {
  const counter = new WarningCounter();
  for (const row of issues) counter.note(row);
  const nothing = { ...mapping, columns: [] };
  return counter.list({ held: 0, lastRows: null, ...file, mapping: nothing, guesses });
}
const times = (n: number, issue: Issue): Issue[][] => Array.from({ length: n }, () => [issue]);

test('an ordinary file has nothing odd', () => expect(warningsOf([[], []])).toEqual([]));
test('a row that lost digits twice is one row', () =>
  expect(
    warningsOf([
      [
        { code: 'lossyPhone', value: '4.4E+11', path: {} },
        { code: 'lossyPhone', value: '4.5E+11', path: {} },
      ],
    ]),
  ).toEqual([{ code: 'lostDigits', rows: 1 }]));
test.each([
  [9, []],
  [10, [{ code: 'oneAddressManyRows', value: 'desk@example.org', rows: 10 }]],
])('a mailbox that %i rows share', (n, expected) =>
  expect(
    warningsOf(times(n, { code: 'sharedIdentifier', value: 'desk@example.org', contactIds: [], path: {} })),
  ).toEqual(expected),
);
test('many rows of one person', () =>
  expect(warningsOf(times(11, { code: 'foldedInto', row: 3, path: {} }))).toEqual([
    { code: 'onePersonManyRows', row: 3, rows: 12 },
  ]));
test.each([
  [100, 100, false],
  [170, 100, false],
  [180, 100, true],
  [55, 100, true],
  [60, 100, false],
  [5, 1, false],
])('%i rows after %i last time: %s', (rows, lastRows, odd) =>
  expect(warningsOf([], { rows, lastRows }).length === 1).toBe(odd),
);
test('more than half held', () => {
  expect(warningsOf([], { rows: 20, held: 11 })).toEqual([{ code: 'mostRowsHeld', held: 11, rows: 20 }]);
  expect(warningsOf([], { rows: 20, held: 10 })).toEqual([]);
});
test('dates that no cell tells the order of, unless a person chose it', () => {
  const list = (dateOrder: 'dayFirst' | 'monthFirst') =>
    new WarningCounter().list({
      rows: 20,
      held: 0,
      lastRows: null,
      guesses,
      mapping: { ...mapping, columns: mapping.columns.map((column) => ({ ...column, dateOrder })) },
    });
  expect(list('dayFirst').map(wordWarning)[0]).toContain("'Born' is unclear: 20 dates");
  expect(list('monthFirst')).toEqual([]);
});
