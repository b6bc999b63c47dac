import { describe, expect, test } from '@jest/globals';
import { defaultMapping } from '../columns/default-mapping';
import { guessColumns } from '../columns/guess-columns';
import { NO_COLUMN, type Mapping } from '../mapping';
import { fitMapping, layoutKey, layoutLikeness01, LIKE_FROM01 } from './saved-mapping';
import { mappingTargets } from '../targets';

const KNOWN = new Set([...mappingTargets().map((target) => target.key), 'custom.1']);
const HEADERS = ['Name', 'Mob', 'Mob', 'Born', 'Berth'];
const ROWS = Array.from({ length: 30 }, (_, i) => [
  'Ana Reis',
  `01632 9600${10 + i}`,
  '',
  `${1 + (i % 28)}/03/1971`,
  i % 2 ? 'north' : 'south',
]);

function savedAs(change: (mapping: Mapping) => void): { headers: string[]; mapping: Mapping } {
  const mapping = defaultMapping(guessColumns(HEADERS, ROWS), 'GB');
  change(mapping);
  return { headers: HEADERS, mapping };
}

const saved = savedAs((mapping) => {
  Object.assign(mapping.columns[1] ?? {}, { label: 'mobile' });
  Object.assign(mapping.columns[2] ?? {}, { target: 'tel', label: 'work' });
  Object.assign(mapping.columns[4] ?? {}, { target: 'custom.1' });
  mapping.writeRule = 'replace';
});

function fit(headers: string[], rows: string[][], known: ReadonlySet<string> = KNOWN) {
  const guesses = guessColumns(headers, rows);
  return fitMapping(saved, guesses, defaultMapping(guesses, 'PT'), known);
}

describe('a saved mapping', () => {
  test('reads the same layout as it was read, columns of one heading apart', () => {
    const { mapping, added, missing, lost, doubtful } = fit(HEADERS, ROWS);
    expect(mapping.columns.map(({ target, label }) => [target, label])).toEqual(
      saved.mapping.columns.map(({ target, label }) => [target, label]),
    );
    expect([mapping.writeRule, mapping.country]).toEqual(['replace', 'PT']);
    expect([added, missing, lost, doubtful]).toEqual([[], [], [], []]);
  });

  test('the decimal mark of then gives way where amounts of this file can be read by the other one only', () => {
    const headers = ['Name', 'Gift amount', 'Date'];
    const gifts = (...amounts: string[]) => amounts.map((amount) => ['Ana Reis', amount, '2026-01-03']);
    const then = guessColumns(headers, gifts('20.00', '7.50'));
    const before = { headers, mapping: defaultMapping(then, 'GB') };
    const markOf = (...amounts: string[]) => {
      const guesses = guessColumns(headers, gifts(...amounts));
      return fitMapping(before, guesses, defaultMapping(guesses, 'GB'), KNOWN).mapping.columns[1]?.decimal;
    };
    expect(markOf('1.234,56', '20,00')).toBe(',');
    expect([markOf('9.99'), markOf('20', '35'), markOf('1.500')]).toEqual(['.', '.', '.']);
  });

  test('what is of one file alone does not come again: its consent and its segment', () => {
    const before = savedAs((mapping) => {
      mapping.wholeFile = { ...mapping.wholeFile, tags: ['Open yard'], segment: 'Crew of May' };
    });
    const guesses = guessColumns(HEADERS, ROWS);
    const { wholeFile } = fitMapping(before, guesses, defaultMapping(guesses, 'GB'), KNOWN).mapping;
    expect(wholeFile).toMatchObject({ tags: ['Open yard'], consent: null });
    expect(wholeFile).not.toHaveProperty('segment');
  });

  test('columns that go by others go by the same ones, wherever those stand, and without those that are missing', () => {
    const rich = savedAs((mapping) => {
      Object.assign(mapping.columns[0] ?? {}, { transforms: [{ kind: 'join', column: 4, with: ' ' }] });
      Object.assign(mapping.columns[1] ?? {}, { labelFrom: 4 });
    });
    const moved = (headers: string[]) => {
      const guesses = guessColumns(headers, []);
      return fitMapping(rich, guesses, defaultMapping(guesses, 'GB'), KNOWN).mapping.columns;
    };
    const [, mob, name] = moved(['Berth', 'Mob', 'Name']);
    expect([mob?.labelFrom, name?.transforms]).toEqual([0, [{ kind: 'join', column: 0, with: ' ' }]]);
    const [alone, whole] = moved(['Mob', 'Name']);
    expect([alone?.labelFrom, whole?.transforms]).toEqual([undefined, []]);
  });

  test('brings back further meanings, values for every row and the column of changes, wherever the columns stand', () => {
    const rich = savedAs((mapping) => {
      const boat = mapping.columns[4];
      if (!boat) throw new Error('there is no fifth column');
      mapping.columns.push(
        { ...boat, target: 'note' },
        { ...boat, column: NO_COLUMN, header: null, target: 'country' },
      );
      mapping.columns.push({ ...boat, column: NO_COLUMN, header: null, target: 'custom.9' });
      mapping.changedColumn = 3;
    });
    const headers = ['Born', 'Berth', 'Name'];
    const guesses = guessColumns(
      headers,
      ROWS.map((row) => [row[3] ?? '', row[4] ?? '', row[0] ?? '']),
    );
    const { mapping } = fitMapping(rich, guesses, defaultMapping(guesses, 'GB'), KNOWN);
    expect(mapping.columns.map(({ column, target }) => [column, target]).slice(1)).toEqual([
      [1, rich.mapping.columns[4]?.target ?? null],
      [1, 'note'],
      [2, 'fullName'],
      [NO_COLUMN, 'country'],
    ]);
    expect(mapping.changedColumn).toBe(0);
  });

  test('finds columns that stand elsewhere, guesses what is new, and says what is gone', () => {
    const { mapping, added, missing } = fit(
      ['Berth', 'E-mail', 'NAME', 'mob'],
      ROWS.map((row, i) => [row[4] ?? '', `a${i}@example.org`, row[0] ?? '', row[1] ?? '']),
    );
    expect(mapping.columns.map(({ column, target, label }) => [column, target, label])).toEqual([
      [0, 'custom.1', null],
      [1, 'email', null],
      [2, 'fullName', null],
      [3, 'tel', 'mobile'],
    ]);
    expect(added).toEqual(['E-mail']);
    expect(missing).toEqual(['Mob', 'Born']);
  });

  test('says which field is no more, and where dates look otherwise', () => {
    const american = ROWS.map((row, i) => [...row.slice(0, 3), `03/${1 + (i % 28)}/1971`, row[4] ?? '']);
    const { lost, doubtful, mapping } = fit(HEADERS, american, new Set(mappingTargets().map((target) => target.key)));
    expect(lost).toEqual(['Berth']);
    expect(doubtful).toEqual(['Born']);
    expect(mapping.columns[3]?.dateOrder).toBe('dayFirst');
  });
});

test('layouts are told by their headings', () => {
  expect(layoutKey(['E-Mail ', 'NAME'])).toBe(layoutKey(['e mail', 'Name']));
  expect(layoutKey(['a', 'b'])).not.toBe(layoutKey(['b', 'a']));
  expect(layoutKey([null, ''])).toBeNull();
  expect(layoutLikeness01(['a', 'b', 'c'], ['c', 'b', 'a'])).toBe(1);
  expect(layoutLikeness01(['a', 'b', 'c', 'd'], ['a', 'b', 'c', 'x'])).toBe(LIKE_FROM01);
  expect(layoutLikeness01([null], [null])).toBe(0);
});
