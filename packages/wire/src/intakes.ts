import { array, boolean, mixed, number, object, string, type InferType, type ObjectSchema } from 'yup';
import type { FieldType, NameOrder } from '@gray-loom/core/fields';
import { RECOGNISERS } from '@gray-loom/core/mapping';
import {
  isTransform,
  NO_COLUMN,
  type ColumnGuess,
  type Mapping,
  type Recogniser,
  type Transform,
} from '@gray-loom/core/mapping';
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
};
export type IntakeState = 'read' | 'trying' | 'tried' | 'committing' | 'done' | 'stopped';

const columnSchema = object({
  column: number().integer().min(NO_COLUMN).required(),
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
    name: string().trim().required('Give the new field a name.').max(60),
    type: mixed<FieldType>().oneOf(['text', 'longText', 'number', 'date', 'yesNo', 'choice']).required(),
    choices: array(string().required().max(200)).max(200).default([]),
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
  how: string().trim().required('Say how the permission was obtained, such as "ticked on the sign-up sheet".').max(300),
  statedAt: string()
    .required('Say on which day the permission was obtained.')
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Say on which day the permission was obtained.')
    .test('past', 'The permission was obtained on a day that has been.', (day) => new Date(day) <= new Date()),
  by: string().trim().required('Say who obtained the permission.').max(120),
  textShown: string().trim().default('').max(1000),
  lastTouch: string().trim().required('Say how recently these people were last in touch.').max(120),
  hadFrom: string().trim().default('').max(120),
});

export const mappingSchema: ObjectSchema<Mapping> = object({
  columns: array(columnSchema.required()).required().max(2100),
  wholeFile: object({
    tags: array(string().trim().required().max(80)).required().max(20),
    source: string().trim().nullable().default(null).max(80),
    stage: string().trim().nullable().default(null).max(80),
    owner: string().trim().nullable().default(null).max(80),
    consent: consentSchema.nullable().default(null),
  }).required(),
  allowNew: boolean().required(),
  allowChange: boolean().required(),
  writeRule: mixed<WriteRule>()
    .oneOf([...WRITE_RULES])
    .required(),
  opportunities: object({ allowNew: boolean().required(), allowChange: boolean().required() })
    .default(undefined)
    .optional(),
  changedColumn: number().integer().min(0).nullable().default(null),
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

export interface IntakeSummary {
  id: number;
  name: string;
  bytes: number;
  state: IntakeState;
  rowCount: number;
  columnCount: number;
  createdAt: string;
  importRun: number | null;
  counts: Partial<OutcomeCounts>;
  held: number;
  undone: boolean;
}

export interface IntakeDetail extends IntakeSummary {
  shape: DelimitedShape;
  guesses: ColumnGuess[];
  mapping: Mapping;
  issues: { issue: Issue; text: string }[];
  /** The saved mapping it is read by, and in what it differs from the last file of its layout. */
  readAs: {
    name: string;
    usedAt: string;
    rows: number;
    added: string[];
    missing: string[];
    lost: string[];
    doubtful: string[];
  } | null;
  trialRun: number | null;
  trialCounts: OutcomeCounts | null;
  /** Whether the mapping changed since the trial. */
  trialStale: boolean;
  /** Rows that people said something of by hand, in all and since the trial began. */
  chosen: number;
  /** The import whose held rows it brings back. */
  mends: number | null;
  /** What is odd about the file as a whole, found by the trial. */
  warnings: string[];
  chosenSinceTrial: number;
}

export interface SavedMapping {
  id: number;
  name: string;
  used: number;
  usedAt: string;
  /** Rows of the last file. */
  rows: number;
  columns: { header: string | null; meaning: string | null; label: string | null }[];
}

export const mappingNameSchema = object({
  name: string().trim().required('Give it a name.').max(120, 'A name has at most 120 characters.'),
});

export interface PreviewCell {
  raw: string;
  shown: string;
  issues: { text: string; holds: boolean }[];
}

export interface PreviewRow {
  row: number;
  cells: PreviewCell[];
  problem: string | null;
}

export interface MappingPreview {
  /** Rows looked at for the counts; all rows, or the first thousands of a long file. */
  looked: number;
  columns: { filled: number; failing: number }[];
  rows: PreviewRow[];
}

/** Somebody whom a row may be. */
export interface RowFit {
  contactId: number;
  name: string;
  /** Mailbox, number and organization, which tell people of one name apart. */
  about: string;
}

export interface TrialRow {
  row: number;
  outcome: RowOutcome;
  cells: string[];
  issues: string[];
  contactId: number | null;
  contactName: string | null;
  /** Contacts that the row may be, where that is why it is held. */
  fits: RowFit[];
  /** Held because it is not clear who it is, which a person can say; not because of what stands in a cell. */
  unclear: boolean;
  /** Held because the file says otherwise and somebody wanted to be asked. */
  asks: boolean;
  byHand: RowChoice | null;
  changes: { field: string; name: string; before: Value | null; after: Value | null }[];
  /** For a new contact, what it will hold. */
  values: { name: string; text: string }[];
}

/** A person's word on a row: keep it out, it is somebody new, or it is this contact, and what stands otherwise there is taken or kept. */
export type RowChoice = 'hold' | 'new' | { contactId: number; asked: 'take' | 'keep' };

export const rowChoiceSchema = object({
  choice: mixed<RowChoice>((value): value is RowChoice => {
    if (value === 'hold' || value === 'new') return true;
    const { contactId, asked } = (value ?? {}) as { contactId?: unknown; asked?: unknown };
    return Number.isInteger(contactId) && (asked === 'take' || asked === 'keep');
  })
    .nullable()
    .defined('Say what is to become of the row.'),
});

export interface HeldRow {
  runId: number;
  row: number;
  fileName: string;
  intakeId: number;
  headers: (string | null)[];
  cells: string[];
  issues: { text: string; column: number | null }[];
  /** Contacts the row may be, where that is why it is held. */
  fits: RowFit[];
  /** The contact whose values stand otherwise, where a person is to be asked. */
  asks: number | null;
  /** The cells for each of two people, where the row names two. */
  two: [string[], string[]] | null;
  /** The cells as they are most likely meant, where what is wrong tells that. */
  meant: string[] | null;
}

/** What a cell of a held row becomes, what is wrong with it, and what it may say where that is one of a few. */
export interface MendPreview {
  shown: string;
  issue: string | null;
  answers: string[];
}

/** Held rows to be let in as they are most likely meant. */
export const mendMeantSchema = object({
  rows: array(number().integer().positive().required()).required().min(1).max(500),
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
