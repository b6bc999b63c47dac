import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseDate } from './date';
import { readWordedDate } from './month-words';

const DAY_MS = 86_400_000;
const day = fc.integer({ min: -20_000, max: 24_000 }).map((n) => new Date(n * DAY_MS));
const iso = (date: Date) => date.toISOString().slice(0, 10);

describe('dates as people of a country write them', () => {
  const STYLES = ['long', 'medium', 'full'] as const;
  test.each(
    'en-GB de fr es pt it nl pl cs sk hu ru uk bg da nb sv fi tr ro el sl lt lv et id ja ko zh sr gl is'.split(' '),
  )('%s', (language) => {
    const formats = STYLES.map((dateStyle) => new Intl.DateTimeFormat(language, { dateStyle, timeZone: 'UTC' }));
    fc.assert(
      fc.property(day, (date) => {
        for (const format of formats)
          expect([format.format(date), parseDate(format.format(date), 'dayFirst')]).toEqual([
            format.format(date),
            { ok: true, value: iso(date) },
          ]);
      }),
      { numRuns: 60 },
    );
  });

  test('en-US, month before day', () => {
    const formats = [...STYLES, 'short' as const].map(
      (dateStyle) => new Intl.DateTimeFormat('en-US', { dateStyle, timeZone: 'UTC' }),
    );
    fc.assert(
      fc.property(day, (date) => {
        fc.pre(date.getUTCFullYear() > 1930 && date.getUTCFullYear() < 2031);
        for (const format of formats)
          expect(parseDate(format.format(date), 'monthFirst')).toEqual({ ok: true, value: iso(date) });
      }),
    );
  });

  test('days without a year', () => {
    for (const language of ['en-GB', 'de', 'fr', 'pl', 'fi', 'ru', 'hu']) {
      const text = new Intl.DateTimeFormat(language, { day: 'numeric', month: 'long', timeZone: 'UTC' }).format(
        Date.UTC(2001, 4, 9),
      );
      expect([text, parseDate(text, 'dayFirst')]).toEqual([text, { ok: true, value: '--05-09' }]);
    }
  });
});

describe('words and numbers', () => {
  test.each([
    ['3 Apr 1985', { year: '1985', month: 4, day: 3 }],
    ["3 Apr '85", { year: '85', month: 4, day: 3 }],
    ['1985 April 3', { year: '1985', month: 4, day: 3 }],
    ['1er mai 1985', { year: '1985', month: 5, day: 1 }],
    ['mar 3 avr. 1985', { year: '1985', month: 4, day: 3 }],
    ['mar 3 1985', { year: '1985', month: 3, day: 3 }],
    ['the 3rd of Sept, 1985', { year: '1985', month: 9, day: 3 }],
    ['3 Decem', { year: null, month: 12, day: 3 }],
  ])('%s is a date', (text, date) => expect(readWordedDate(text)).toEqual(date));

  test.each([
    '12 May Street',
    '3 Marina',
    '2 Marlins',
    'Class of May 2019',
    'May 2019',
    'May',
    '1985',
    '3 April or May',
    '3 4 April 1985',
    'April 19855',
    'April 198',
    '45 April',
    '',
  ])('%j is none', (text) => expect(readWordedDate(text)).toBeNull());
});
