import { describe, expect, test } from '@jest/globals';
import { guessDateOrder, parseDate } from './date';

describe('dates', () => {
  test.each([
    ['1998-04-12', 'dayFirst', '1998-04-12'],
    ['03.11.1958', 'dayFirst', '1958-11-03'],
    ['07/04/1976', 'monthFirst', '1976-07-04'],
    ['2021年11月14日 09:30:12', 'iso', '2021-11-14'],
    ['2020年10月7日 2:05 PM', 'dayFirst', '2020-10-07'],
    ['14 Feb 1972', 'dayFirst', '1972-02-14'],
    ['6 June 1998', 'iso', '1998-06-06'],
    ['Mar 3, 1990', 'iso', '1990-03-03'],
    ['3. März 1990', 'dayFirst', '1990-03-03'],
    ['27851', 'serial', '1976-04-01'],
    ['43710.5', 'serial', '2019-09-02'],
    ['--07-14', 'iso', '--07-14'],
    ['2024-05-02T10:00', 'iso', '2024-05-02'],
    ['19700412', 'iso', '1970-04-12'],
    ['3. 4. 1968', 'dayFirst', '1968-04-03'],
    ['1970.05.12.', 'iso', '1970-05-12'],
    ['1975年4月12日', 'iso', '1975-04-12'],
    ['1975. 4. 12.', 'iso', '1975-04-12'],
    ['12 мая 1971 г.', 'dayFirst', '1971-05-12'],
    ['5 września 1980 r.', 'dayFirst', '1980-09-05'],
    ['7. listopadu 1966', 'dayFirst', '1966-11-07'],
    ['21 Ağustos 1981', 'dayFirst', '1981-08-21'],
    ['1. tammikuuta 1990', 'dayFirst', '1990-01-01'],
  ] as const)('%s read %s is %s', (text, order, iso) =>
    expect(parseDate(text, order)).toEqual({ ok: true, value: iso }),
  );

  test.each([
    ['29.02.2023', 'dayFirst', 'noSuchDay'],
    ['13.13.1970', 'dayFirst', 'noSuchDay'],
    ['11/31/1988', 'monthFirst', 'noSuchDay'],
    ['60', 'serial', 'noSuchSerial'],
    ['0', 'serial', 'noSuchSerial'],
    ['99999999', 'serial', 'noSuchSerial'],
    ['soon', 'iso', 'notADate'],
  ] as const)('%s read %s is refused: %s', (text, order, why) =>
    expect(parseDate(text, order)).toEqual({ ok: false, error: why }),
  );

  test('a year of two digits is the last such year up to the latest that can be', () => {
    const read = (text: string, latest?: number) => parseDate(text, 'dayFirst', latest);
    expect(read('01/02/29')).toEqual({ ok: true, value: '2029-02-01' });
    expect(read('01/02/31')).toEqual({ ok: true, value: '1931-02-01' });
    expect(read('01/02/29', 2026)).toEqual({ ok: true, value: '1929-02-01' });
    expect(read("1 Feb '26", 2026)).toEqual({ ok: true, value: '2026-02-01' });
    expect(read('1/II/27', 2026)).toEqual({ ok: true, value: '1927-02-01' });
    expect(read('01/02/2029', 2026)).toEqual({ ok: true, value: '2029-02-01' });
  });

  test('the order of day and month is decided over the whole column', () => {
    expect(guessDateOrder(['05/09/2025', '12/09/2025', '19/09/2025']).order).toBe('dayFirst');
    expect(guessDateOrder(['07/04/1976', '12/25/1983', '02/03/1990']).order).toBe('monthFirst');
    expect(guessDateOrder(['27851', '30001', '1986-03-04']).order).toBe('serial');
    // Years are no days of a spreadsheet.
    expect(guessDateOrder(['2015', '2020', '1998']).order).toBe('iso');
    expect(guessDateOrder(['01/02/2020', '03/04/2021'])).toMatchObject({
      order: 'dayFirst',
      evidence: 0,
      ambiguous: 2,
    });
  });
});
