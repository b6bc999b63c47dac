import { wordTable, type AddressValue } from '../../model';
import { labelOf } from './card-labels';
import { cutWritten, plainText } from './card-lines';
import type { CardProperty, CardText } from './card-text';
import { addressLines, ADR, dateText, firstText, NAME_PARTS, partsOf, phoneText } from './card-values';

export type CardShape = 'text' | 'longText' | 'email' | 'tel' | 'url' | 'date' | 'address' | 'gender';

/** A field of ours, and where a card says it. Files of cards and address books are read and written by the same table. */
export interface CardField {
  /** By what a connection knows it. */
  key: string;
  /** Key of the standard field. */
  target: string;
  /** As people know it. */
  name: string;
  /** The property, in small letters, by the version of the card. */
  property: Record<CardText['version'], string>;
  /** Its place in a property of several parts; the last part that we know takes all that follow. */
  part?: number;
  shape: CardShape;
  /** Whether a contact has several, each with a label. */
  several?: boolean;
}

type Rest = Partial<Pick<CardField, 'part' | 'shape' | 'several'>>;

const field = (key: string, target: string, name: string, property: string, rest: Rest = {}): CardField => ({
  key,
  target,
  name,
  // Properties that came with version 4 (RFC 6350) are extensions in version 3 (RFC 2426).
  property: { '4.0': property, '3.0': SINCE_4.has(property) ? `x-${property}` : property },
  shape: 'text',
  ...rest,
});

const SINCE_4 = new Set(['anniversary', 'gender', 'lang']);
const NAME_TARGETS = ['familyName', 'givenName', 'additionalNames', 'prefix', 'suffix'];
const NAME_NAMES = ['Family name', 'Given name', 'Additional names', 'Name prefix', 'Name suffix'];
/** In the order in which a name is spoken. */
const SPOKEN = ['prefix', 'given', 'additional', 'family', 'suffix'] as const;
const namePart = (key: (typeof SPOKEN)[number]): CardField => {
  const part = NAME_PARTS.indexOf(key);
  return field(key, NAME_TARGETS[part] ?? '', NAME_NAMES[part] ?? '', 'n', { part });
};
const several = (key: string, name: string, shape: CardShape) => field(key, key, name, key, { shape, several: true });

/** All that a card says in a property of the standards and that we have a field for (RFC 6350, 6). */
export const CARD_FIELDS: readonly CardField[] = [
  ...SPOKEN.map(namePart),
  field('nickname', 'nickname', 'Nickname', 'nickname'),
  field('gender', 'gender', 'Gender', 'gender', { shape: 'gender' }),
  field('org', 'organization', 'Organization', 'org', { part: 0 }),
  field('department', 'department', 'Department', 'org', { part: 1 }),
  field('title', 'title', 'Title', 'title'),
  several('email', 'E-mail', 'email'),
  several('tel', 'Phone', 'tel'),
  several('url', 'Link', 'url'),
  several('adr', 'Address', 'address'),
  field('language', 'language', 'Language', 'lang'),
  field('bday', 'bday', 'Birthday', 'bday', { shape: 'date' }),
  field('anniversary', 'anniversary', 'Anniversary', 'anniversary', { shape: 'date' }),
  field('tz', 'tz', 'Time zone', 'tz'),
  field('note', 'note', 'Note', 'note', { shape: 'longText' }),
];

const BY_PROPERTY = new Map<string, CardField[]>();
for (const one of CARD_FIELDS)
  for (const name of new Set(Object.values(one.property)))
    BY_PROPERTY.set(name, [...(BY_PROPERTY.get(name) ?? []), one]);

/** What a property says of one field. */
export interface CardSaid {
  field: CardField;
  v: string | AddressValue;
  label: string | null;
}

/** RFC 6350, 6.2.7: the first part of GENDER. */
const SEXES = wordTable({ M: 'male', F: 'female', O: 'other', N: 'none', U: '' });

function genderOf(property: CardProperty): string {
  const [sex = '', words = ''] = isAsWritten(property) ? partsAsWritten(property) : partsOf(property);
  return words || (SEXES[sex.toUpperCase()] ?? sex);
}

/** What the version of a card does not know the parser leaves as it is written. */
const isAsWritten = ({ type }: CardProperty) => type === 'unknown';

/** The parts of a GENDER that says a word: its letter, or the word as it is. */
export function genderParts(word: string): [string, string] {
  const [sex] = Object.entries(SEXES).find(([, said]) => said && said === word.toLowerCase()) ?? [];
  return sex ? [sex, ''] : ['', word];
}

/** An address by the parts of ADR. */
export function addressOfParts(parts: readonly string[]): AddressValue {
  const address = {
    street: addressLines(parts),
    locality: parts[ADR.locality] ?? '',
    region: parts[ADR.region] ?? '',
    postalCode: parts[ADR.postalCode] ?? '',
    country: parts[ADR.country] ?? '',
  };
  return Object.fromEntries(Object.entries(address).filter(([, text]) => text.trim())) as AddressValue;
}

/** An address by its parts; as a letter has it, where that is all that the card says. */
function addressOf(property: CardProperty): AddressValue {
  const address = addressOfParts(partsOf(property));
  const written = String(property.params.label ?? '').replace(/\\n|\^n/gi, '\n');
  return Object.keys(address).length || !written.trim() ? address : { street: written };
}

const partsAsWritten = (property: CardProperty): string[] => cutWritten(firstText(property), ';').map(plainText);

function valueOf({ part, shape }: CardField, property: CardProperty): string | AddressValue {
  if (shape === 'address') return addressOf(property);
  if (shape === 'gender') return genderOf(property);
  if (shape === 'tel') return phoneText(property);
  if (shape === 'date') return dateText(firstText(property));
  if (part === undefined) return isAsWritten(property) ? plainText(firstText(property)) : firstText(property);
  const parts = partsOf(property);
  return property.name === 'org' && part > 0 ? parts.slice(part).filter(Boolean).join(', ') : (parts[part] ?? '');
}

const says = (v: string | AddressValue) => (typeof v === 'string' ? v.trim() !== '' : Object.keys(v).length > 0);

/** What a property says of the fields above; nothing where it says none of them. */
export function saidBy(property: CardProperty): CardSaid[] {
  return (BY_PROPERTY.get(property.name) ?? []).flatMap((one) => {
    const v = valueOf(one, property);
    return says(v) ? [{ field: one, v, label: one.several ? labelOf(property) : null }] : [];
  });
}

/** Whether a property is one that says fields of ours. */
export const isKnownProperty = (name: string): boolean => BY_PROPERTY.has(name);
