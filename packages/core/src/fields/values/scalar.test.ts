import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  guessDecimalMark,
  isPlaceholderText,
  currencyIn,
  parseMoney,
  parseNumber,
  parseRange,
  parseUrl,
  parseYesNo,
} from './scalar';

describe('a number', () => {
  test.each([
    ['1,5', '.', null],
    ['1.5', ',', null],
    ['1,234,50', '.', null],
    ['12 16', '.', null],
    ['1.234.5', ',', null],
    ['1,23,456.00', '.', 123456],
    ['1 234 567,5', ',', 1234567.5],
    ["1'234.5", '.', 1234.5],
    ['−5', '.', -5],
    ['- 5', '.', -5],
    ['5-', '.', -5],
    ['+5', '.', 5],
    ['($1,250.00)', '.', -1250],
    ['-£3', '.', -3],
    ['１２', '.', 12],
    ['.5', '.', 0.5],
    ['5.', '.', 5],
    ['007', '.', 7],
    ['½', '.', null],
    ['1e3', '.', null],
    ['1/2', '.', null],
    ['', '.', null],
    ['.', '.', null],
    ['-', '.', null],
    ['£', '.', null],
    ['12 boats', '.', null],
    ['$1.2k', '.', null],
    ['Infinity', '.', null],
  ] as const)('%j with %s is %s', (text, mark, number) => expect(parseNumber(text, mark)).toBe(number));

  const amount = fc.integer({ min: -99_999_999_99, max: 99_999_999_99 }).map((cents) => cents / 100);
  test.each([
    ['en-GB', '.'],
    ['de-DE', ','],
    ['fr-FR', ','],
    ['de-CH', '.'],
    ['en-IN', '.'],
    ['pl-PL', ','],
    ['sv-SE', ','],
    ['pt-BR', ','],
    ['es-ES', ','],
    ['nb-NO', ','],
    ['ja-JP', '.'],
  ] as const)('is read as people of %s write it, plain and as money', (locale, mark) => {
    const plain = new Intl.NumberFormat(locale, { maximumFractionDigits: 2 });
    const money = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' });
    const booked = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR', currencySign: 'accounting' });
    fc.assert(
      fc.property(amount, (n) => {
        // Nobody tells nought from less than nothing.
        const wanted = n === 0 ? 0 : n;
        for (const format of [plain, money, booked]) expect(parseNumber(format.format(wanted), mark)).toBe(wanted);
      }),
      { numRuns: 150 },
    );
  });

  test('a mark is told from the column, and no reading of the column is ten times another', () => {
    expect(guessDecimalMark(['1.234,50', '80', '1,5'])).toBe(',');
    expect(guessDecimalMark(['1.5', '2.25', '3'])).toBe('.');
    fc.assert(
      fc.property(amount, (n) => {
        const text = String(n);
        const other = parseNumber(text, ',');
        // Read with the wrong mark it is itself, thousands of what it is, or none: never tens or hundreds.
        if (other !== null && other !== n) expect(Math.round(other / n)).toBe(1000);
      }),
    );
  });
});

describe('money', () => {
  test.each([
    ['£1,250', '.', { amount: 1250, currency: 'GBP' }],
    ['1.250,50 EUR', ',', { amount: 1250.5, currency: 'EUR' }],
    ['USD 20', '.', { amount: 20, currency: 'USD' }],
    ['300', '.', { amount: 300, currency: 'NOK' }],
    ['free', '.', null],
    ['90,50 zł', ',', { amount: 90.5, currency: 'PLN' }],
    ['1 200 Kč', ',', { amount: 1200, currency: 'CZK' }],
    ['R$ 90', '.', { amount: 90, currency: 'BRL' }],
    ['CA$90', '.', { amount: 90, currency: 'CAD' }],
    ['Fr. 50', '.', { amount: 50, currency: 'CHF' }],
    ['₹1,20,000', '.', { amount: 120000, currency: 'INR' }],
    ['1 200 руб.', ',', { amount: 1200, currency: 'RUB' }],
    ['90 kr', '.', { amount: 90, currency: 'NOK' }],
    ['$90', '.', { amount: 90, currency: 'USD' }],
  ] as const)('%s is %j', (text, mark, money) => expect(parseMoney(text, mark, 'NOK')).toEqual(money));

  test('of a sign that several currencies have it is the one at home', () => {
    expect(parseMoney('$90', '.', 'CAD')?.currency).toBe('CAD');
    expect(parseMoney('¥90', '.', 'CNY')?.currency).toBe('CNY');
    expect(parseMoney('90 kr', '.', 'GBP')?.currency).toBe('SEK');
    expect(parseMoney('£90', '.', 'CAD')?.currency).toBe('GBP');
  });

  test('what a text says itself, and no word that has the letters of a sign', () => {
    expect([currencyIn('left', 'EUR'), currencyIn('skraft', 'EUR'), currencyIn('90', 'EUR')]).toEqual([
      null,
      null,
      null,
    ]);
    expect(currencyIn('90 CHF', 'EUR')).toBe('CHF');
  });
});

describe('a range', () => {
  test.each([
    ['12-16', 12, 16],
    ['12 – 16 ft', 12, 16],
    ['12ft-16ft', 12, 16],
    ['12 - 16 feet', 12, 16],
    ["12' to 16'", 12, 16],
    ['from 12 to 16', 12, 16],
    ['between 12 and 16', 12, 16],
    ['-5 to 5', -5, 5],
    ['up to 16 ft', null, 16],
    ['≥ 12', 12, null],
    ['12+', 12, null],
    ['12 or more', 12, null],
    ['12', 12, 12],
  ])('%s is from %s to %s', (text, from, to) => expect(parseRange(text, '.')).toEqual({ from, to }));
  test.each(['16-12', 'about 12', '12k-16k', '£1m-£2m', 'large', '', '-'])('%j is none', (text) =>
    expect(parseRange(text, '.')).toBeNull(),
  );
});

describe('a web address', () => {
  test.each([
    ['example.org', 'https://example.org'],
    ['example.org:8080', 'https://example.org:8080'],
    ['<https://example.org>', 'https://example.org'],
    ['HTTPS://Example.ORG/Path', 'HTTPS://Example.ORG/Path'],
    ['münchen.example/hafen', 'https://münchen.example/hafen'],
  ])('%s is %s', (text, url) => expect(parseUrl(text)).toBe(url));
  test.each(['example', 'ana@example.org', 'javascript:alert(1)', 'https://', 'see example.org', 'http:/example.org'])(
    '%s is none',
    (text) => expect(parseUrl(text)).toBeNull(),
  );
});

describe('words that stand for something', () => {
  test.each(['N/A', ' none ', '#REF!', '–', 'unbekannt', 'tbc'])('%j is a placeholder', (text) =>
    expect(isPlaceholderText(text)).toBe(true),
  );
  test.each(['Nil Desai', 'Testa', 'Noneley', 'X Æ', ''])('%j is none', (text) =>
    expect(isPlaceholderText(text)).toBe(false),
  );
  test.each([
    ['Yes.', true],
    ['NO!', false],
    ['☑', true],
    ['да', true],
    ['Sì', true],
    ['YANLIŞ', false],
    ['ΟΧΙ', false],
    ['○', true],
    ['×', false],
    ['', null],
    ['2', null],
    ['yes please', null],
  ])('%j is %s', (text, yes) => expect(parseYesNo(text)).toBe(yes));
});
