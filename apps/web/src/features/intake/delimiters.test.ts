import { expect, test } from '@jest/globals';
import type { DelimitedShape } from '@gray-loom/core/formats';
import { hasOwnHeading, writtenAs } from './delimiters';

const SHAPE: DelimitedShape = {
  encoding: { name: 'utf-8', decoder: 'utf-8', bomBytes: 0 },
  delimiter: ';',
  quote: '"',
  headerRow: 2,
  headers: ['Name'],
  columnCount: 1,
};

test.each<[Partial<DelimitedShape>, string, boolean]>([
  [{}, 'heading in row 2 · semicolon · utf-8', true],
  [{ headerRow: null, delimiter: '\t' }, 'no heading · tab · utf-8', true],
  [{ madeOf: 'spreadsheet' }, 'heading in row 2 · spreadsheet', true],
  [{ madeOf: 'page' }, 'heading in row 2 · a table of a web page', true],
  [{ madeOf: 'json' }, 'records (JSON)', false],
  [{ madeOf: 'labelled' }, 'records of labelled lines', false],
  [{ madeOf: 'message' }, 'messages', false],
])('%j reads: %s', (more, words, own) => {
  expect(writtenAs({ ...SHAPE, ...more }).join(' · ')).toBe(words);
  expect(hasOwnHeading({ ...SHAPE, ...more })).toBe(own);
});
