import { isAddress, isMoney, isRange, isRelation, type AddressValue, type ValueContent } from '../model';
import { emailKey, foldText, localityKey, postalKey, streetKey, tidyText, type FieldType } from '../fields';

/** What two writings of one value have in common, by the kind of field; equal keys mean nothing new is said. */
export function contentKey(type: FieldType, value: { v: ValueContent; norm?: string }): string {
  const { v } = value;
  if (isRelation(v)) return `${foldText(v.relation)}:${v.to ?? foldText(v.name ?? '')}`;
  if (isMoney(v)) return `${v.amount} ${v.currency}`;
  if (isRange(v)) return `${v.from ?? ''}..${v.to ?? ''}`;
  if (isAddress(v)) return addressKey(v);
  if (Array.isArray(v)) return v.map(foldText).sort().join('|');
  const text = value.norm ?? String(v);
  switch (type) {
    case 'email':
      return emailKey(text);
    case 'tel':
      return text.startsWith('+') ? text : text.replace(/\D/g, '');
    case 'tag':
    case 'source':
    case 'stage':
    case 'owner':
    case 'choice':
      return foldText(text);
    default:
      return tidyText(text);
  }
}

function addressKey(address: AddressValue): string {
  return [
    streetKey(address.street ?? ''),
    localityKey(address.locality ?? ''),
    localityKey(address.region ?? ''),
    postalKey(address.postalCode ?? ''),
    address.country ?? '',
  ].join('|');
}

/** Whether every part that both addresses give agrees, so that the one can only complete the other. */
export function addressesAgree(a: AddressValue, b: AddressValue): boolean {
  const x = addressKey(a).split('|');
  const y = addressKey(b).split('|');
  return x.every((part, i) => part === '' || y[i] === '' || part === y[i]);
}
