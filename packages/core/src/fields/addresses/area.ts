import { firstValue, isAddress, type AddressValue, type ContactRecord } from '../../model';
import { postalKey } from './address';
import { foldText } from '../values/fold';

/** One way to lie in an area: in a country, in a region of it, or where postal codes begin so. Every part given has to fit. */
export interface AreaRule {
  country: string | null;
  region: string | null;
  postalPrefix: string | null;
}

export interface Area {
  name: string;
  rules: readonly AreaRule[];
}

function lies(address: AddressValue, { country, region, postalPrefix }: AreaRule): boolean {
  if (!country && !region && !postalPrefix) return false;
  if (country && address.country !== country) return false;
  if (region && foldText(address.region ?? '') !== foldText(region)) return false;
  return !postalPrefix || postalKey(address.postalCode ?? '').startsWith(postalKey(postalPrefix));
}

/** The first area in which an address lies, or ''. */
export function areaOf(address: AddressValue, areas: readonly Area[]): string {
  return areas.find((area) => area.rules.some((rule) => lies(address, rule)))?.name ?? '';
}

/** The area of a contact: that of its first address. */
export function areaOfRecord(record: ContactRecord, areas: readonly Area[]): string {
  if (areas.length === 0) return '';
  const v = firstValue(record, 'adr')?.v;
  return isAddress(v) ? areaOf(v, areas) : '';
}
