import { expect, test } from '@jest/globals';
import { sheetCellText, trimSheet, type SheetCell } from './sheet-text';

test.each<[SheetCell, string]>([
  [null, ''],
  ['00712', '00712'],
  [7700900401, '7700900401'],
  [2.5, '2.5'],
  [1e21, '1000000000000000000000'],
  [Number.NaN, ''],
  [true, 'yes'],
  [new Date(Date.UTC(1971, 6, 4)), '1971-07-04'],
  [new Date(Date.UTC(2026, 0, 2, 9, 5)), '2026-01-02 09:05'],
  [new Date(Number.NaN), ''],
])('the cell %s is %s', (cell, text) => expect(sheetCellText(cell)).toBe(text));

test('empty edges of a sheet are left out, gaps inside stay', () => {
  expect(trimSheet([[null], ['Name', null, 'Age', null], [], ['Ana', null, 40], [' ', null], [null]])).toEqual([
    ['Name', '', 'Age'],
    ['', '', ''],
    ['Ana', '', '40'],
  ]);
  expect(trimSheet([[null, ''], []])).toEqual([]);
});
