import { describe, expect, test } from '@jest/globals';
import type { Issue } from '../../model';
import { defaultMapping } from '../columns/default-mapping';
import { WarningCounter, wordWarning } from './file-warnings';
import { guessColumns } from '../columns/guess-columns';

const guesses = guessColumns(
  ['Name', 'Born'],
  Array.from({ length: 20 }, (_, i) => ['Ana Reis', `0${(i % 8) + 1}/0${((i + 3) % 8) + 1}/1980`]),
);
const mapping = defaultMapping(guesses, 'GB');

function warningsOf(
  issues: Issue[][],
  file: { rows: number; held?: number; lastRows?: number | null } = { rows: 100 },
) {
  // A person chose the order of dates.
  const columns = mapping.columns.map((column) => ({ ...column, dateOrder: 'iso' as const }));
  const counter = new WarningCounter({ ...mapping, columns });
  for (const row of issues) counter.note(row);
  return counter.list({ held: 0, lastRows: null, ...file, guesses });
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
    new WarningCounter({ ...mapping, columns: mapping.columns.map((column) => ({ ...column, dateOrder })) }).list({
      rows: 20,
      held: 0,
      lastRows: null,
      guesses,
    });
  expect(list('dayFirst').map(wordWarning)[0]).toContain("'Born' is unclear: 20 dates");
  expect(list('monthFirst')).toEqual([]);
});

describe('rows with nothing but a name', () => {
  const list = [
    ['Beginners on Monday', '', '', ''],
    ...Array.from({ length: 7 }, (_, i) => [`Ana Reis${i}`, `a${i}@example.org`, '07700 900123', '']),
  ];
  const warned = (rows: string[][], headers = ['Name', 'Email', 'Phone', 'Berth']) => {
    const found = guessColumns(headers, rows);
    const counter = new WarningCounter(defaultMapping(found, 'GB'));
    rows.forEach((cells, i) => counter.note([], { row: i + 1, cells }));
    return counter.list({ rows: rows.length, held: 0, lastRows: null, guesses: found });
  };

  test('are named, since they may be headings within the list', () => {
    const [warning, ...more] = warned(list);
    expect(warning).toEqual({ code: 'onlyNames', rows: 1, examples: [{ row: 1, name: 'Beginners on Monday' }] });
    expect(more).toEqual([]);
    expect(warning && wordWarning(warning)).toContain("1 row has nothing but a name ('Beginners on Monday' in row 1)");
  });
  test('are nothing odd where many are so, or where the file has little else', () => {
    expect(warned([...list, ['Tom Okoro', '', '', ''], ['Eva Brandt', '', '', '']])).toEqual([]);
    expect(
      warned(
        list.map(([name = '', email = '']) => [name, email]),
        ['Name', 'Email'],
      ),
    ).toEqual([]);
  });
  test('a cell of a column that is left out says something as well', () => {
    expect(warned([['Tom Okoro', '', '', '12'], ...list.slice(1)])).toEqual([
      { code: 'columnsLeftOut', columns: ['Berth'] },
    ]);
  });
});

test('letters that came in broken are mended, and it is said', () => {
  const rows = [
    ['JosÃ©', 'O&#39;Neill', 'jose@example.org'],
    ['Ana', 'Reis', 'ana@example.org'],
  ];
  const found = guessColumns(['First name', 'Last name', 'Email'], rows);
  const mending = defaultMapping(found, 'GB');
  expect(mending.columns.map(({ transforms }) => transforms)).toEqual([
    [{ kind: 'letters' }],
    [{ kind: 'letters' }],
    undefined,
  ]);
  const list = (columns = mending.columns) =>
    new WarningCounter({ ...mending, columns }).list({ rows: 2, held: 0, lastRows: null, guesses: found });
  expect(list()).toEqual([{ code: 'lettersMended', column: 'First name', example: 'JosÃ©', columns: 2 }]);
  expect(list().map(wordWarning)[0]).toContain("'First name' and one other column");
  expect(list().map(wordWarning)[0]).toContain("'JosÃ©' is read as 'José'");
  expect(list(mending.columns.map(({ transforms: _, ...column }) => column))).toEqual([]);
});

describe('what folding would drop', () => {
  test('is counted by column, whether it waits or is left out', () => {
    const at = (name: string) => ({ row: 4, column: 3, name });
    const found = warningsOf([
      [{ code: 'repeatSaysMore', row: 1, value: '50', path: at('Amount') }],
      [{ code: 'repeatSaysMore', row: 1, value: '60', path: at('Amount') }],
      [
        { code: 'foldedInto', row: 1, path: { row: 5 } },
        { code: 'leftInFolding', row: 1, value: 'Tern Joinery', path: at('Company') },
      ],
    ]);
    expect(found).toEqual([
      { code: 'heldInFolding', columns: [{ name: 'Amount', rows: 2 }] },
      { code: 'leftInFolding', columns: [{ name: 'Company', rows: 1 }] },
    ]);
    expect(found.map(wordWarning).join()).toMatch(/'Amount' in 2.*'Company' in 1/s);
  });
});

describe('columns that are left out', () => {
  const headers = ['Name', 'Email', 'Shoe size', 'Do not call', 'Blank'];
  const found = guessColumns(headers, [['Ana Reis', 'ana@example.org', '41', 'yes', '']]);
  test('are named where there is something in them, and a permission by itself', () => {
    const read = defaultMapping(found, 'GB');
    const columns = read.columns.map((column) => (column.column === 3 ? { ...column, target: null } : column));
    const counter = new WarningCounter({ ...read, columns });
    const warnings = counter.list({ rows: 1, held: 0, lastRows: null, guesses: found });
    expect(warnings).toEqual([
      { code: 'permissionLeftOut', column: 'Do not call' },
      { code: 'columnsLeftOut', columns: ['Shoe size'] },
    ]);
    expect(warnings.map(wordWarning).join()).toMatch(/who said stop.*'Shoe size'/s);
  });
});

test('owners who are no account are named with their rows', () => {
  const stranger = (value: string) => [{ code: 'unknownOwner' as const, value, path: { row: 1 } }];
  const found = warningsOf([stranger('Callum'), stranger('Morwenna'), stranger('Callum')]);
  expect(found.map(wordWarning)[0]).toContain("'Callum' in 2 rows, 'Morwenna' in 1 row. Say who they are");
});
