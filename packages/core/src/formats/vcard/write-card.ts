import { countryName, displayNameOf, typeValue, type Catalogue } from '../../fields';
import { isAddress, isRelation, kindOf, valuesOf, type ContactRecord, type Value } from '../../model';
import { typesFor } from './card-labels';
import { CARD_FIELDS, genderParts, type CardField } from './card-properties';
import { NAME_PARTS } from './card-values';
import { writeCardText, type CardProperty, type CardText } from './card-text';
import type { CardPicture } from './read-card';

export interface CardContact {
  id: number;
  record: ContactRecord;
  picture: CardPicture | null;
  /** Names of the contacts that relationships lead to. */
  nameOf: (id: number) => string;
  changedAt: Date;
}

/** Fields that have a property of their own, or are said by one. */
const HAVE_PROPERTY = new Set([...CARD_FIELDS.map(({ target }) => target), 'fullName', 'photo', 'related', 'tags']);
/** The name of the property beside the standard ones, for values that a card has no place for. */
const OWN = 'x-gray-loom-value';

const text = (record: ContactRecord, field: string) => {
  const [value] = valuesOf(record, field);
  return value ? typeValue(value) : '';
};

function typed({ label }: Value): Record<string, string | string[]> {
  const types = typesFor(label ?? null);
  return types.length ? { type: types.length > 1 ? types : (types[0] ?? '') } : {};
}

/** A contact as one card of version 3 or 4. Values a card has no place for stand in properties of our own, so that we read them back. */
export function writeCard(contact: CardContact, catalogue: Catalogue, version: CardText['version']): string {
  const { id, record, picture, nameOf, changedAt } = contact;
  const properties: CardProperty[] = [];
  const put = (name: string, values: CardProperty['values'], params: CardProperty['params'] = {}) =>
    properties.push({ name, params, values });
  const several = (field: string) => valuesOf(record, field);
  const putOne = (property: string, { shape }: CardField, value: Value) => {
    if (shape !== 'address') return put(property, [String(value.v)], typed(value));
    if (!isAddress(value.v)) return;
    const { street = '', locality = '', region = '', postalCode = '', country = '' } = value.v;
    put(property, [['', '', street, locality, region, postalCode, country && countryName(country)]], typed(value));
  };
  const isOrganization = kindOf(record) === 'organization';
  const organization = text(record, 'organization');

  put('fn', [isOrganization ? organization : displayNameOf(record)]);
  const name = NAME_PARTS.map((part) => text(record, CARD_FIELDS.find(({ key }) => key === part)?.target ?? ''));
  put('n', [isOrganization ? ['', '', '', '', ''] : name]);
  if (isOrganization) put(version === '4.0' ? 'kind' : 'x-kind', ['org']);
  for (const field of CARD_FIELDS) {
    const property = field.property[version];
    // Names come first, and an organization stands in one property with its department.
    if (property === 'n' || field.key === 'department') continue;
    if (field.key === 'org') {
      const department = text(record, 'department');
      if (organization || department) put(property, [department ? [organization, department] : organization]);
    } else if (field.several) for (const value of several(field.target)) putOne(property, field, value);
    else if (text(record, field.target)) {
      const said = text(record, field.target);
      put(property, [field.shape === 'gender' ? genderParts(said) : said]);
    }
  }
  const tags = several('tags').map((value) => String(value.v));
  if (tags.length) put('categories', tags);
  for (const { v } of several('related')) {
    if (!isRelation(v)) continue;
    const who = v.to === null ? (v.name ?? '') : nameOf(v.to);
    if (who) put('related', [who], { type: v.relation.replace(/[,;"]+/g, ' ') });
  }
  if (picture)
    put(
      isOrganization ? 'logo' : 'photo',
      version === '4.0' ? [`data:${picture.mediaType};base64,${picture.base64}`] : [picture.base64],
      version === '4.0' ? {} : { encoding: 'b', type: picture.mediaType.replace('image/', '').toUpperCase() },
    );
  for (const field of catalogue.fields) {
    if (HAVE_PROPERTY.has(field.key)) continue;
    for (const value of several(field.key))
      if (typeValue(value)) put(OWN, [typeValue(value)], { 'x-field': field.name, ...typed(value) });
  }
  put('uid', [`gray-loom:contact:${id}`]);
  put('rev', [
    changedAt
      .toISOString()
      .replace(/\.\d+Z$/, 'Z')
      .replace(/[-:]/g, ''),
  ]);
  return writeCardText({ version, properties });
}
