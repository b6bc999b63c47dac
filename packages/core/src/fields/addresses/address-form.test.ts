import { describe, expect, test } from '@jest/globals';
import { addressParts, isLikelyPostalCode } from './address-form';

describe('the form of an address', () => {
  test.each([
    ['GB', ['street', 'locality', 'postalCode', 'region']],
    ['US', ['street', 'locality', 'region', 'postalCode']],
    ['DE', ['street', 'postalCode', 'locality', 'region']],
    ['JP', ['postalCode', 'region', 'street', 'locality']],
  ])('%s asks for its parts in its order, and for every part', (country, parts) =>
    expect(addressParts(country)).toEqual(parts),
  );
  test('an unknown country asks for everything too', () =>
    expect([...addressParts(null)].sort()).toEqual(['locality', 'postalCode', 'region', 'street']));
  test.each([
    ['EX4 4RN', 'GB', true],
    ['ex44rn', 'GB', true],
    ['1100-038', 'PT', true],
    ['EX4 4RN', 'PT', false],
    ['90210', 'US', true],
    ['D02 X285', 'US', false],
    ['anything', 'XX', true],
  ])('%s as a postal code of %s: %s', (code, country, likely) =>
    expect(isLikelyPostalCode(code, country)).toBe(likely),
  );
});
