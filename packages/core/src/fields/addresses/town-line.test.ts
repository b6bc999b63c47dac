import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseTownLine } from './town-line';

describe('the line of an address with the town', () => {
  test.each([
    ['Portland, OR 97201', 'Portland | OR | 97201'],
    ['St. Paul MN 55101-1234', 'St. Paul | MN | 55101-1234'],
    ['Sydney NSW 2000', 'Sydney | NSW | 2000'],
    ['Toronto, ON M5V 2T6', 'Toronto | ON | M5V 2T6'],
    ['Falmouth TR11 3AB', 'Falmouth |  | TR11 3AB'],
    ['Newlyn East, TR8 5LN', 'Newlyn East |  | TR8 5LN'],
    ['TR11 3AB Falmouth', 'Falmouth |  | TR11 3AB'],
    ['24103 Kiel', 'Kiel |  | 24103'],
    ['D-24103 Kiel', 'Kiel |  | 24103'],
    ['1011 AB Amsterdam', 'Amsterdam |  | 1011 AB'],
    ["2514EA 's-Gravenhage", "'s-Gravenhage |  | 2514EA"],
    ['8001 Zürich', 'Zürich |  | 8001'],
    ['414 51 Göteborg', 'Göteborg |  | 414 51'],
    ['80-831 Gdańsk', 'Gdańsk |  | 80-831'],
    ['1100-148 Lisboa', 'Lisboa |  | 1100-148'],
    ['16121 Genova (GE)', 'Genova | GE | 16121'],
    ['〒220-0012 横浜市西区', '横浜市西区 |  | 220-0012'],
    ['Dublin D02 X285', 'Dublin |  | D02 X285'],
    ['Quay P123456', 'Quay P123456 |  | '],
    ['Mumbai 400001', 'Mumbai |  | 400001'],
    ['Port Townsend, WA', 'Port Townsend | WA | '],
    ['Falmouth', 'Falmouth |  | '],
    ['24103', ' |  | 24103'],
    ['Kiel\n24103', 'Kiel |  | 24103'],
    ['', ' |  | '],
  ])('%j is %s', (text, parts) => {
    const { locality = '', region = '', postalCode = '' } = parseTownLine(text);
    expect([locality, region, postalCode].join(' | ')).toBe(parts);
  });

  test('no letter or digit is lost, whatever the line is', () => {
    const piece = fc.constantFrom('Kiel', 'St.', '24103', 'TR11 3AB', 'OR', ',', '(GE)', '80-831', 'x', '-', ' ');
    const signs = (text: string) => [...text].filter((c) => /[\p{L}\d]/u.test(c)).sort().join(''); // prettier-ignore
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 6 }), (pieces) => {
        const text = pieces.join(' ');
        fc.pre(!/^\W*[A-Z]{1,3}[- ]+\d/.test(text));
        expect(signs(Object.values(parseTownLine(text)).join(''))).toBe(signs(text));
      }),
      { numRuns: 2000 },
    );
  });

  test('a line of half a megabyte is read at once', () => {
    for (const text of ['1'.repeat(5e5), 'a '.repeat(2.5e5), 'a,'.repeat(2.5e5), `${'A1 '.repeat(1e5)}9`])
      expect(Object.keys(parseTownLine(text)).length).toBeGreaterThan(0);
  });
});
