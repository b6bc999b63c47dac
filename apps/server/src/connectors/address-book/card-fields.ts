import {
  byPreference,
  CARD_FIELDS,
  firstOfProperty,
  isKnownProperty,
  NAME_PARTS,
  partsOf,
  plainText,
  readCardText,
  saidBy,
  withGroupLabels,
  type CardField,
  type CardProperty,
  type CardText,
} from '@gray-loom/core/formats';
import { isMadeField, type OutsideField, type OutsideFields, type OutsideValue } from '@gray-loom/core/syncing';

/** Fields of a card, as the other side of a connection has them. */
export const OUTSIDE_CARD_FIELDS: readonly OutsideField[] = CARD_FIELDS.map(({ key, name, shape, several }) => ({
  key,
  name,
  type: shape === 'gender' ? 'text' : shape,
  most: several ? 50 : 1,
  ...(several ? { labelled: true } : {}),
}));

/** Places of the parts of a name in N. */
export const NAME_PLACES = new Map<string, number>(NAME_PARTS.map((part, place) => [part, place]));

interface Said {
  field: Pick<CardField, 'key'> & Partial<Pick<CardField, 'several' | 'part'>>;
  value: OutsideValue;
}

/** What one property says of fields; nothing where it says nothing that we have a field for. The name is read on its own. */
function valuesOf(property: CardProperty): Said[] {
  const { name } = property;
  if (name === 'n') return [];
  const said = saidBy(property).map(({ field, v, label }): Said => ({ field, value: label ? { v, label } : { v } }));
  if (said.length || isKnownProperty(name) || !isMadeField(name)) return said;
  // Names of one's own (6.10) are fields that somebody made. The parser leaves what it does not know as it is written.
  const value = { v: plainText(firstOfProperty(property)) };
  return value.v.trim() ? [{ field: { key: name }, value }] : [];
}

export interface CardContent {
  fields: OutsideFields;
  labels: string[];
}

/** A property with the field and the value that it stands for. */
export interface Held {
  property: CardProperty;
  value: OutsideValue;
}

/** What stands for each field: of several, all in the order of the card; of one that there is one of, the first by preference that says something. */
export function heldOf(card: CardText): Map<string, Held[]> {
  const held = new Map<string, Held[]>();
  const properties = withGroupLabels(card.properties);
  const put = (property: CardProperty, { field, value }: Said) =>
    held.set(field.key, [...(held.get(field.key) ?? []), { property: asItStands(card, property), value }]);
  for (const property of properties) for (const said of valuesOf(property)) if (said.field.several) put(property, said);
  /** The lines that were read of properties with parts: what stands in a second one belongs together, and to nobody. */
  const inParts = new Map<string, CardProperty>();
  for (const property of byPreference(properties))
    for (const said of valuesOf(property)) {
      const { key, several, part } = said.field;
      if (several || held.has(key)) continue;
      if (part !== undefined && (inParts.get(property.name) ?? property) !== property) continue;
      if (part !== undefined) inParts.set(property.name, property);
      put(property, said);
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

/** Reads a card as it came. Errors: what is wrong with it, in words. */
export function readContent(
  text: string,
): { ok: true; card: CardText; content: CardContent } | { ok: false; error: string } {
  const read = readCardText(text);
  return read.ok ? { ok: true, card: read.value, content: contentOf(read.value) } : { ok: false, error: read.error };
}
