import { GIVE_BY, type GiveBy } from './people';
import { anyId, id, place } from './ids';
import { part, whole, text, oneOf, core, yesNo, listOf, trimmed } from './parts';
import { array, boolean, mixed, number, object, string, type InferType, type ObjectSchema } from 'yup';
import type { FieldType, NameOrder } from '@gray-loom/core/fields';
import {
  isTransform,
  NO_COLUMN,
  RECOGNISERS,
  WHOLE_FILE,
  type ColumnGuess,
  type Mapping,
  type Recogniser,
  type Transform,
  type WholeFileSetting,
} from '@gray-loom/core/mapping';
import { ROW_KINDS, type ActivityKind } from '@gray-loom/core/activity';
import type { PermissionChannel } from './contacts';
import type { DelimitedShape } from '@gray-loom/core/formats';
import type { Issue, Value } from '@gray-loom/core/model';
import { WRITE_RULES, type WriteRule } from '@gray-loom/core/writing';

export type RowOutcome = 'new' | 'fill' | 'replace' | 'same' | 'fold' | 'held';
export const ROW_OUTCOMES: readonly RowOutcome[] = ['new', 'fill', 'replace', 'same', 'fold', 'held'];
/** Rows by outcome; of opportunities only where the file can have any. */
export type OutcomeCounts = Record<RowOutcome, number> & {
  opportunitiesNew?: number;
  opportunitiesChanged?: number;
} & Partial<Record<`activity.${ActivityKind}` | 'activitiesChanged' | 'activitiesSame', number>>;
export type IntakeState = 'read' | 'trying' | 'tried' | 'committing' | 'done' | 'stopped';

const columnSchema = object({
  column: number().integer().min(NO_COLUMN).max(16_384).required(),
  header: string().nullable().default(null),
  target: string().nullable().default(null).max(60),
  label: string().nullable().default(null).max(40),
  labelFrom: number().integer().min(0).max(2100),
  nth: number().integer().min(0).max(500),
  dateOrder: mixed<'iso' | 'dayFirst' | 'monthFirst' | 'serial'>()
    .oneOf(['iso', 'dayFirst', 'monthFirst', 'serial'])
    .required(),
  nameOrder: mixed<NameOrder>().oneOf(['givenFirst', 'familyFirst', 'twoFamilies']),
  letterTitles: string().matches(/^[a-z]{0,5}$/, 'Letters that are titles are small letters from a to z.'),
  wholeAddress: boolean(),
  decimal: mixed<'.' | ','>().oneOf(['.', ',']).required(),
  separator: string().nullable().default(null).max(2),
  newField: object({
    name: trimmed().required('Give the new field a name.').max(60),
    type: mixed<FieldType>().oneOf(['text', 'longText', 'number', 'date', 'yesNo', 'choice']).required(),
    choices: array(string().required().max(200)).max(200).default([]),
    /** Made although something of nearly the same name is here. */
    despite: boolean(),
  })
    .nullable()
    .default(null),
  rule: mixed<WriteRule>().oneOf([...WRITE_RULES]),
  transforms: array(
    mixed<Transform>((value): value is Transform => isTransform(value)).required(
      'A step of a column is not as it should be.',
    ),
  ).max(20),
  onBad: mixed<'hold' | 'drop'>().oneOf(['hold', 'drop']).required(),
});

const consentSchema = object({
  channels: array(mixed<PermissionChannel>().oneOf(['email', 'text', 'call', 'voicemail', 'post']).required())
    .required()
    .min(1, 'Say which channels the people of this list allow.'),
  how: trimmed().required('Say how the permission was obtained, such as "ticked on the sign-up sheet".').max(300),
  statedAt: string()
    .required('Say on which day the permission was obtained.')
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Say on which day the permission was obtained.')
    .test('past', 'The permission was obtained on a day that has been.', (day) => new Date(day) <= new Date()),
  by: trimmed().required('Say who obtained the permission.').max(120),
  textShown: trimmed().default('').max(1000),
  lastTouch: trimmed().required('Say how recently these people were last in touch.').max(120),
  hadFrom: trimmed().default('').max(120),
});

export const mappingSchema: ObjectSchema<Mapping> = object({
  columns: array(columnSchema.required()).required().max(2100),
  wholeFile: object({
    tags: array(trimmed().required().max(80)).required().max(20),
    source: trimmed().nullable().default(null).max(80),
    stage: trimmed().nullable().default(null).max(80),
    owner: trimmed().nullable().default(null).max(80),
    consent: consentSchema.nullable().default(null),
    give: mixed<GiveBy>()
      .oneOf([...GIVE_BY])
      .optional(),
    segment: trimmed().max(80).optional(),
  }).required(),
  allowNew: boolean().required(),
  allowChange: boolean().required(),
  writeRule: mixed<WriteRule>()
    .oneOf([...WRITE_RULES])
    .required(),
  opportunities: object({ allowNew: boolean().required(), allowChange: boolean().required() })
    .default(undefined)
    .optional(),
  activityKind: mixed<ActivityKind>()
    .oneOf([...ROW_KINDS])
    .optional(),
  changedColumn: place().nullable().default(null),
  numberColumn: number().integer().min(0).max(10_000).optional(),
  recognise: array(
    mixed<Recogniser>()
      .oneOf([...RECOGNISERS])
      .required(),
  ).required(),
  country: string()
    .required()
    .matches(/^[A-Z]{2}$/),
});

export const rereadSchema = object({
  encoding: string().max(30).nullable().default(null),
  delimiter: string().max(2).nullable().default(null),
  headerRow: number().integer().min(0).max(50).nullable().default(null),
});
export type Reread = InferType<typeof rereadSchema>;

export const intakeSummaryAnswer = part({
  id: whole(),
  name: text(),
  bytes: whole(),
  state: oneOf<IntakeState>('done', 'stopped', 'read', 'trying', 'tried', 'committing'),
  rowCount: whole(),
  columnCount: whole(),
  createdAt: text(),
  importRun: whole().nullable(),
  counts: core<Partial<OutcomeCounts>>(),
  held: whole(),
  undone: yesNo(),
});
export type IntakeSummary = InferType<typeof intakeSummaryAnswer>;

export const intakeDetailAnswer = intakeSummaryAnswer.shape({
  shape: core<DelimitedShape>(),
  guesses: listOf(core<ColumnGuess>()),
  mapping: core<Mapping>(),
  issues: listOf(
    part({
      issue: core<Issue>(),
      text: text(),
    }),
  ),
  /** The saved mapping it is read by, and in what it differs from the last file of its layout. */
  readAs: part({
    savedId: whole().nullable(),
    name: text(),
    usedAt: text(),
    rows: whole(),
    added: listOf(text()),
    missing: listOf(text()),
    lost: listOf(text()),
    doubtful: listOf(text()),
    /** What columns meant then, by their place. */
    meant: core<Record<number, string | null>>().optional(),
  }).nullable(),
  trialRun: whole().nullable(),
  trialCounts: core<OutcomeCounts>().nullable(),
  /** Whether the mapping changed since the trial. */
  trialStale: yesNo(),
  /** Rows that people said something of by hand, in all and since the trial began. */
  chosen: whole(),
  /** The import whose held rows it brings back. */
  mends: whole().nullable(),
  /** What is odd about the file as a whole, found by the trial. */
  warnings: listOf(text()),
  chosenSinceTrial: whole(),
});
export type IntakeDetail = InferType<typeof intakeDetailAnswer>;

export const savedMappingAnswer = part({
  id: whole(),
  name: text(),
  used: whole(),
  usedAt: text(),
  /** Rows of the last file. */
  rows: whole(),
  /** What every row of the last file got, and every row of the next one will. */
  settings: listOf(core<WholeFileSetting>()),
  columns: listOf(
    part({
      header: text().nullable(),
      meaning: text().nullable(),
      label: text().nullable(),
    }),
  ),
});
export type SavedMapping = InferType<typeof savedMappingAnswer>;

/** Another name, or one of the settings of the whole file that the next one is not to get. */
export const mappingChangeSchema = object({
  name: trimmed().min(1, 'Give it a name.').max(120, 'A name has at most 120 characters.'),
  without: object({
    what: mixed<WholeFileSetting['what']>().oneOf(WHOLE_FILE).required(),
    value: string().required().max(200),
  })
    .default(undefined)
    .optional(),
});
export type MappingChange = InferType<typeof mappingChangeSchema>;

export const previewCellAnswer = part({
  raw: text(),
  shown: text(),
  issues: listOf(
    part({
      text: text(),
      holds: yesNo(),
    }),
  ),
});
export type PreviewCell = InferType<typeof previewCellAnswer>;

export const previewRowAnswer = part({
  row: whole(),
  cells: listOf(previewCellAnswer),
  problem: text().nullable(),
});
export type PreviewRow = InferType<typeof previewRowAnswer>;

export const mappingPreviewAnswer = part({
  /** Rows looked at for the counts; all rows, or the first thousands of a long file. */
  looked: whole(),
  columns: listOf(
    part({
      filled: whole(),
      failing: whole(),
    }),
  ),
  rows: listOf(previewRowAnswer),
});
export type MappingPreview = InferType<typeof mappingPreviewAnswer>;

/** Somebody whom a row may be. */
export const rowFitAnswer = part({
  contactId: whole(),
  name: text(),
  /** Mailbox, number and organization, which tell people of one name apart. */
  about: text(),
  /** Whether it was deleted, and would be brought back. */
  deleted: yesNo(),
});
export type RowFit = InferType<typeof rowFitAnswer>;

export const trialRowAnswer = part({
  row: whole(),
  outcome: oneOf<RowOutcome>('new', 'fill', 'replace', 'same', 'fold', 'held'),
  cells: listOf(text()),
  issues: listOf(text()),
  contactId: whole().nullable(),
  contactName: text().nullable(),
  /** Contacts that the row may be, where that is why it is held. */
  fits: listOf(rowFitAnswer),
  /** Held because it is not clear who it is, which a person can say; not because of what stands in a cell. */
  unclear: yesNo(),
  /** Held because the file says otherwise and somebody wanted to be asked. */
  asks: yesNo(),
  byHand: core<RowChoice>('any').nullable(),
  changes: listOf(
    part({
      field: text(),
      name: text(),
      before: core<Value>().nullable(),
      after: core<Value>().nullable(),
    }),
  ),
  /** For a new contact, what it will hold. */
  values: listOf(
    part({
      name: text(),
      text: text(),
    }),
  ),
});
export type TrialRow = InferType<typeof trialRowAnswer>;

/**
 * A person's word on a row: keep it out, it is somebody new, or it is this contact, and what stands otherwise there is taken or kept;
 * `back` brings that one back where it was deleted.
 */
export type RowChoice = 'hold' | 'new' | { contactId: number; asked: 'take' | 'keep'; back?: boolean };

export const rowChoiceSchema = object({
  choice: mixed<RowChoice>((value): value is RowChoice => {
    if (value === 'hold' || value === 'new') return true;
    const { contactId, asked, back } = (value ?? {}) as { contactId?: unknown; asked?: unknown; back?: unknown };
    if (back !== undefined && typeof back !== 'boolean') return false;
    return Number.isInteger(contactId) && (asked === 'take' || asked === 'keep');
  })
    .nullable()
    .defined('Say what is to become of the row.'),
});

export const heldRowAnswer = part({
  runId: whole(),
  row: whole(),
  fileName: text(),
  intakeId: whole(),
  headers: listOf(text().nullable()),
  cells: listOf(text()),
  issues: listOf(
    part({
      text: text(),
      column: whole().nullable(),
    }),
  ),
  /** Contacts the row may be, where that is why it is held. */
  fits: listOf(rowFitAnswer),
  /** The contact whose values stand otherwise, where a person is to be asked. */
  asks: whole().nullable(),
  /** The cells for each of two people, where the row names two. */
  two: core<[string[], string[]]>('any').nullable(),
  /** The cells as they are most likely meant, where what is wrong tells that. */
  meant: listOf(text()).nullable(),
});
export type HeldRow = InferType<typeof heldRowAnswer>;

/** What a cell of a held row becomes, what is wrong with it, and what it may say where that is one of a few. */
export const mendPreviewAnswer = part({
  shown: text(),
  issue: text().nullable(),
  answers: listOf(text()),
});
export type MendPreview = InferType<typeof mendPreviewAnswer>;

/** Held rows to be let in as they are most likely meant. */
export const mendMeantSchema = object({
  rows: array(id()).required().min(1).max(20_000),
});

/** One value for another in every held row that has it. */
export const mendAlikeSchema = object({
  column: number().integer().min(0).max(2000).required(),
  from: string().defined().max(20_000),
  to: string().defined().max(20_000),
});

/** A held row as the rows of the two people it names. */
export const mendTwoSchema = object({
  people: array(array(string().defined().max(20_000)).required().max(500))
    .required()
    .length(2),
});

export const mendSchema = object({
  cells: array(string().defined().max(20_000)).required().max(500),
  /** Who the row is, by a person's word: to be checked as usual, somebody new, or the contact of this id. */
  as: mixed<'check' | 'new' | number>()
    .test(
      'as',
      'Say check, new, or the id of a contact.',
      (value) => value === 'check' || value === 'new' || Number.isInteger(value),
    )
    .default('check'),
  /** Where the row is somebody who is here: whether what stands otherwise there is taken from the row or kept. */
  asked: mixed<'take' | 'keep'>().oneOf(['take', 'keep']).default('keep'),
});

export const previewSchema = object({
  from: number().integer().min(0).max(2_147_483_647).default(0),
  count: number().integer().min(1).max(200).default(50),
  failing: number().integer().min(0).max(2100),
});
export const trialRowsSchema = object({
  outcome: mixed<RowOutcome>()
    .oneOf([...ROW_OUTCOMES])
    .required(),
  limit: number().integer().min(1).max(20_000).default(200),
});
export const heldRowsSchema = object({ run: anyId(), limit: number().integer().min(1).max(20_000).default(500) });
/** `more` are rows that say more of people who came in with other rows, by import; `kind` is what they are likely entries of. */
export const heldListAnswer = part({
  rows: listOf(heldRowAnswer),
  total: whole(),
  more: listOf(part({ runId: whole(), fileName: text(), count: whole(), kind: text() })),
});
export const letInAsEntriesSchema = object({
  kind: mixed<ActivityKind>()
    .oneOf([...ROW_KINDS], 'There is no such kind of activity.')
    .required('Say what the rows tell of.'),
});
export type HeldList = InferType<typeof heldListAnswer>;
export const letInAnswer = part({ runId: whole(), contactId: whole() });
export const letInTwoAnswer = part({ runId: whole(), contactIds: listOf(whole()) });
/** How many rows came in, and how many stay held. */
export const letInManyAnswer = part({
  letIn: whole(),
  held: whole(),
  /** The run that let them in, to be taken back as one; null where none came in. */
  runId: whole().nullable(),
});
