import {
  ADR,
  addressLines,
  dateText,
  firstOfProperty,
  labelOf,
  NAME_PARTS,
  partsOf,
  phoneText,
  readCardText,
  withGroupLabels,
  type CardProperty,
  type CardText,
} from '@gray-loom/core/formats';
import type { AddressValue } from '@gray-loom/core/model';
import { isMadeField, type OutsideField, type OutsideFields, type OutsideValue } from '@gray-loom/core/syncing';

const one = (key: string, name: string, type: OutsideField['type'] = 'text'): OutsideField => ({
  key,
  name,
  type,
  most: 1,
});
const many = (key: string, name: string, type: OutsideField['type']): OutsideField => ({
  key,
  name,
  type,
  most: 50,
  labelled: true,
});

/** Fields of a card (RFC 6350); the parts of a name and of an organization are fields of their own. */
export const CARD_FIELDS: readonly OutsideField[] = [
  one('prefix', 'Name prefix'),
  one('given', 'Given name'),
  one('additional', 'Additional names'),
  one('family', 'Family name'),
  one('suffix', 'Name suffix'),
  one('nickname', 'Nickname'),
  one('org', 'Organization'),
  one('title', 'Title'),
  many('email', 'E-mail', 'email'),
  many('tel', 'Phone', 'tel'),
  many('url', 'Link', 'url'),
  many('adr', 'Address', 'address'),
  one('bday', 'Birthday', 'date'),
  one('anniversary', 'Anniversary', 'date'),
  one('note', 'Note', 'longText'),
];

/** Places of the parts of a name in N. */
export const NAME_PLACES = new Map<string, number>(NAME_PARTS.map((part, place) => [part, place]));

function labelled(v: OutsideValue['v'], property: CardProperty): OutsideValue {
  const label = labelOf(property);
  return label ? { v, label } : { v };
}

export function addressOf(property: CardProperty): AddressValue {
  const parts = partsOf(property);
  const address = {
    street: addressLines(parts),
    locality: parts[ADR.locality] ?? '',
    region: parts[ADR.region] ?? '',
    postalCode: parts[ADR.postalCode] ?? '',
    country: parts[ADR.country] ?? '',
  };
  return Object.fromEntries(Object.entries(address).filter(([, text]) => text.trim())) as AddressValue;
}

/** What one property says of a field; null where it says nothing that we have a field for. */
function valueOf(property: CardProperty): { key: string; value: OutsideValue } | null {
  const { name } = property;
  const text = firstOfProperty(property);
  switch (name) {
    case 'org':
      return { key: 'org', value: { v: partsOf(property)[0] ?? '' } };
    case 'email':
    case 'url':
      return { key: name, value: labelled(text, property) };
    case 'tel':
      return { key: 'tel', value: labelled(phoneText(property), property) };
    case 'adr':
      return { key: 'adr', value: labelled(addressOf(property), property) };
    case 'bday':
    case 'anniversary':
    case 'x-anniversary':
      return { key: name.replace('x-', ''), value: { v: dateText(text) } };
    case 'nickname':
    case 'title':
    case 'note':
      return { key: name, value: { v: text } };
    default:
      // Names of one's own (6.10) are fields that somebody made.
      // The parser leaves what it does not know as it is written.
      return isMadeField(name) ? { key: name, value: { v: plain(text) } } : null;
  }
}

export const SEVERAL = new Set(CARD_FIELDS.filter(({ most }) => most > 1).map(({ key }) => key));
const says = ({ v }: OutsideValue) => (typeof v === 'string' ? v.trim() !== '' : Object.keys(v).length > 0);

export interface CardContent {
  fields: OutsideFields;
  labels: string[];
}

/** A property with the field and the value that it stands for. */
export interface Held {
  property: CardProperty;
  value: OutsideValue;
}

/** What stands for each field, in the order of the card: of a field that has one value the first that says something. */
export function heldOf(card: CardText): Map<string, Held[]> {
  const held = new Map<string, Held[]>();
  for (const property of withGroupLabels(card.properties)) {
    const found = valueOf(property);
    if (!found || !says(found.value)) continue;
    const there = held.get(found.key) ?? [];
    if (there.length && !SEVERAL.has(found.key)) continue;
    held.set(found.key, [...there, { property: asItStands(card, property), value: found.value }]);
  }
  return held;
}

/** The property itself, of one that was given the label of its group. */
const asItStands = ({ properties }: CardText, property: CardProperty): CardProperty =>
  property.line === undefined ? property : (properties.find(({ line }) => line === property.line) ?? property);

const labelsOf = ({ properties }: CardText): string[] => [
  ...new Set(
    properties
      .filter(({ name }) => name === 'categories')
      .flatMap(({ values }) => values.map((value) => String(value).trim()).filter(Boolean)),
  ),
];

/** What a card says, by the fields above. */
export function contentOf(card: CardText): CardContent {
  const fields: OutsideFields = {};
  const structured = card.properties.find(({ name }) => name === 'n');
  const parts = structured ? partsOf(structured) : [];
  for (const [key, place] of NAME_PLACES) if (parts[place]?.trim()) fields[key] = [{ v: parts[place] }];
  for (const [key, held] of heldOf(card)) fields[key] = held.map(({ value }) => value);
  // A card whose name is written in one piece only keeps it as a given name until somebody parts it.
  if (!NAME_PARTS.some((key) => fields[key]) && !fields.org) {
    const whole = card.properties.find(({ name }) => name === 'fn');
    if (whole && firstOfProperty(whole).trim()) fields.given = [{ v: firstOfProperty(whole) }];
  }
  return { fields, labels: labelsOf(card) };
}

/** A written piece as the text that it stands for. */
export const plain = (piece: string): string =>
  piece.replace(/\\(.)/g, (_both, mark: string) => (mark === 'n' || mark === 'N' ? '\n' : mark));

/** Reads a card as it came. Errors: what is wrong with it, in words. */
export function readContent(
  text: string,
): { ok: true; card: CardText; content: CardContent } | { ok: false; error: string } {
  const read = readCardText(text);
  return read.ok ? { ok: true, card: read.value, content: contentOf(read.value) } : { ok: false, error: read.error };
}
