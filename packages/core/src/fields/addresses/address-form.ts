import { formatAddress as formatByCountry } from 'localized-address-format';
import { postcodeValidator, postcodeValidatorExistsForCountry } from 'postcode-validator';

export type AddressPart = 'street' | 'locality' | 'region' | 'postalCode';

const MARKS: Record<AddressPart, string> = {
  street: '\u0001',
  locality: '\u0002',
  region: '\u0003',
  postalCode: '\u0004',
};
const USUAL: readonly AddressPart[] = ['street', 'locality', 'region', 'postalCode'];

/**
 * The parts of an address in the order in which a country (ISO 3166-1 alpha-2) writes them; parts that its letters leave
 * out come last, so that nothing that is known is without a place. Source: localized-address-format.
 */
export function addressParts(country: string | null): AddressPart[] {
  const written = formatByCountry({
    postalCountry: country ?? undefined,
    addressLines: [MARKS.street],
    locality: MARKS.locality,
    administrativeArea: MARKS.region,
    postalCode: MARKS.postalCode,
  }).join('\n');
  const placed = USUAL.filter((part) => written.includes(MARKS[part])).sort(
    (a, b) => written.indexOf(MARKS[a]) - written.indexOf(MARKS[b]),
  );
  return [...placed, ...USUAL.filter((part) => !placed.includes(part))];
}

/** Whether a country's postal codes have so many digits, may begin with a zero, and have no shorter form. Source: postcode-validator. */
export function zerosAreKept(country: string, places: number): boolean {
  if (!postcodeValidatorExistsForCountry(country)) return false;
  const whole = '0'.padEnd(places, '1');
  return postcodeValidator(whole, country) && !postcodeValidator(whole.slice(1), country);
}

/** Whether a postal code has the form of its country's; true where that country's form is not known. */
export function isLikelyPostalCode(code: string, country: string): boolean {
  return !postcodeValidatorExistsForCountry(country) || postcodeValidator(code.trim().toUpperCase(), country);
}
