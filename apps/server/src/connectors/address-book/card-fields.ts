import { readCardText, writeCardText, type CardProperty, type CardText } from '@gray-loom/core/formats';
import { countryName } from '@gray-loom/core/fields';
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
const NAME_PLACES: Record<string, number> = { family: 0, given: 1, additional: 2, prefix: 3, suffix: 4 };
const NO_LABEL = new Set('pref internet voice x400 dom intl postal parcel text textphone msg uri'.split(' '));
const LABELS_IN: Record<string, string> = { cell: 'mobile', office: 'work' };
const LABELS_OUT: Record<string, string> = { mobile: 'cell' };

const textOf = (value: string | string[] | undefined): string =>
  Array.isArray(value) ? value.filter(Boolean).join(', ') : (value ?? '');
const partsOf = (value: string | string[] | undefined): string[] =>
  Array.isArray(value) ? value : value === undefined ? [] : [value];

function typesOf({ params }: CardProperty): string[] {
  const { type } = params;
  return (Array.isArray(type) ? type : (type ?? '').split(',')).map((word) => word.trim()).filter(Boolean);
}

function labelOf(property: CardProperty): string | undefined {
  const words = typesOf(property).filter((word) => !NO_LABEL.has(word.toLowerCase()));
  const label = words.map((word) => LABELS_IN[word.toLowerCase()] ?? word.toLowerCase()).join(' ');
  return label || undefined;
}

function labelled(v: OutsideValue['v'], property: CardProperty): OutsideValue {
  const label = labelOf(property);
  return label ? { v, label } : { v };
}

const WHOLE_DATE = /^(\d{4})-?(\d{2})-?(\d{2})(?:T|$)/;
const YEARLESS = /^--(\d{2})-?(\d{2})(?:T|$)/;

function dateOf(text: string): string {
  const whole = WHOLE_DATE.exec(text);
  if (whole) return `${whole[1]}-${whole[2]}-${whole[3]}`;
  const yearless = YEARLESS.exec(text);
  return yearless ? `--${yearless[1]}-${yearless[2]}` : text;
}

export interface CardContent {
  fields: OutsideFields;
  labels: string[];
}

/** What a card says, by the fields above. Errors: what is wrong with it, in words. */
export function contentOf(card: CardText): CardContent {
  const fields: OutsideFields = {};
  const labels: string[] = [];
  const put = (key: string, value: OutsideValue) => {
    if (typeof value.v === 'string' ? value.v.trim() : Object.keys(value.v).length)
      fields[key] = [...(fields[key] ?? []), value];
  };
  let isNamed = false;
  for (const property of card.properties) {
    const [first] = property.values;
    switch (property.name) {
      case 'n':
        if (isNamed) break;
        isNamed = true;
        for (const [key, place] of Object.entries(NAME_PLACES)) put(key, { v: partsOf(first)[place] ?? '' });
        break;
      case 'org':
        if (!fields.org) put('org', { v: partsOf(first)[0] ?? '' });
        break;
      case 'email':
      case 'url':
        put(property.name, labelled(textOf(first), property));
        break;
      case 'tel':
        put(
          'tel',
          labelled(
            textOf(first)
              .replace(/^tel:/i, '')
              .replace(/;ext=(\d+)/i, ' ext. $1'),
            property,
          ),
        );
        break;
      case 'adr': {
        const [box = '', extended = '', street = '', locality = '', region = '', postalCode = '', country = ''] =
          partsOf(first);
        const lines = [extended, street, box].filter(Boolean).join('\n');
        const address = Object.fromEntries(
          Object.entries({ street: lines, locality, region, postalCode, country }).filter(([, text]) => text.trim()),
        ) as AddressValue;
        put('adr', labelled(address, property));
        break;
      }
      case 'bday':
      case 'anniversary':
      case 'x-anniversary': {
        const key = property.name.replace('x-', '');
        if (!fields[key]) put(key, { v: dateOf(textOf(first)) });
        break;
      }
      case 'nickname':
      case 'title':
      case 'note':
        if (!fields[property.name]) put(property.name, { v: textOf(first) });
        break;
      default:
        // Names of one's own (6.10) are fields that somebody made.
        if (isMadeField(property.name) && !fields[property.name]) put(property.name, { v: textOf(first) });
        break;
      case 'categories':
        labels.push(...property.values.map((value) => textOf(value).trim()).filter(Boolean));
        break;
    }
  }
  // A card whose name is written in one piece only keeps it as a given name until somebody parts it.
  if (!NAME_KEYS.some((key) => fields[key]) && !fields.org) {
    const whole = card.properties.find(({ name }) => name === 'fn');
    if (whole) put('given', { v: textOf(whole.values[0]) });
  }
  return { fields, labels: [...new Set(labels)] };
}

const NAME_KEYS = Object.keys(NAME_PLACES);

function typed(value: OutsideValue, before: CardProperty | undefined): CardProperty['params'] {
  const label = value.label;
  const kept = before ? typesOf(before).filter((word) => NO_LABEL.has(word.toLowerCase())) : [];
  const words = [
    ...kept,
    ...(label ? label.split(' ').map((word) => LABELS_OUT[word.toLowerCase()] ?? word.replace(/[,;:"]+/g, '')) : []),
  ];
  const { type: _type, ...others } = before?.params ?? {};
  return { ...others, ...(words.length ? { type: words.length > 1 ? words : (words[0] ?? '') } : {}) };
}

function valueText(key: string, value: OutsideValue): string | string[] {
  if (typeof value.v === 'string') return value.v;
  const { street = '', locality = '', region = '', postalCode = '', country = '' } = value.v;
  return key === 'adr'
    ? ['', '', street, locality, region, postalCode, country.length === 2 ? countryName(country) || country : country]
    : textOf(Object.values(value.v));
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * A card with other values of some fields; everything else stays as it was, also what we have no name for. Values that
 * were there keep their parameters and their place.
 */
function withContent(card: CardText, fields: OutsideFields, labels: readonly string[] | null): CardText {
  const before = contentOf(card);
  let properties = [...card.properties];
  const replace = (names: string[], made: CardProperty[]) => {
    const at = properties.findIndex(({ name }) => names.includes(name));
    const rest = properties.filter(({ name }) => !names.includes(name));
    rest.splice(at < 0 ? rest.length : at, 0, ...made);
    properties = rest;
  };
  const now: OutsideFields = { ...before.fields, ...fields };
  const single = (key: string) => String(now[key]?.[0]?.v ?? '');
  const isNameNew = [...NAME_KEYS, 'org'].some(
    (key) => key in fields && !same(fields[key] ?? [], before.fields[key] ?? []),
  );
  if (isNameNew || !properties.some(({ name }) => name === 'n')) {
    const parts = ['', '', '', '', ''];
    for (const [key, place] of Object.entries(NAME_PLACES)) parts[place] = single(key);
    replace(['n'], [{ name: 'n', params: {}, values: [parts] }]);
  }
  if (isNameNew || !properties.some(({ name }) => name === 'fn')) {
    const whole = ['prefix', 'given', 'additional', 'family', 'suffix'].map(single).filter(Boolean).join(' ');
    const shown = whole || single('org') || String(now.email?.[0]?.v ?? now.tel?.[0]?.v ?? 'No name');
    replace(['fn'], [{ name: 'fn', params: {}, values: [shown] }]);
  }
  for (const [key, values] of Object.entries(fields)) {
    if (key in NAME_PLACES || same(values, before.fields[key] ?? [])) continue;
    const name = key === 'anniversary' && card.version === '3.0' ? 'x-anniversary' : key;
    if (key === 'org') {
      const units = partsOf(properties.find((property) => property.name === 'org')?.values[0]).slice(1);
      const org = single('org');
      replace(['org'], org ? [{ name: 'org', params: {}, values: [[org, ...units]] }] : []);
      continue;
    }
    const there = properties.filter((property) => property.name === key || property.name === name);
    replace(
      [key, name],
      values.map((value, i) => {
        const old =
          there.find((property) => same(contentOf({ ...card, properties: [property] }).fields[key]?.[0]?.v, value.v)) ??
          (there.length === values.length ? there[i] : undefined);
        return { name, params: typed(value, old), values: [valueText(key, value)] };
      }),
    );
  }
  if (labels && !same([...labels].sort(), [...before.labels].sort()))
    replace(['categories'], labels.length ? [{ name: 'categories', params: {}, values: [...labels] }] : []);
  return { ...card, properties };
}

/** Reads a card as it came. Errors: what is wrong with it, in words. */
export function readContent(
  text: string,
): { ok: true; card: CardText; content: CardContent } | { ok: false; error: string } {
  const read = readCardText(text);
  return read.ok ? { ok: true, card: read.value, content: contentOf(read.value) } : { ok: false, error: read.error };
}

export function changedCard(card: CardText, fields: OutsideFields | null, labels: readonly string[] | null): string {
  return writeCardText(withContent(card, fields ?? {}, labels));
}

export function newCard(uid: string, fields: OutsideFields, labels: readonly string[]): string {
  return writeCardText(
    withContent({ version: '3.0', properties: [{ name: 'uid', params: {}, values: [uid] }] }, fields, labels),
  );
}
