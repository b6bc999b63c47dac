import { foldText } from '../../fields';
import { err, KIND, ok, type Result } from '../../model';
import { labelWord } from '../header-words';
import { readCardText, type CardProperty } from './card-text';

/** One cell that a card makes: what it means, its label, which of several it is, its text. */
export interface CardCell {
  /** Key of a mapping target; null for what has none, which its name may tell. */
  target: string | null;
  /** What the column is called where it has no target: a property's name, or that of a field. */
  name: string;
  label: string | null;
  /** Which of several of one target and label, from 0; the parts of one address have the same. */
  nth: number;
  text: string;
}

export interface CardPicture {
  mediaType: string;
  base64: string;
}

export interface ReadCard {
  cells: CardCell[];
  picture: CardPicture | null;
}

const ADDRESS_PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;
/** Targets that a contact has several values of. */
const SEVERAL = new Set<string>([
  'email',
  'tel',
  'url',
  'related',
  'tags',
  'externalId',
  'otherDate',
  ...ADDRESS_PARTS,
]);

/** Lists within one cell are parted by this; it stands in no tag that people write. */
const CARD_SEPARATOR = '|';
const OWN_UID = /^gray-loom:/;
/** Types that say what a line is for and are kept as labels; the rest ("pref", "internet", "voice") are none. */
const NO_LABEL = new Set('pref internet homepage voice x400 dom intl postal parcel text textphone msg uri'.split(' '));
const LABEL_WORDS: Record<string, string> = { cell: 'mobile', office: 'work' };

function list(value: string | string[] | undefined): string[] {
  return value === undefined ? [] : Array.isArray(value) ? value : value.split(',');
}

/** Extensions by which programs name the other property of a group (RFC 6350, 3.3), and dates that have no property of their own. */
const GROUP_LABEL = /^x-.*label$/;
const GROUP_DATE = /^x-.*date$/;

/** Properties with the label that another of their group gives them, and without those. */
function withGroupLabels(properties: readonly CardProperty[]): CardProperty[] {
  const groupOf = ({ params }: CardProperty) => String(params.group ?? '').toLowerCase();
  const labels = new Map(
    properties
      .filter((property) => GROUP_LABEL.test(property.name) && groupOf(property))
      .map((property) => [groupOf(property), first(property).replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '')]),
  );
  return properties.flatMap((property) => {
    const label = labels.get(groupOf(property));
    if (!label) return [property];
    if (GROUP_LABEL.test(property.name)) return [];
    const isDate = GROUP_DATE.test(property.name);
    if (isDate && label.toLowerCase() === 'anniversary') return [{ ...property, name: 'anniversary' }];
    return [
      { ...property, params: { ...property.params, type: [...list(property.params.type), labelWord(label) ?? label] } },
    ];
  });
}

/** The label by TYPE parameters: "cell" is mobile; several are joined. */
function labelOf({ params }: CardProperty): string | null {
  const words = list(params.type)
    .map((word) => word.trim())
    .filter((word) => word && !NO_LABEL.has(word.toLowerCase()))
    .map((word) => LABEL_WORDS[word.toLowerCase()] ?? (/^[A-Z]+$/.test(word) ? word.toLowerCase() : word));
  return words.length ? [...new Set(words)].join(' ').slice(0, 40) : null;
}

/** Order by preference: PREF from 1 to 100 (RFC 6350), TYPE=pref as 1 (RFC 2426), the others behind. */
function preferenceOf({ params }: CardProperty): number {
  const stated = Number(params.pref);
  if (stated >= 1 && stated <= 100) return stated;
  return list(params.type).some((word) => word.toLowerCase() === 'pref') ? 1 : 101;
}

const first = (property: CardProperty): string => {
  const value = property.values[0];
  return Array.isArray(value) ? value.filter(Boolean).join(', ') : (value ?? '');
};

const parts = (property: CardProperty): string[] => {
  const value = property.values[0];
  return Array.isArray(value) ? value : [value ?? ''];
};

const ISO_DATE = /^(?:\d{4}|-)-\d{2}-\d{2}$/;

/** "1971-07-14" of a date in basic or extended form, "--07-14" without a year, with or without a time; else as it stands. */
function dateOf(text: string): string {
  const whole = /^(\d{4})-?(\d{2})-?(\d{2})(?:T|$)/.exec(text);
  if (whole) return `${whole[1]}-${whole[2]}-${whole[3]}`;
  const yearless = /^--(\d{2})-?(\d{2})(?:T|$)/.exec(text);
  return yearless ? `--${yearless[1]}-${yearless[2]}` : text;
}

const SIMPLE: Record<string, string> = {
  nickname: 'nickname',
  title: 'title',
  note: 'note',
  tz: 'tz',
};
const NAME_PARTS = ['familyName', 'givenName', 'additionalNames', 'prefix', 'suffix'];
/** Properties that say nothing of a contact. */
const PASSED = new Set([
  'version',
  'prodid',
  'rev',
  'source',
  'name',
  'profile',
  'fn',
  'n',
  'kind',
  'x-kind',
  'photo',
  'logo',
]);

function pictureOf(properties: readonly CardProperty[]): CardPicture | null {
  for (const property of properties) {
    if (property.name !== 'photo' && property.name !== 'logo') continue;
    const text = first(property);
    const data = /^data:([\w/+.-]+);base64,(.+)$/s.exec(text);
    if (data) return { mediaType: data[1] ?? '', base64: data[2] ?? '' };
    if (/^(?:b|base64)$/i.test(String(property.params.encoding ?? '')))
      return { mediaType: `image/${String(property.params.type ?? 'jpeg').toLowerCase()}`, base64: text };
  }
  return null;
}

type Cell = Omit<CardCell, 'nth'>;

/** What one property says; the address as five cells, others as one. */
function cellsOf(property: CardProperty): Cell[] {
  const { name, params, values } = property;
  const cell = (target: string | null, text: string, label: string | null = null): Cell[] =>
    text.trim() ? [{ target, name: target ?? name.toUpperCase(), label, text }] : [];
  switch (name) {
    case 'email':
    case 'url':
      return cell(name, first(property), labelOf(property));
    case 'tel':
      return cell(
        'tel',
        first(property)
          .replace(/^tel:/i, '')
          .replace(/;ext=(\d+)/i, ' ext. $1'),
        labelOf(property),
      );
    case 'adr': {
      // As a letter has it, where that is all it says.
      const written = String(params.label ?? '').replace(/\\n|\^n/gi, '\n');
      if (!parts(property).some((part) => part.trim())) return cell('street', written, labelOf(property));
      const [box = '', extended = '', street = '', locality, region, postalCode, country] = parts(property);
      const lines = [extended, street, box].filter(Boolean).join('\n');
      const texts = [lines, locality, region, postalCode, country];
      return ADDRESS_PARTS.flatMap((part, i) => cell(part, texts[i] ?? '', labelOf(property)));
    }
    case 'org': {
      const [organization = '', ...units] = parts(property);
      const unit = units.filter(Boolean).join(', ');
      return [...cell('organization', organization), ...cell(null, unit).map((one) => ({ ...one, name: 'ORG unit' }))];
    }
    case 'bday':
    case 'anniversary':
    case 'x-anniversary': {
      const date = dateOf(first(property));
      // "about 1960" is no date; it keeps the property's name.
      return cell(ISO_DATE.test(date) ? name.replace('x-', '') : null, date);
    }
    case 'categories':
      return cell('tags', values.map((value) => String(value)).join(CARD_SEPARATOR));
    case 'related':
    case 'agent': {
      const who = first(property).replace(/^urn:uuid:\S+$/, '');
      return who ? cell('related', `${labelOf(property) ?? 'contact'}: ${who}`) : [];
    }
    case 'uid':
      return OWN_UID.test(first(property)) ? [] : cell('externalId', first(property));
    case 'x-gray-loom-value': {
      const field = String(params['x-field'] ?? '');
      return cell(null, first(property), labelOf(property)).map((one) => ({ ...one, name: field || one.name }));
    }
    default: {
      if (GROUP_DATE.test(name) && ISO_DATE.test(dateOf(first(property))) && labelOf(property))
        return cell('otherDate', dateOf(first(property)), labelOf(property));
      const target = SIMPLE[name];
      if (target) return cell(target, first(property));
      if (PASSED.has(name)) return [];
      const text = values.map((value) => (Array.isArray(value) ? value.filter(Boolean).join(', ') : value)).join(', ');
      return cell(null, text);
    }
  }
}

/**
 * Addresses as letters have them (RFC 2426, 3.2.2) as addresses of a street alone, without those that the card has in parts as
 * well: whose street, or else town or code, stands in them.
 */
function withLabelsAsAddresses(properties: readonly CardProperty[]): CardProperty[] {
  const inParts = properties.flatMap((property) => {
    const [, , street, locality, , postalCode] = property.name === 'adr' ? parts(property).map(foldText) : [];
    return [street || locality || postalCode || []].flat();
  });
  return properties.flatMap((property) => {
    if (property.name !== 'label') return [property];
    const written = first(property);
    if (inParts.some((part) => foldText(written).includes(part))) return [];
    return [{ ...property, name: 'adr', values: [['', '', written, '', '', '', '']] }];
  });
}

/** The name in another script or language, kept beside the first. */
function alternative(property: CardProperty, cells: readonly CardCell[]): CardCell {
  const name = `${property.name.toUpperCase()} otherwise`;
  const nth = cells.filter((cell) => cell.name === name).length;
  return { target: null, name, label: null, nth, text: first(property) };
}

/**
 * What a card says, as the cells of a row, so that it goes the same way as any file: meaning, trial, held rows, undo. A
 * preferred line comes before others of its kind. Properties without a meaning of ours keep their name, to be made a
 * field of or left out. Errors: what is wrong, in words.
 */
export function readCard(text: string): Result<ReadCard, string> {
  const read = readCardText(text);
  if (!read.ok) return err(read.error);
  const properties = withLabelsAsAddresses(withGroupLabels(read.value.properties));
  const byName = (name: string) => properties.find((property) => property.name === name);
  const cells: CardCell[] = [];
  const put = (target: string, value: string) => {
    if (value.trim()) cells.push({ target, name: target, label: null, nth: 0, text: value });
  };
  const formatted = byName('fn');
  const structured = byName('n');
  for (const other of properties)
    if ((other.name === 'fn' && other !== formatted) || (other.name === 'n' && other !== structured))
      cells.push(alternative(other, cells));
  const kind = byName('kind') ?? byName('x-kind');
  const named = structured ? parts(structured).some((part) => part.trim()) : false;
  const organization = byName('org');
  if (kind && /^(?:group|location)$/i.test(first(kind))) return err(`it is of a ${first(kind)} and not of a contact`);
  const isOrganization = kind
    ? /^org/i.test(first(kind))
    : !named && organization !== undefined && formatted !== undefined && first(organization) === first(formatted);
  if (isOrganization) {
    put(KIND, 'organization');
    if (!organization && formatted) put('organization', first(formatted));
  } else if (structured && named) NAME_PARTS.forEach((part, i) => put(part, parts(structured)[i] ?? ''));
  else if (formatted) put('fullName', first(formatted));
  const ordered = properties
    .map((property, place) => ({ property, place, preference: preferenceOf(property) }))
    .sort((a, b) => a.preference - b.preference || a.place - b.place);
  const counts = new Map<string, number>();
  for (const { property } of ordered) {
    const made = cellsOf(property);
    const key = JSON.stringify([property.name, made[0]?.name, made[0]?.label]);
    const nth = counts.get(key) ?? 0;
    if (made.length) counts.set(key, nth + 1);
    // What a contact has one of stays one; a further one keeps its name and waits for a meaning.
    for (const one of made)
      cells.push({ ...one, nth, target: nth > 0 && one.target && !SEVERAL.has(one.target) ? null : one.target });
  }
  return ok({ cells, picture: pictureOf(properties) });
}
