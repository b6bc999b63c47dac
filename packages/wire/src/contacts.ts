import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import type { FieldDefinition } from '@gray-loom/core/fields';
import type { ContactRecord, RecordKind, Value } from '@gray-loom/core/model';
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
  kind: mixed<RecordKind>().oneOf(['person', 'organization']).default('person'),
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

/** One edit of one value: `before` is the value as it was seen, null for a new one; `text` null removes it. */
export const editSchema = object({
  field: string().required().max(60),
  slot: number().integer().min(0).nullable().default(null),
  before: mixed<Value>().nullable().default(null),
  text: string().nullable().max(20_000).default(null),
  label: string().nullable().max(40).default(null),
});
export type ContactEdit = InferType<typeof editSchema>;

export const newContactSchema = object({
  givenName: string().trim().max(200).default(''),
  familyName: string().trim().max(200).default(''),
  email: string().trim().max(300).default(''),
  tel: string().trim().max(60).default(''),
  organization: string().trim().max(300).default(''),
  source: string().trim().max(80).default(''),
});
export type NewContactRequest = InferType<typeof newContactSchema>;

export interface LikelyMatch {
  contactId: number;
  name: string;
  email: string;
  tel: string;
  band: 'certain' | 'likely' | 'possible';
  reasons: { text: string; bits: number }[];
}

export const newFieldSchema = object({
  name: string().trim().required('Give the field a name.').max(60, 'A field name has at most 60 characters.'),
  type: mixed<'text' | 'number' | 'date' | 'yesNo' | 'choice'>()
    .oneOf(['text', 'number', 'date', 'yesNo', 'choice'])
    .required(),
  choices: array(string().trim().required().max(80)).max(100).default([]),
});

export interface Lists {
  fields: FieldDefinition[];
  tags: { label: string; count: number }[];
  sources: { label: string; count: number }[];
  stages: { label: string; meaning: string }[];
  country: string;
}
