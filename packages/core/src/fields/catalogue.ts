export type FieldType =
  | 'text'
  | 'longText'
  | 'email'
  | 'tel'
  | 'address'
  | 'url'
  | 'date'
  | 'partialDate'
  | 'number'
  | 'money'
  | 'range'
  | 'yesNo'
  | 'choice'
  | 'choices'
  | 'picture'
  | 'relation'
  | 'tag'
  | 'stage'
  | 'source'
  | 'owner';
export type FieldGroup =
  'name' | 'reach' | 'work' | 'people' | 'place' | 'dates' | 'sorting' | 'other' | 'custom' | 'opportunity';
/** Whether two contacts may have the same value: yes, yes with a warning, or no. */
export type UniqueRule = 'no' | 'warn' | 'refuse';

/** One field of the catalogue, which drives mapping, grid, sheet, merge and export alike. */
export interface FieldDefinition {
  key: string;
  name: string;
  type: FieldType;
  group: FieldGroup;
  /** Whether a contact may have several values of it. */
  several: boolean;
  choices?: string[];
  /** ISO 4217, for money. */
  currency?: string;
  /** Heading that an own field stands under. */
  heading?: string;
  /** Asked for at entry. */
  required?: boolean;
  unique?: UniqueRule;
  /** Kept with its values, but not offered any more. */
  retired?: boolean;
}

/** Types that an own field may have, as they are offered. */
export const CUSTOM_TYPES = [
  'text',
  'longText',
  'number',
  'money',
  'range',
  'date',
  'partialDate',
  'yesNo',
  'choice',
  'choices',
  'url',
] as const satisfies readonly FieldType[];

/** Types whose values can be asked to be unique. */
export const UNIQUE_TYPES: readonly FieldType[] = ['text', 'email', 'tel', 'number', 'url'];

/** What a type is called on screen. */
export const TYPE_NAMES: Record<FieldType, string> = {
  text: 'text',
  longText: 'long text',
  email: 'e-mail',
  tel: 'phone',
  address: 'address',
  url: 'link',
  date: 'date',
  partialDate: 'date, also without a year',
  number: 'number',
  money: 'amount of money',
  range: 'range of numbers',
  yesNo: 'yes or no',
  choice: 'one choice',
  choices: 'several choices',
  picture: 'picture',
  relation: 'relationship',
  tag: 'tag',
  stage: 'stage',
  source: 'source',
  owner: 'owner',
};

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
  one('legalName', 'Legal name', 'name'),
  one('fullName', 'Name as written', 'name'),
  one('letterLine', 'Line for letters', 'name'),
  one('salutation', 'Salutation', 'name'),
  one('gender', 'Gender', 'name'),
  one('photo', 'Photo', 'name', 'picture'),
  many('email', 'E-mail', 'reach', 'email'),
  many('tel', 'Phone', 'reach', 'tel'),
  many('url', 'Link', 'reach', 'url'),
  one('language', 'Language', 'reach'),
  one('organization', 'Organization', 'work'),
  one('department', 'Department', 'work'),
  one('title', 'Job title', 'work'),
  one('webDomain', 'Web domain', 'work'),
  many('related', 'Relationship', 'people', 'relation'),
  many('adr', 'Address', 'place', 'address'),
  one('tz', 'Time zone', 'place'),
  one('bday', 'Birthday', 'dates', 'partialDate'),
  one('anniversary', 'Anniversary', 'dates', 'partialDate'),
  many('otherDate', 'Other date', 'dates', 'partialDate'),
  many('tags', 'Tag', 'sorting', 'tag'),
  one('stage', 'Stage', 'sorting', 'stage'),
  one('source', 'Source', 'sorting', 'source'),
  one('owner', 'Owner', 'sorting', 'owner'),
  many('externalId', 'Outside id', 'other', 'text'),
  one('note', 'Note', 'other', 'longText'),
];

/** Fields of an opportunity; owner, outside id and note are those of every record. */
export const OPPORTUNITY_FIELDS: readonly FieldDefinition[] = [
  one('opportunityName', 'Opportunity', 'opportunity'),
  one('opportunityContact', 'Contact', 'opportunity', 'relation'),
  one('opportunityPipeline', 'Pipeline', 'opportunity'),
  one('opportunityStage', 'Opportunity stage', 'opportunity'),
  one('opportunityValue', 'Opportunity value', 'opportunity', 'money'),
  one('opportunityCloseDate', 'Expected on', 'opportunity', 'date'),
];

export const CUSTOM_PREFIX = 'custom.';

/** What a workspace asks of a field. */
export interface FieldRule {
  field: string;
  required: boolean;
  unique: UniqueRule;
}

/** The fields of contacts, in the order in which they are offered; those of opportunities are found, and not listed. */
export class Catalogue {
  private readonly byKey: Map<string, FieldDefinition>;
  readonly fields: readonly FieldDefinition[];

  constructor(custom: readonly FieldDefinition[] = [], rules: readonly FieldRule[] = []) {
    const byField = new Map(rules.map((rule) => [rule.field, rule]));
    this.fields = [...STANDARD_FIELDS, ...custom].map((field) => {
      const rule = byField.get(field.key);
      return rule ? { ...field, required: rule.required, unique: rule.unique } : field;
    });
    this.byKey = new Map([...this.fields, ...OPPORTUNITY_FIELDS].map((field) => [field.key, field]));
  }

  find(key: string): FieldDefinition | undefined {
    return this.byKey.get(key);
  }

  /** Fields whose values no two contacts should share. */
  get uniqueFields(): FieldDefinition[] {
    return this.fields.filter((field) => field.unique && field.unique !== 'no' && !field.retired);
  }

  nameOf(key: string): string {
    return this.byKey.get(key)?.name ?? key;
  }
}

/** The longest text a field takes, in characters; longer cells hold their row. */
export const TEXT_LIMIT = 500;
export const LONG_TEXT_LIMIT = 20_000;
