import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { defaultMapping } from './default-mapping';
import { WarningCounter, wordWarning } from '../files/file-warnings';
import { guessColumns } from './guess-columns';
import { lostZeros } from './lost-zeros';
import { applyTransforms } from '../rows/transform';

/** The codes as they are read from a table of names and codes, with countries where there are any. */
function read(codes: string[], home: string, countries?: string[], heading = 'Postal code'): string[] {
  const rows = codes.map((code, i) => ['Ana', 'Reis', code, ...(countries ? [countries[i] ?? ''] : [])]);
  const headers = ['First name', 'Last name', heading, ...(countries ? ['Country'] : [])];
  const column = defaultMapping(guessColumns(headers, rows), home).columns[2];
  return rows.map((cells) => applyTransforms(cells[2] ?? '', column?.transforms ?? [], cells));
}

describe('postal codes that a spreadsheet took for numbers', () => {
  test.each<[string, string, string[], string[]]>([
    ['one zero', 'DE', ['80331', '1067', '24937', '50667'], ['80331', '01067', '24937', '50667']],
    ['two zeros', 'IT', ['184', '70121', '50122', '853'], ['00184', '70121', '50122', '00853']],
    ['with four more digits', 'US', ['6355-1234', '98368', '55101'], ['06355-1234', '98368', '55101']],
    ['four digits', 'NO', ['150', '5003', '7010'], ['0150', '5003', '7010']],
    ['six digits', 'SG', ['18956', '238801', '247729'], ['018956', '238801', '247729']],
  ])('%s', (_name, home, codes, whole) => expect(read(codes, home)).toEqual(whole));

  test.each<[string, string, string[]]>([
    ['a country whose codes are shorter', 'AT', ['1010', '5020', '80331', '50667']],
    ['a country with letters', 'GB', ['1067', '80331', '24937']],
    ['zeros were kept', 'DE', ['01067', '1010', '80331', '24937']],
    ['most are short', 'DE', ['1010', '5020', '80331']],
    ['none is short', 'DE', ['80331', '24937']],
    ['lengths of every kind', 'DE', ['80331', '24937', '12', '1067']],
    ['codes with letters among them', 'FR', ['75001', '1067', 'TR11 4AB', 'PL2 1AA']],
  ])('are left as they are: %s', (_name, home, codes) => expect(read(codes, home)).toEqual(codes));

  test('the countries beside the short ones count, not where the file is from', () => {
    expect(read(['80331', '50667', '1067'], 'GB', ['Germany', '', 'DE'])).toEqual(['80331', '50667', '01067']);
    expect(read(['80331', '24937', '1010'], 'DE', ['Germany', 'Germany', 'Austria'])).toEqual([
      '80331',
      '24937',
      '1010',
    ]);
    expect(read(['80331', '24937', '1010'], 'DE', ['Germany', 'Germany', 'Ruritania'])).toEqual([
      '80331',
      '24937',
      '1010',
    ]);
  });

  test('whatever the cells are, only digits in front of which zeros fit are touched', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: 100, max: 99_999 }).map(String), fc.string({ maxLength: 8 })), {
          maxLength: 20,
        }),
        (codes) => {
          read(codes, 'DE').forEach((code, i) => {
            const before = codes[i] ?? '';
            if (code === before) return;
            expect(before.trim()).toMatch(/^\d{1,5}(?:-\d+)?$/);
            expect(code).toBe(before.trim().replace(/^\d+/, (digits) => digits.padStart(5, '0')));
          });
        },
      ),
    );
  });

  test('placeholders say nothing, and the cells beside them neither', () =>
    expect(lostZeros(['80331', 'n/a', '1067', ''], ['Germany', 'Austria', 'Germany', 'Austria'])).toEqual({
      places: 5,
      codes: 1,
      example: '1067',
      countries: ['DE'],
    }));
});

test('what was put back is told, until the step is left out', () => {
  const guesses = guessColumns(
    ['Vorname', 'PLZ'],
    ['80331', '1067', '24937'].map((code) => ['Heike', code]),
  );
  const mapping = defaultMapping(guesses, 'DE');
  const file = { rows: 3, held: 0, lastRows: null, guesses };
  const [warning] = new WarningCounter(mapping).list(file);
  expect(warning).toEqual({ code: 'zerosPutBack', column: 'PLZ', example: '1067', places: 5 });
  expect(warning && wordWarning(warning)).toMatch(/^Postal codes in 'PLZ' have lost zeros .* 1067 is read as 01067\./);
  const without = { ...mapping, columns: mapping.columns.map((column) => ({ ...column, transforms: [] })) };
  expect(new WarningCounter(without).list(file)).toEqual([]);
});
