import { formatAddress as formatByCountry } from 'localized-address-format';
import { wordTable, type AddressValue } from '../../model';
import { countryName } from './country';
import { foldText, foldWords } from '../values/fold';

const STREET_WORDS = wordTable({
  street: 'st',
  str: 'st',
  strasse: 'st',
  straat: 'st',
  road: 'rd',
  avenue: 'ave',
  av: 'ave',
  lane: 'ln',
  drive: 'dr',
  court: 'ct',
  place: 'pl',
  square: 'sq',
  terrace: 'ter',
  boulevard: 'blvd',
  highway: 'hwy',
  close: 'cl',
  crescent: 'cres',
  gardens: 'gdns',
  garden: 'gdns',
  grove: 'gr',
  park: 'pk',
  parkway: 'pkwy',
  north: 'n',
  south: 's',
  east: 'e',
  west: 'w',
  saint: 'st',
  mount: 'mt',
  apartment: 'apt',
  flat: 'apt',
  unit: 'apt',
  rue: 'r',
  calle: 'c',
  chemin: 'ch',
  platz: 'pl',
  plaza: 'pl',
  weg: 'way',
  circle: 'cir',
  trail: 'trl',
  hill: 'hl',
  building: 'bldg',
  floor: 'fl',
});

/** Street words written alike ("14 Slip Lane" and "14 Slip Ln."), for matching. */
export function streetKey(street: string): string {
  return foldWords(street.replace(/(\p{L})strasse\b|(\p{L})straße\b|(\p{L})str\./giu, '$1$2$3 st'))
    .map((word) => STREET_WORDS[word] ?? word)
    .join(' ');
}

/** Postal codes in one form: capitals, no blanks or hyphens; five digits of a nine-digit one. */
export function postalKey(code: string): string {
  const plain = code.toUpperCase().replace(/[^A-Z0-9]/g, '');
  return /^\d{9}$/.test(plain) ? plain.slice(0, 5) : plain;
}

export function localityKey(locality: string): string {
  return foldText(locality);
}

/**
 * The lines of an address as its country writes them, the country last where it is not `home`. Order of the lines:
 * localized-address-format, after the Universal Postal Union's formats.
 */
export function addressLines(address: AddressValue, home: string | null = null): string[] {
  const code = address.country && /^[A-Z]{2}$/.test(address.country) ? address.country : undefined;
  const lines = formatByCountry({
    postalCountry: code ?? home ?? undefined,
    addressLines: address.street?.split(/\s*\n\s*/) ?? [],
    locality: address.locality,
    administrativeArea: address.region,
    postalCode: address.postalCode,
  }).filter(Boolean);
  // What a country's format leaves out would be lost; it stands after the town then.
  const { region, locality, postalCode } = address;
  for (const part of [locality, region, postalCode]) {
    if (!part || lines.some((line) => line.includes(part))) continue;
    const town = locality ? lines.findLastIndex((line) => line.includes(locality)) : -1;
    lines.splice(town < 0 ? lines.length : town + 1, 0, part);
  }
  if (address.country && address.country !== home) lines.push(countryName(address.country));
  return lines;
}

/** The address on one line, in its country's order. */
export function formatAddress(address: AddressValue): string {
  return addressLines(address).join(', ');
}

export function isEmptyAddress(address: AddressValue): boolean {
  return !address.street && !address.locality && !address.region && !address.postalCode && !address.country;
}
