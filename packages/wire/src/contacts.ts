import { id, place } from './ids';
import { runThreadAnswer } from './threads';
import { part, whole, text, listOf, oneOf, recordOf, yesNo, core, trimmed } from './parts';
import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import type { UniqueRule } from '@gray-loom/core/fields';
import type { MoneyValue, ContactRecord, ContactKind, Value, ValueContent } from '@gray-loom/core/model';
import type { ThreadKind } from './threads';

/**
 * What a list is ordered by: family or given name, when somebody was last changed, how well they fit what is sought, or any column or
 * field by its key. `:back` turns the order round.
 */
export type ContactSort = string;
const sortSchema = () =>
  string()
    .matches(/^@?[A-Za-z][A-Za-z0-9.-]{0,60}(:back)?$/, 'This is no order that a list can have.')
    .default('family');

/** What narrows a list of contacts; the same for list, count and export. */
export const contactFilterSchema = object({
  find: trimmed().max(200).default(''),
  /** A condition (core: segments) as JSON; empty for everybody. */
  where: string().max(60_000).default(''),
  kind: mixed<ContactKind>().oneOf(['person', 'organization']).default('person'),
  deleted: boolean().default(false),
});
export type ContactFilter = InferType<typeof contactFilterSchema>;

export const contactPageSchema = contactFilterSchema.concat(
  object({
    sort: sortSchema(),
    /** Place in the list of the first row wanted, from 0. */
    at: place().default(0),
    limit: number().integer().min(1).max(500).default(100),
    /** Keys of further fields that every row shows, parted by commas. */
    fields: string().max(20_000).default(''),
  }),
);
export type ContactPageRequest = InferType<typeof contactPageSchema>;

export const contactListRowAnswer = part({
  id: whole(),
  name: text(),
  givenFirst: text(),
  email: text(),
  tel: text(),
  organization: text(),
  stage: text(),
  source: text(),
  owner: text(),
  area: text(),
  tags: listOf(text()),
  completeness: whole(),
  /** Channels on which this person wants nothing. */
  stops: listOf(oneOf<PermissionChannel>('email', 'text', 'call', 'voicemail', 'post')),
  /** Hash of their picture; empty where there is none. */
  photo: text(),
  /** By what they were found, where that is not the name. */
  match: text(),
  /** The further fields that were asked for, as people read them. */
  extra: recordOf(text()),
  lastThread: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
  touchedAt: text(),
});
export type ContactListRow = InferType<typeof contactListRowAnswer>;

/** Somebody else who has a contact on screen. */
export const lookerAnswer = part({ name: text(), picture: text().nullable() });
export type Looker = InferType<typeof lookerAnswer>;

export const contactPageAnswer = part({
  /** Place of the first row. */
  at: whole(),
  rows: listOf(contactListRowAnswer),
  /** How many fit; where looking further costs too much, at least so many. */
  total: whole(),
  totalIsLeast: yesNo(),
  /** Nobody is called just that; these are one slip away from it. */
  isNear: yesNo(),
});
export type ContactPage = InferType<typeof contactPageAnswer>;

/** What is taken out as a table, and which fields; all of them when none is named. */
export const tableSchema = contactFilterSchema.concat(object({ fields: string().max(20_000).default('') }));

export type ExportFormat = 'csv' | 'tsv' | 'xlsx';
export const EXPORT_FORMATS: readonly ExportFormat[] = ['csv', 'tsv', 'xlsx'];

export const exportLayoutSchema = object({
  name: trimmed().required('Give the layout a name.').max(80),
  fields: array(string().required().max(60)).required().min(1, 'Choose at least one column.').max(1000),
  format: mixed<ExportFormat>()
    .oneOf([...EXPORT_FORMATS])
    .required(),
});
export type ExportLayoutRequest = InferType<typeof exportLayoutSchema>;
export const exportLayoutAnswer = part({
  id: whole(),
  name: text(),
  fields: listOf(text()),
  format: oneOf<ExportFormat>('csv', 'tsv', 'xlsx'),
});
export type ExportLayout = InferType<typeof exportLayoutAnswer>;

export const gridLayoutSchema = object({
  name: trimmed().required('Give the layout a name.').max(80),
  columns: array(
    object({ key: string().required().max(60), width: number().integer().min(40).max(900).required() }).required(),
  )
    .required()
    .min(1, 'Choose at least one column.')
    .max(500),
  /** Columns at the left that stay in sight. */
  pinned: number().integer().min(0).max(20).default(1),
  sort: sortSchema(),
});
export type GridLayoutRequest = InferType<typeof gridLayoutSchema>;
export const gridLayoutAnswer = part({
  id: whole(),
  name: text(),
  columns: listOf(part({ key: text(), width: whole() })),
  pinned: whole(),
  sort: text(),
});
export type GridLayout = InferType<typeof gridLayoutAnswer>;

/** What is taken out as vCard, and in which version. */
export const cardsSchema = contactFilterSchema.concat(
  object({
    version: mixed<'3.0' | '4.0'>().oneOf(['3.0', '4.0']).default('4.0'),
  }),
);

export const labelsAnswer = part({
  /** Lines of each label: for whom, then the address. */
  labels: listOf(
    part({
      id: whole(),
      lines: listOf(text()),
    }),
  ),
  withoutAddress: whole(),
  noPost: whole(),
  /** Partners who stand on one label with another. */
  together: whole(),
  /** Whether there would be more than are made at once. */
  more: yesNo(),
});
export type Labels = InferType<typeof labelsAnswer>;

/** Where in the list the first name with a letter stands. */
export const placeSchema = contactFilterSchema.concat(
  object({
    sort: sortSchema(),
    letter: string().required().length(1),
  }),
);
export type PlaceRequest = InferType<typeof placeSchema>;

export const contactPermissionsAnswer = part({
  channels: listOf(
    part({
      channel: oneOf<PermissionChannel>('email', 'text', 'call', 'voicemail', 'post'),
      state: oneOf<PermissionState>('allowed', 'optedOut', 'unknown'),
      addresses: listOf(
        part({
          address: text(),
          state: oneOf<PermissionState>('allowed', 'optedOut', 'unknown'),
        }),
      ),
    }),
  ),
  /** Addresses of theirs from which the last mail came back. */
  returned: listOf(part({ address: text(), how: text(), at: text(), runId: whole() })),
  /** Newest first. */
  evidence: listOf(
    part({
      channel: oneOf<PermissionChannel>('email', 'text', 'call', 'voicemail', 'post'),
      state: oneOf('allowed', 'optedOut'),
      how: text(),
      address: text().nullable(),
      statedAt: text(),
      runId: whole(),
    }),
  ),
});
export type ContactPermissions = InferType<typeof contactPermissionsAnswer>;

export const contactDetailAnswer = part({
  id: whole(),
  version: whole(),
  name: text(),
  completeness: whole(),
  /** Fields that are missing, what adds most to completeness first. */
  addNext: listOf(text()),
  state: oneOf('live', 'deleted', 'merged', 'erased'),
  mergedInto: part({
    id: whole(),
    name: text(),
  }).nullable(),
  record: core<ContactRecord>(),
  kind: oneOf<ContactKind>('person', 'organization'),
  area: text(),
  /** Line for letters and salutation as they stand: derived, or as somebody wrote them. */
  letterLine: text(),
  salutation: text(),
  /** The household that the contact is kept in. */
  household: part({
    id: whole(),
    name: text(),
    named: yesNo(),
    members: listOf(
      part({
        id: whole(),
        name: text(),
      }),
    ),
  }).nullable(),
  /** Names of the contacts that relationships lead to, by id. */
  related: recordOf(
    part({
      id: whole(),
      name: text(),
    }),
  ),
  /** Relationships that others keep with this one, seen from here. */
  relatedBy: listOf(
    part({
      contactId: whole(),
      name: text(),
      relation: text(),
      fee: text(),
      owed: core<MoneyValue>().nullable(),
    }),
  ),
  /** Record of the organization this person belongs to, where there is one of that name. */
  organizationId: whole().nullable(),
  /** People who belong to this organization. */
  people: listOf(
    part({
      id: whole(),
      name: text(),
      title: text(),
    }),
  ),
  permissions: contactPermissionsAnswer,
  /** Threads of all runs that wrote a value of the record. */
  threads: recordOf(runThreadAnswer),
  groupId: whole().nullable(),
});
export type ContactDetail = InferType<typeof contactDetailAnswer>;

export const historyEntryAnswer = part({
  runId: whole(),
  kind: text(),
  title: text(),
  thread: part({
    kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
    name: text(),
  }),
  actor: text().nullable(),
  at: text(),
  /** Null for the run that brought the contact in. */
  changes: listOf(
    part({
      field: text(),
      before: core<Value>().nullable(),
      after: core<Value>().nullable(),
    }),
  ).nullable(),
  sourceRow: whole().nullable(),
  undone: yesNo(),
  undoable: yesNo(),
});
export type HistoryEntry = InferType<typeof historyEntryAnswer>;

/**
 * One edit of one value: `before` is the value as it was seen, null for a new one. What was typed comes as `text`; what has
 * parts (address, relationship, picture) as `value`. Neither removes it.
 */
export const editSchema = object({
  field: string().required().max(60),
  slot: place().nullable().default(null),
  before: mixed<Value>().nullable().default(null),
  text: string().nullable().max(20_000, 'This is longer than 20,000 characters.').default(null),
  value: mixed<ValueContent>().nullable().default(null),
  label: string().nullable().max(40).default(null),
  /** Place among several values of the field, 0 first. */
  rank: place().nullable().default(null),
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
  /** Saves it although a value, or likely the person, is here already. */
  despite: boolean().default(false),
  /** Contacts that whoever enters it was shown as likely the same. */
  seen: array(id()).max(20).default([]),
});
export type EntryRequest = InferType<typeof entrySchema>;

export const likelyMatchAnswer = part({
  contactId: whole(),
  name: text(),
  email: text(),
  tel: text(),
  stage: text(),
  owner: text(),
  band: oneOf('certain', 'likely', 'possible'),
  reasons: listOf(part({ field: text(), text: text(), bits: whole() })),
});
export type LikelyMatch = InferType<typeof likelyMatchAnswer>;

export const entryCheckAnswer = part({
  matches: listOf(likelyMatchAnswer),
  /** Values that stand with somebody else, of fields that should be unique. */
  clashes: listOf(
    part({
      field: text(),
      value: text(),
      rule: oneOf<UniqueRule>('no', 'warn', 'refuse'),
      contacts: listOf(
        part({
          id: whole(),
          name: text(),
        }),
      ),
      /** How many more have it, outside the remit of whoever asks. */
      elsewhere: whole(),
    }),
  ),
  /** How many more may be the same, outside the remit of whoever asks. */
  elsewhere: whole(),
  /** The day on which whoever it is was erased and is kept out since; null where nobody is. */
  erasedOn: text().nullable(),
});
export type EntryCheck = InferType<typeof entryCheckAnswer>;

/** Largest picture taken in; said beside the button before one is chosen. */
export const PICTURE_LIMIT_BYTES = 10 * 1024 * 1024;

export type PermissionChannel = 'email' | 'text' | 'call' | 'voicemail' | 'post';
export type PermissionState = 'allowed' | 'optedOut' | 'unknown';

export const permissionSchema = object({
  channel: mixed<PermissionChannel>().oneOf(['email', 'text', 'call', 'voicemail', 'post']).required(),
  state: mixed<'allowed' | 'optedOut'>().oneOf(['allowed', 'optedOut']).required(),
  how: trimmed().required('Say how it was said, such as "on the phone" or "form at the open-yard day".').max(300),
  statedAt: string().nullable().default(null),
  address: string().nullable().max(300).default(null),
});
export type PermissionRequest = InferType<typeof permissionSchema>;

export const placeAnswer = part({ at: whole() });
export const enteredAnswer = part({ contactId: whole(), runId: whole() });
/** Facts added to a contact that is here: how many were taken, and what stood there already. */
export const factsAnswer = part({ runId: whole(), filled: whole(), kept: listOf(text()) });
export const pictureAnswer = part({ hash: text() });
