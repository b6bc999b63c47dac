import { expect, test } from '@jest/globals';
import { meantEmail, nameBeside, parseEmail } from './email';
import { parseDate } from './date';
import { parseMoney, parseNumber, parseRange } from './scalar';

/** Cells of half a megabyte of what patterns may try again and again. */
const LONG = [' ', '.', 'kr ', '1 ', 'a@', '(', '- ', 'T ', '"<'].map((piece) => piece.repeat(500_000 / piece.length));

test.each(LONG.map((text) => [text.slice(0, 3), text] as const))(
  'half a megabyte of %j is no value, and is told so without trying for ever',
  (_begin, text) => {
    for (const cell of [text, `a${text}b`, `1${text}1`]) {
      expect(parseEmail(cell).ok).toBe(false);
      expect(meantEmail(cell)).toBeNull();
      expect(nameBeside(cell)).toBeNull();
      expect(parseDate(cell, 'dayFirst').ok).toBe(false);
      for (const read of [parseNumber(cell, '.'), parseMoney(cell, '.', 'GBP'), parseRange(cell, '.')])
        expect(read).toBeNull();
    }
  },
);
