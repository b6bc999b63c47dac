import { describe, expect, test } from '@jest/globals';
import { countryCodes, countryName, findCountry } from './country';
import { OTHER_NAMES } from './country-names';

describe('a country is known', () => {
  test.each([
    ['by its name in another language', 'Niederlande', 'NL'],
    ['by its short name', 'Hong Kong', 'HK'],
    ['by its formal name', 'Česká republika', 'CZ'],
    ['by its formal name in its own script', 'Российская Федерация', 'RU'],
    ['by letters with points', 'EE.UU.', 'US'],
    ['by letters without', 'eeuu', 'US'],
    ['by what it was called', 'Burma', 'MM'],
    ['by one of its countries', 'Scotland', 'GB'],
    ['with an article', 'The Netherlands', 'NL'],
    ['as it is written without the sharp s', 'Grossbritannien', 'GB'],
    ['by two letters', 'pt', 'PT'],
    ['by three letters', 'DEU', 'DE'],
    ['by the sign of its vehicles', 'D', 'DE'],
    ['with blanks around', '  Ελλάδα ', 'GR'],
  ])('%s: %s', (_how, text, code) => expect(findCountry(text)).toBe(code));

  test.each(['', ' ', 'Quillhaven', 'X', '12', 'Harbour Street', 'ул'])('and %j is none', (text) =>
    expect(findCountry(text)).toBeNull(),
  );

  test('every code finds itself, by its English name as well', () => {
    for (const code of countryCodes()) {
      expect(findCountry(code)).toBe(code);
      expect(findCountry(countryName(code))).toBe(code);
    }
  });

  test('names beside those of the Unicode CLDR are of codes that there are, and of one country each', () => {
    const codes = new Set(countryCodes());
    for (const [code, names] of Object.entries(OTHER_NAMES)) {
      expect(codes).toContain(code);
      for (const name of names.split('|')) expect([name, findCountry(name)]).toEqual([name, code]);
    }
  });
});
