import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parsePhoneNumberFromString } from 'libphonenumber-js/min';
import { emailKey, parseEmail } from './values/email';
import { findCountry } from './addresses/country';
import { foldText, tidyText } from './values/fold';
import { formatPhone, isLossyPhone, parsePhone } from './phones/phone';
import { guessDecimalMark, isFormulaLike, parseNumber, parseYesNo } from './values/scalar';
import { postalKey, streetKey } from './addresses/address';
import { summarise } from './summary';

describe('folding', () => {
  test('folding twice gives the same as folding once', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => expect(foldText(foldText(text))).toBe(foldText(text))),
    );
  });
  test.each([
    ['Ó Súilleabháin', 'o suilleabhain'],
    ['Ødegård', 'odegard'],
    ['Ελένη', 'eleni'],
    ["O'Hare-Smith", 'ohare smith'],
    ['  Ana   María ', 'ana maria'],
  ])('%s folds to %s', (text, folded) => expect(foldText(text)).toBe(folded));
  test('tidying keeps what is tidy and mends no-break blanks', () => {
    expect(tidyText('a b')).toBe('a b');
    expect(tidyText(' a\u00a0 b\n')).toBe('a b');
    expect(tidyText('🚣\u200d♀️ a\u200d \u200b b\u200c')).toBe('🚣\u200d♀️ a b');
  });
});

describe('e-mail', () => {
  test.each([
    ['zoe.trelawny@example.org', 'zoe.trelawny@example.org'],
    [' Ana <Ana.Reis@Example.ORG> ', 'Ana.Reis@example.org'],
    ['mailto:bea@example.net', 'bea@example.net'],
  ])('%s is read as %s', (text, norm) => {
    const parsed = parseEmail(text);
    expect(parsed.ok && parsed.value.norm).toBe(norm);
  });
  test.each([
    ['annegret(at)example.org', 'noAt'],
    ['naomi@example', 'noDomainEnding'],
    ['zoe trelawny@example.org', 'blankInside'],
    ['ottoline@@example.org', 'malformed'],
    ['a..b@example.org', 'malformed'],
    ['.a@example.org', 'malformed'],
  ])('%s is refused: %s', (text, why) => expect(parseEmail(text)).toEqual({ ok: false, error: why }));
  test('the key folds case and drops the tag', () => expect(emailKey('Ana+boats@example.org')).toBe('ana@example.org'));
});

describe('phone', () => {
  test.each([
    ['07700 900301', 'GB', '+447700900301'],
    ['(207) 555-0111', 'US', '+12075550111'],
    ['+1-207-555-0142 ext 12', 'GB', '+12075550142;ext=12'],
    ['0061 491 570 156', 'GB', '+61491570156'],
    ['work: 01632 960301', 'GB', '+441632960301'],
    // Without the zero that a spreadsheet took from them.
    ['6301234567', 'HU', '+36301234567'],
    ['69015634', 'IT', '+39069015634'],
    ['3481234567', 'IT', '+393481234567'],
    ['15112345678', 'DE', '+4915112345678'],
  ])('%s in %s is %s', (text, country, norm) => expect(parsePhone(text, country).norm).toBe(norm));
  test('what cannot be dialled is kept and marked', () =>
    expect(parsePhone('12345', 'GB')).toMatchObject({ valid: false }));
  test('digits lost in a spreadsheet are noticed', () => {
    expect(isLossyPhone('1.6325E+10')).toBe(true);
    expect(isLossyPhone('01632 960301')).toBe(false);
  });
  test('the fast path agrees with the library', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 200, max: 989 }),
        fc.integer({ min: 200, max: 999 }),
        fc.integer({ min: 0, max: 9999 }),
        (area, exchange, line) => {
          const national = `${area}${exchange}${String(line).padStart(4, '0')}`;
          const slow = parsePhoneNumberFromString(national, 'US');
          expect(parsePhone(national, 'US').norm).toBe(slow?.number);
          expect(formatPhone(`+1${national}`)).toBe(slow?.formatInternational());
        },
      ),
    );
    fc.assert(
      fc.property(fc.integer({ min: 100_000, max: 999_999 }), (line) => {
        const slow = parsePhoneNumberFromString(`07700${line}`, 'GB');
        expect(parsePhone(`07700${line}`, 'GB').norm).toBe(slow?.number);
        expect(formatPhone(slow?.number ?? '')).toBe(slow?.formatInternational());
      }),
    );
  });
});

describe('small kinds', () => {
  test.each([
    ['Deutschland', 'DE'],
    ['Ísland', 'IS'],
    ['日本', 'JP'],
    ['UK', 'GB'],
    ['us', 'US'],
    ['U.K.', 'GB'],
    ['DEU', 'DE'],
    ['ned', 'NL'],
    ['XYZ', null],
    ['Nowhere', null],
  ])('%s is the country %s', (name, code) => expect(findCountry(name)).toBe(code));
  test.each([
    ['1.250,50', ',', 1250.5],
    ['1,450.00', '.', 1450],
    ['€ 80', '.', 80],
    ['n/a', '.', null],
    ['60,—', ',', null],
    ['1 500,-', ',', 1500],
    ['1 250,50 €', ',', 1250.5],
    ['CHF 1’200.50', '.', 1200.5],
    ['450 kr', '.', 450],
    ['1 200,00 zł', ',', 1200],
    ['(3.2)', '.', -3.2],
    ['ABC', '.', null],
    ['12 boats', '.', null],
  ] as const)('%s with %s is %s', (text, mark, number) => expect(parseNumber(text, mark)).toBe(number));
  test('the decimal mark is the column’s', () => {
    expect(guessDecimalMark(['250,00', '1.250,50', '80'])).toBe(',');
    expect(guessDecimalMark(['18500.00', '1,450.00'])).toBe('.');
  });
  test.each([
    ['Y', true],
    ['nein', false],
    ['✓', true],
    ['maybe', null],
    ['да', true],
    ['hayır', false],
    ['いいえ', false],
  ])('%s is %s', (text, yes) => expect(parseYesNo(text)).toBe(yes));
  test('formulas are noticed, phones are not formulas', () => {
    expect(isFormulaLike('=SUM(A1:A9)')).toBe(true);
    expect(isFormulaLike('@cmd')).toBe(true);
    expect(isFormulaLike('+44 7700 900301')).toBe(false);
  });
  test('streets and postal codes are written alike', () => {
    expect(streetKey('14 Slip Lane')).toBe(streetKey('14 Slip Ln.'));
    expect(streetKey('Hafenstraße 12')).toBe(streetKey('Hafen Str. 12'));
    expect(postalKey('tr11 3ab')).toBe('TR113AB');
  });
  test('a summary never has an empty name and finds by any part', () => {
    const summary = summarise({
      n: 2,
      f: {
        organization: [{ slot: 0, v: 'Ironfast Fastenings', run: 1 }],
        tel: [{ slot: 1, v: '020 7946 0013', norm: '+442079460013', run: 1 }],
      },
    });
    expect(summary.displayName).toBe('Ironfast Fastenings');
    expect(summary.searchText).toContain('442079460013');
    expect(summary.searchText).toContain('ironfast');
  });
});
