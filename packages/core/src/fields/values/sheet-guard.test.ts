import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { isFormulaLike } from './scalar';
import { guardCell, guardText, unguardText } from './sheet-guard';

describe('the apostrophe before what a spreadsheet would run', () => {
  test.each([
    ['=SUM(A1:A9)', "'=SUM(A1:A9)"],
    ['@cmd', "'@cmd"],
    ['-see note', "'-see note"],
    ['+44 7700 900301', '+44 7700 900301'],
    ['-12.50', '-12.50'],
    ["'-:", "''-:"],
    ["'0441", "''0441"],
    ["O'Hare", "O'Hare"],
    ["'t Hooft", "'t Hooft"],
    ['', ''],
  ])('%s is written as %s', (text, cell) => expect(guardText(text)).toBe(cell));

  test.each([
    ["'0441 22", '0441 22'],
    ["'+44 7700 900301", '+44 7700 900301'],
    ["'=1+1", '=1+1'],
    ["'t Hooft", "'t Hooft"],
    ["'quoted'", "'quoted'"],
    ['="00441"', '00441'],
    ['= "say ""ahoy"""', 'say "ahoy"'],
  ])('a cell %s is the text %s', (cell, text) => expect(unguardText(cell)).toBe(text));

  const marks = fc.string({ unit: fc.constantFrom("'", '=', '+', '-', '@', '0', '7', ' ', 'a', '(', '\t') });
  test('every text comes back, and none is left that a spreadsheet would run', () =>
    fc.assert(
      fc.property(marks, (text) => {
        expect(unguardText(guardText(text))).toBe(text);
        expect(isFormulaLike(guardText(text))).toBe(false);
      }),
      { numRuns: 2000 },
    ));

  test('a cell that is taken out and brought back is the text that it was', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          marks,
          marks.map((text) => `="${text}"`),
        ),
        (cell) => {
          expect(unguardText(guardCell(cell))).toBe(unguardText(cell));
          expect(isFormulaLike(guardCell(cell))).toBe(false);
        },
      ),
      { numRuns: 2000 },
    ));
});
