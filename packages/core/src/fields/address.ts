import type { AddressValue } from '../model';
import { countryName } from './country';
import { foldText, foldWords } from './fold';

const STREET_WORDS: Record<string, string> = {
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
};

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

/** The address on one line, in the order it was given. */
export function formatAddress(address: AddressValue): string {
  const place = [address.locality, address.region].filter(Boolean).join(', ');
  const line = [address.street?.replace(/\s*\n\s*/g, ', '), [place, address.postalCode].filter(Boolean).join(' ')];
  if (address.country) line.push(countryName(address.country));
  return line.filter(Boolean).join(', ');
}

export function isEmptyAddress(address: AddressValue): boolean {
  return !address.street && !address.locality && !address.region && !address.postalCode && !address.country;
}
