import { foldText } from '../../fields';
import { err, KIND, ok, type Result } from '../../model';
import { byPreference, GROUP_DATE, labelOf, withGroupLabels } from './card-labels';
import { readCardText, type CardProperty } from './card-text';
import { isKnownProperty, saidBy } from './card-properties';
import { dateText, firstText, partsOf } from './card-values';

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
const ISO_DATE = /^(?:\d{4}|-)-\d{2}-\d{2}$/;

const NAME_TARGETS = ['familyName', 'givenName', 'additionalNames', 'prefix', 'suffix'];
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
    const text = firstText(property);
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
  if (PASSED.has(name)) return [];
  if (isKnownProperty(name))
    return saidBy(property).flatMap(({ field, v, label }) => {
      if (typeof v !== 'string') return ADDRESS_PARTS.flatMap((part) => cell(part, v[part] ?? '', label));
      // "about 1960" is no date; it keeps the property's name.
      return cell(field.shape === 'date' && !ISO_DATE.test(v) ? null : field.target, v, label);
    });
  switch (name) {
    case 'categories':
      return cell('tags', values.map((value) => String(value)).join(CARD_SEPARATOR));
    case 'related':
    case 'agent': {
      const who = firstText(property).replace(/^urn:uuid:\S+$/, '');
      return who ? cell('related', `${labelOf(property) ?? 'contact'}: ${who}`) : [];
    }
    case 'uid':
      return OWN_UID.test(firstText(property)) ? [] : cell('externalId', firstText(property));
    case 'x-gray-loom-value': {
      const field = String(params['x-field'] ?? '');
      return cell(null, firstText(property), labelOf(property)).map((one) => ({ ...one, name: field || one.name }));
    }
    default: {
      if (GROUP_DATE.test(name) && ISO_DATE.test(dateText(firstText(property))) && labelOf(property))
        return cell('otherDate', dateText(firstText(property)), labelOf(property));
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
    const [, , street, locality, , postalCode] = property.name === 'adr' ? partsOf(property).map(foldText) : [];
    return [street || locality || postalCode || []].flat();
  });
  return properties.flatMap((property) => {
    if (property.name !== 'label') return [property];
    const written = firstText(property);
    if (inParts.some((part) => foldText(written).includes(part))) return [];
    return [{ ...property, name: 'adr', values: [['', '', written, '', '', '', '']] }];
  });
}

/** The name in another script or language, kept beside the first. */
function alternative(property: CardProperty, cells: readonly CardCell[]): CardCell {
  const name = `${property.name.toUpperCase()} otherwise`;
  const nth = cells.filter((cell) => cell.name === name).length;
  return { target: null, name, label: null, nth, text: firstText(property) };
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
  const named = structured ? partsOf(structured).some((part) => part.trim()) : false;
  const organization = byName('org');
  if (kind && /^(?:group|location)$/i.test(firstText(kind)))
    return err(`it is of a ${firstText(kind)} and not of a contact`);
  const isOrganization = kind
    ? /^org/i.test(firstText(kind))
    : !named &&
      organization !== undefined &&
      formatted !== undefined &&
      firstText(organization) === firstText(formatted);
  if (isOrganization) {
    put(KIND, 'organization');
    if (!organization && formatted) put('organization', firstText(formatted));
  } else if (structured && named) NAME_TARGETS.forEach((part, i) => put(part, partsOf(structured)[i] ?? ''));
  else if (formatted) put('fullName', firstText(formatted));
  const counts = new Map<string, number>();
  for (const property of byPreference(properties)) {
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
