import { expect, test } from '@jest/globals';
import { oddsInWords } from './reasons';

test.each([
  [0, 'about 1 to 1'],
  [3, 'about 8 to 1'],
  [7.6, 'about 190 to 1'],
  [16.3, 'about 81,000 to 1'],
  [31, 'more than a million to 1'],
  [Infinity, 'more than a million to 1'],
  [-5, 'about 32 to 1 against'],
])('%f bits: %s', (bits, words) => expect(oddsInWords(bits)).toBe(words));
