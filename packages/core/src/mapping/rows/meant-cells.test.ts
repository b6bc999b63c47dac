import { expect, test } from '@jest/globals';
import type { Issue } from '../../model';
import { meantCells } from './meant-cells';

const wrong = (column: number, value: string, meant?: string): Issue => ({
  code: 'invalidEmail',
  value,
  why: 'noAt',
  ...(meant ? { meant } : {}),
  path: { row: 1, column },
});

test('what is meant stands for what was written, and nothing else moves', () => {
  const cells = ['Ana', 'ana(at)example.org; tom@example.org', 'x@y'];
  expect(meantCells(cells, [wrong(1, 'ana(at)example.org', 'ana@example.org')])).toEqual([
    'Ana',
    'ana@example.org; tom@example.org',
    'x@y',
  ]);
  expect(cells[1]).toBe('ana(at)example.org; tom@example.org');
});
test('two in one cell are both mended', () =>
  expect(
    meantCells(
      ['a(at)example.org; b(at)example.org'],
      [wrong(0, 'a(at)example.org', 'a@example.org'), wrong(0, 'b(at)example.org', 'b@example.org')],
    ),
  ).toEqual(['a@example.org; b@example.org']));
test('what an earlier version said less of is told from the text', () =>
  expect(meantCells(['kari(at)example.org'], [wrong(0, 'kari(at)example.org')])).toEqual(['kari@example.org']));
test('a sign that means something in replacing is written as it is', () =>
  expect(meantCells(['a$&(at)example.org'], [wrong(0, 'a$&(at)example.org', 'a$&@example.org')])).toEqual([
    'a$&@example.org',
  ]));
test('where nothing is meant, or the cell was read otherwise, nothing is offered', () => {
  expect(meantCells(['kari'], [wrong(0, 'kari')])).toBeNull();
  expect(meantCells(['KARI(AT)EXAMPLE.ORG'], [wrong(0, 'kari(at)example.org', 'kari@example.org')])).toBeNull();
  expect(meantCells(['kari'], [{ code: 'noIdentity', path: { row: 1 } }])).toBeNull();
});
