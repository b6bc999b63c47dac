import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { getCountries, getCountryCallingCode, parsePhoneNumberFromString } from 'libphonenumber-js/min';
import { groupedInternational, plainInternational, plainNational } from './phone-plans';

const country = fc.constantFrom(...getCountries());
const digits = fc.string({ unit: fc.constantFrom(...'0123456789'), minLength: 1, maxLength: 15 });
const RUNS = { numRuns: 20_000 };

describe('numbers that are told by their plan alone', () => {
  it('with a code, where the library reads the same', () => {
    let told = 0;
    fc.assert(
      fc.property(country, digits, (one, number) => {
        const text = `+${getCountryCallingCode(one)}${number}`;
        const plain = plainInternational(text);
        if (plain === null) return;
        told++;
        const read = parsePhoneNumberFromString(text, 'GB');
        expect([read?.number, read?.isPossible()]).toEqual([plain, true]);
      }),
      RUNS,
    );
    expect(told).toBeGreaterThan(RUNS.numRuns / 20);
  });

  it('for reading, as the library writes them', () => {
    let told = 0;
    fc.assert(
      fc.property(country, digits, (one, number) => {
        const text = `+${getCountryCallingCode(one)}${number}`;
        const grouped = groupedInternational(text);
        if (grouped === null) return;
        told++;
        expect(grouped).toBe(parsePhoneNumberFromString(text)?.formatInternational());
      }),
      RUNS,
    );
    expect(told).toBeGreaterThan(RUNS.numRuns / 20);
    expect(groupedInternational('+33465710100')).toBe('+33 4 65 71 01 00');
  });

  it('as they are dialled in a country, where the library reads the same', () => {
    let told = 0;
    fc.assert(
      fc.property(country, fc.constantFrom('', '0'), digits, (one, zero, number) => {
        const text = zero + number;
        const plain = plainNational(text, one);
        if (plain === null) return;
        told++;
        const read = parsePhoneNumberFromString(text, one);
        expect([read?.number, read?.isPossible()]).toEqual([plain, true]);
        // What begins with no zero might have lost one, unless it is of the country for certain.
        if (!text.startsWith('0')) expect(read?.isValid()).toBe(true);
      }),
      RUNS,
    );
    expect(told).toBeGreaterThan(RUNS.numRuns / 50);
  });

  it.each([
    ['+33465710100', '+33465710100'],
    ['+390690156', '+390690156'],
    // A zero that is dialled within the country only, and codes that there are not.
    ['+330465710100', null],
    ['+2101234567', null],
    ['+3346571010', null],
  ])('%s is %s', (text, norm) => expect(plainInternational(text)).toBe(norm));

  it.each([
    ['03012345678', 'DE', '+493012345678'],
    ['0612345678', 'FR', '+33612345678'],
    ['612345678', 'ES', '+34612345678'],
    ['0690156', 'IT', '+390690156'],
    // From abroad, of a country that nobody knows, and a number that lost its zero.
    ['0033465710100', 'DE', null],
    ['612345678', 'ZZ', null],
    ['690156341', 'IT', null],
  ])('%s in %s is %s', (text, one, norm) => expect(plainNational(text, one)).toBe(norm));
});
