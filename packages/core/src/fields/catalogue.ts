export type FieldType =
  | 'text'
  | 'longText'
  | 'email'
  | 'tel'
  | 'address'
  | 'url'
  | 'date'
  | 'number'
  | 'yesNo'
  | 'choice'
  | 'tag'
  | 'stage'
  | 'source'
  | 'owner';
export type FieldGroup = 'name' | 'reach' | 'work' | 'place' | 'dates' | 'sorting' | 'other' | 'custom';

/** One field of the catalogue, which drives mapping, grid, sheet, merge and export alike. */
export interface FieldDefinition {
  key: string;
  name: string;
  type: FieldType;
  group: FieldGroup;
  /** Whether a contact may have several values of it. */
  several: boolean;
  choices?: string[];
}

const one = (key: string, name: string, group: FieldGroup, type: FieldType = 'text'): FieldDefinition => ({
  key,
  name,
  group,
  type,
  several: false,
});
const many = (key: string, name: string, group: FieldGroup, type: FieldType): FieldDefinition => ({
  key,
  name,
  group,
  type,
  several: true,
});

/** The fields every workspace has. Names follow vCard 4 in meaning (RFC 6350). */
export const STANDARD_FIELDS: readonly FieldDefinition[] = [
  one('prefix', 'Title before name', 'name'),
  one('givenName', 'Given name', 'name'),
  one('additionalNames', 'Additional names', 'name'),
  one('familyName', 'Family name', 'name'),
  one('suffix', 'Suffix', 'name'),
  one('nickname', 'Nickname', 'name'),
  one('fullName', 'Name as written', 'name'),
  many('email', 'E-mail', 'reach', 'email'),
  many('tel', 'Phone', 'reach', 'tel'),
  many('url', 'Link', 'reach', 'url'),
  one('organization', 'Organization', 'work'),
  one('title', 'Job title', 'work'),
  many('adr', 'Address', 'place', 'address'),
  one('tz', 'Time zone', 'place'),
  one('bday', 'Birthday', 'dates', 'date'),
  one('anniversary', 'Anniversary', 'dates', 'date'),
  many('tags', 'Tag', 'sorting', 'tag'),
  one('stage', 'Stage', 'sorting', 'stage'),
  one('source', 'Source', 'sorting', 'source'),
  one('owner', 'Owner', 'sorting', 'owner'),
  many('externalId', 'Outside id', 'other', 'text'),
  one('note', 'Note', 'other', 'longText'),
];

export const CUSTOM_PREFIX = 'custom.';

export class Catalogue {
  private readonly byKey: Map<string, FieldDefinition>;
  readonly fields: readonly FieldDefinition[];

  constructor(custom: readonly FieldDefinition[] = []) {
    this.fields = [...STANDARD_FIELDS, ...custom];
    this.byKey = new Map(this.fields.map((field) => [field.key, field]));
  }

  find(key: string): FieldDefinition | undefined {
    return this.byKey.get(key);
  }

  nameOf(key: string): string {
    return this.byKey.get(key)?.name ?? key;
  }
}

/** The longest text a field takes, in characters; longer cells hold their row. */
export const TEXT_LIMIT = 500;
export const LONG_TEXT_LIMIT = 20_000;
