import { expect, test } from '@jest/globals';
import { changedInWords } from './run-words';

test.each([
  [{}, '0 contacts'],
  [{ changed: 1 }, '1 contact'],
  [{ changed: 1204 }, '1,204 contacts'],
])('%j is told as "%s"', (counts, words) => expect(changedInWords(counts)).toBe(words));
