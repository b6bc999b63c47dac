import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import type { UniqueRule } from '@gray-loom/core/fields';
import type { ContactRecord, ContactKind, Value, ValueContent } from '@gray-loom/core/model';
import type { RunThread, ThreadKind } from './threads';

export const CONTACT_SORTS = ['family', 'given', 'touched'] as const;
export type ContactSort = (typeof CONTACT_SORTS)[number];

/** What narrows a list of contacts; the same for list, count and export. */
export const contactFilterSchema = object({
  find: string().trim().max(200).default(''),
  tag: string().max(80).default(''),
  stage: string().max(80).default(''),
  source: string().max(80).default(''),
  area: string().max(80).default(''),
  owner: string().max(80).default(''),
  kind: mixed<ContactKind>().oneOf(['person', 'organization']).default('person'),
  run: number().integer().positive(),
  deleted: boolean().default(false),
});
export type ContactFilter = InferType<typeof contactFilterSchema>;

export const contactPageSchema = contactFilterSchema.concat(
  object({
    sort: mixed<ContactSort>()
      .oneOf([...CONTACT_SORTS])
      .default('family'),
    /** Place in the list of the first row wanted, from 0. */
    at: number().integer().min(0).default(0),
    limit: number().integer().min(1).max(500).default(100),
    /** Keys of further fields that every row shows, parted by commas. */
    fields: string().max(4000).default(''),
  }),
);
export type ContactPageRequest = InferType<typeof contactPageSchema>;

export interface ContactListRow {
  id: number;
  name: string;
  givenFirst: string;
  email: string;
  tel: string;
  organization: string;
  stage: string;
  source: string;
  owner: string;
  area: string;
  tags: string[];
  completeness: number;
  /** Channels on which this person wants nothing. */
  stops: PermissionChannel[];
  /** The further fields that were asked for, as people read them. */
  extra: Record<string, string>;
  lastThread: ThreadKind;
  touchedAt: string;
}

export interface ContactPage {
  /** Place of the first row. */
  at: number;
  rows: ContactListRow[];
  /** How many fit; where looking further costs too much, at least so many. */
  total: number;
  totalIsLeast: boolean;
}

/** What is taken out as a table, and which fields; all of them when none is named. */
export const tableSchema = contactFilterSchema.concat(object({ fields: string().max(600).default('') }));

export type ExportFormat = 'csv' | 'tsv' | 'xlsx';
export const EXPORT_FORMATS: readonly ExportFormat[] = ['csv', 'tsv', 'xlsx'];

export const exportLayoutSchema = object({
  name: string().trim().required('Give the layout a name.').max(80),
  fields: array(string().required().max(60)).required().min(1, 'Choose at least one column.').max(100),
  format: mixed<ExportFormat>()
    .oneOf([...EXPORT_FORMATS])
    .required(),
});
export type ExportLayoutRequest = InferType<typeof exportLayoutSchema>;
export type ExportLayout = ExportLayoutRequest & { id: number };

/** What is taken out as vCard, and in which version. */
export const cardsSchema = contactFilterSchema.concat(
  object({
    version: mixed<'3.0' | '4.0'>().oneOf(['3.0', '4.0']).default('4.0'),
  }),
);

export interface Labels {
  /** Lines of each label: for whom, then the address. */
  labels: { id: number; lines: string[] }[];
  withoutAddress: number;
  noPost: number;
  /** Partners who stand on one label with another. */
  together: number;
  /** Whether there would be more than are made at once. */
  more: boolean;
}

/** Where in the list the first name with a letter stands. */
export const placeSchema = contactFilterSchema.concat(
  object({
    sort: mixed<ContactSort>()
      .oneOf([...CONTACT_SORTS])
      .default('family'),
    letter: string().required().length(1),
  }),
);
export type PlaceRequest = InferType<typeof placeSchema>;

export interface ContactDetail {
  id: number;
  version: number;
  name: string;
  completeness: number;
  state: 'live' | 'deleted' | 'merged';
  mergedInto: { id: number; name: string } | null;
  record: ContactRecord;
  kind: ContactKind;
  area: string;
  /** Line for letters and salutation as they stand: derived, or as somebody wrote them. */
  letterLine: string;
  salutation: string;
  /** The household that the contact is kept in. */
  household: { id: number; name: string; named: boolean; members: { id: number; name: string }[] } | null;
  /** Names of the contacts that relationships lead to, by id. */
  related: Record<number, { id: number; name: string }>;
  /** Relationships that others keep with this one, seen from here. */
  relatedBy: { contactId: number; name: string; relation: string; fee: string }[];
  /** Record of the organization this person belongs to, where there is one of that name. */
  organizationId: number | null;
  /** People who belong to this organization. */
  people: { id: number; name: string; title: string }[];
  permissions: ContactPermissions;
  /** Threads of all runs that wrote a value of the record. */
  threads: Record<number, RunThread>;
  groupId: number | null;
}

export interface HistoryEntry {
  runId: number;
  kind: string;
  title: string;
  thread: { kind: ThreadKind; name: string };
  actor: string | null;
  at: string;
  /** Null for the run that brought the contact in. */
  changes: { field: string; before: Value | null; after: Value | null }[] | null;
  sourceRow: number | null;
  undone: boolean;
  undoable: boolean;
}

/**
 * One edit of one value: `before` is the value as it was seen, null for a new one. What was typed comes as `text`; what has
 * parts (address, relationship, picture) as `value`. Neither removes it.
 */
export const editSchema = object({
  field: string().required().max(60),
  slot: number().integer().min(0).nullable().default(null),
  before: mixed<Value>().nullable().default(null),
  text: string().nullable().max(20_000, 'This is longer than 20,000 characters.').default(null),
  value: mixed<ValueContent>().nullable().default(null),
  label: string().nullable().max(40).default(null),
  /** Place among several values of the field, 0 first. */
  rank: number().integer().min(0).nullable().default(null),
});
export type ContactEdit = InferType<typeof editSchema>;

export const editsSchema = object({
  edits: array(editSchema.required()).required().min(1).max(60),
  /** Saves although a value stands with somebody else, where the field only warns. */
  despite: boolean().default(false),
});

/** What is typed of one field at entry. */
const typedSchema = object({
  field: string().required().max(60),
  text: string().max(20_000).default(''),
  value: mixed<ValueContent>().nullable().default(null),
  label: string().nullable().max(40).default(null),
});

export const entrySchema = object({
  kind: mixed<ContactKind>().oneOf(['person', 'organization']).default('person'),
  values: array(typedSchema.required()).required().max(80),
  despite: boolean().default(false),
});
export type EntryRequest = InferType<typeof entrySchema>;

export interface LikelyMatch {
  contactId: number;
  name: string;
  email: string;
  tel: string;
  stage: string;
  owner: string;
  band: 'certain' | 'likely' | 'possible';
  reasons: { text: string; bits: number }[];
}

export interface EntryCheck {
  matches: LikelyMatch[];
  /** Values that stand with somebody else, of fields that should be unique. */
  clashes: { field: string; value: string; rule: UniqueRule; contacts: { id: number; name: string }[] }[];
}

/** Largest picture taken in; said beside the button before one is chosen. */
export const PICTURE_LIMIT_BYTES = 10 * 1024 * 1024;

export type PermissionChannel = 'email' | 'text' | 'call' | 'voicemail' | 'post';
export type PermissionState = 'allowed' | 'optedOut' | 'unknown';

export interface ContactPermissions {
  channels: {
    channel: PermissionChannel;
    state: PermissionState;
    addresses: { address: string; state: PermissionState }[];
  }[];
  /** Newest first. */
  evidence: {
    channel: PermissionChannel;
    state: 'allowed' | 'optedOut';
    how: string;
    address: string | null;
    statedAt: string;
    runId: number;
  }[];
}

export const permissionSchema = object({
  channel: mixed<PermissionChannel>().oneOf(['email', 'text', 'call', 'voicemail', 'post']).required(),
  state: mixed<'allowed' | 'optedOut'>().oneOf(['allowed', 'optedOut']).required(),
  how: string().trim().required('Say how it was said, such as "on the phone" or "form at the open-yard day".').max(300),
  statedAt: string().nullable().default(null),
  address: string().nullable().max(300).default(null),
});
export type PermissionRequest = InferType<typeof permissionSchema>;
