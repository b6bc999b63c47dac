import { anyId, id, place } from './ids';
import type { Condition } from '@gray-loom/core/segments';
import { part, text, yesNo, listOf, core, whole, oneOf, recordOf, trimmed } from './parts';
import { array, boolean, lazy, mixed, number, object, string, type InferType } from 'yup';
import {
  BY_HAND,
  NEW_FIELD_TYPES,
  type BrakeLimits,
  type Capabilities,
  type NewOutsideField,
  type OutsideValue,
  type PassTotals,
  type Scope,
  type SyncLine,
  type SyncSetup,
} from '@gray-loom/core/syncing';
import type { ThreadKind } from './threads';

const name = trimmed().min(1, 'Give it a name.').max(60).required('Give it a name.');

/** Kinds of outside tools that can be connected. */
export const CONNECTOR_KINDS = ['addressBook', 'dialer', 'mailer'] as const;
export type ConnectorKind = (typeof CONNECTOR_KINDS)[number];
const kind = () =>
  mixed<ConnectorKind>().oneOf(CONNECTOR_KINDS, 'There is no such kind of tool.').default('addressBook');

/** Something that a kind of tool has to be told to be reached: an address, a text, or a secret, which is kept encrypted and never told. */
const settingAnswer = part({
  key: text(),
  label: text(),
  kind: oneOf('address', 'text', 'secret'),
  placeholder: text(),
});
/** A kind of tool, and what connecting it takes. */
export const connectorAnswer = part({
  kind: oneOf<ConnectorKind>(...CONNECTOR_KINDS),
  name: text(),
  intro: text(),
  settings: listOf(settingAnswer),
});
export type ConnectorOffer = InferType<typeof connectorAnswer>;

/** What was typed for the settings of a kind of tool, by their keys; what is left out, or blank and secret, stays as it is kept. */
const settings = () =>
  mixed<Record<string, string>>(
    (value): value is Record<string, string> =>
      typeof value === 'object' &&
      value !== null &&
      !Array.isArray(value) &&
      Object.keys(value).length <= 20 &&
      Object.values(value).every((one) => typeof one === 'string' && one.length <= 2000),
  );

export const connectionTestSchema = object({
  kind: kind(),
  settings: settings().required('Say where the tool is, and how it is signed in to.'),
  /** A connection whose kept settings are used where none are typed. */
  of: anyId().nullable().default(null),
});
export type ConnectionTestRequest = InferType<typeof connectionTestSchema>;

/** Stand-ins for outside tools that run beside the app. */
export const standInAnswer = part({ kind: oneOf<ConnectorKind>(...CONNECTOR_KINDS), settings: recordOf(text()) });
export type StandInOffer = InferType<typeof standInAnswer>;

export const connectionSchema = object({
  kind: kind(),
  name,
  settings: settings().required('Say where the tool is, and how it is signed in to.'),
  /** A connection that it starts from, so that only what differs has to be changed. */
  from: anyId().nullable().default(null),
  /** Connects although another connection has the same book. */
  despite: boolean().default(false),
});
export type ConnectionRequest = InferType<typeof connectionSchema>;

const RULES = ['replace', 'fill', 'newest', 'ask'] as const;
const lineSchema = object({
  id: string().min(1).max(40).required(),
  field: string().max(60).default(''),
  outside: string().min(1).max(60).required('Choose the field over there.'),
  direction: string().oneOf(['in', 'out', 'both']).required(),
  rule: string().oneOf(RULES).required(),
  wins: string().oneOf(['here', 'there']).optional(),
  fixed: string().max(500).optional(),
  stageLabels: lazy((value: unknown) =>
    value === undefined
      ? mixed().optional()
      : object(
          Object.fromEntries(
            Object.keys(Object(value) as object).map((stage) => [stage, trimmed().min(1).max(200).required()]),
          ),
        ),
  ),
  formerLabels: lazy((value: unknown) =>
    value === undefined
      ? mixed().optional()
      : object(
          Object.fromEntries(
            Object.keys(Object(value) as object).map((label) => [label, trimmed().min(1).max(200).required()]),
          ),
        ),
  ),
});

const giveSchema = object({
  tags: array(trimmed().min(1).max(200).required()).max(20).required(),
  source: string().max(200).default(''),
  owner: string().max(200).default(''),
  stage: string().max(200).default(''),
});

const scopeSchema = object({
  id: string().min(1).max(40).required(),
  who: object({
    kind: string().oneOf(['everybody', 'labelThere', 'condition', 'byHand']).required(),
    label: string().max(200).optional(),
    words: string().max(1000).optional(),
    condition: mixed<Condition>().optional(),
  }).required(),
  andSent: boolean().optional(),
  give: giveSchema.required(),
  rule: string().oneOf(['ask', 'newest', 'replace', 'fill']).optional(),
});

const count = number().integer().min(0).max(1_000_000);

const listLineSchema = object({
  id: string().min(1).max(40).required(),
  direction: string().oneOf(['in', 'out']).required(),
  segment: number().integer().min(0).default(0),
  tag: trimmed().max(200).default(''),
  label: trimmed().min(1, 'Name the list over there.').max(200).required('Name the list over there.'),
  byHand: string()
    .oneOf([...BY_HAND])
    .default('ask'),
});

/** Lists that one connection keeps, or takes tags from. */
export const MOST_LISTS = 200;

export const syncSetupSchema = object({
  lines: array(lineSchema).max(80).required(),
  lists: lazy((value: unknown) =>
    value === undefined ? mixed().optional() : array(listLineSchema).max(MOST_LISTS).required(),
  ),
  scopes: array(scopeSchema).min(1, 'Say who takes part.').max(20).required(),
  newHere: boolean().required(),
  newThere: boolean().required(),
  whenGoneThere: string().oneOf(['keep', 'makeAgain']).required(),
  whenGoneHere: string().oneOf(['keep', 'remove']).required(),
  whenLeaving: string().oneOf(['keep', 'remove', 'takeLabelOff']).required(),
  whenMergedHere: string().oneOf(['ask', 'remove']).required(),
  whoShares: string().oneOf(['first', 'ask']).optional(),
  limits: object({ removals: count.required(), overwrites: count.required() }).required(),
});

export const connectionChangeSchema = object({
  name: trimmed().min(1).max(60).optional(),
  settings: settings().optional(),
  setup: lazy((value: unknown) => (value === undefined ? mixed().optional() : syncSetupSchema)),
  everyMinutes: number().integer().min(1).max(10_080).nullable().optional(),
  state: string().oneOf(['on', 'paused', 'stopped']).optional(),
  /** Colour and pattern of its thread. */
  look: number().integer().min(0).max(3).optional(),
});
export interface ConnectionChange {
  name?: string;
  settings?: Record<string, string>;
  setup?: SyncSetup;
  everyMinutes?: number | null;
  state?: 'on' | 'paused' | 'stopped';
  look?: number;
}

export const outsideFieldSchema = object({
  name: trimmed().min(1).max(50).required(),
  type: string()
    .oneOf([...NEW_FIELD_TYPES])
    .required(),
  options: array(trimmed().min(1).max(60).required()).max(100).default([]),
});
export type OutsideFieldRequest = NewOutsideField;

/** The key of a field that was made over there. */
export const outsideFieldAnswer = part({ key: text(), name: text() });
export type OutsideFieldMade = InferType<typeof outsideFieldAnswer>;

export const syncRunSchema = object({
  trial: boolean().default(false),
  /** Only these contacts: a first real run on a chosen few, or one person now. */
  only: array(id()).max(200).nullable().default(null),
  /** And these records over there, by their ids. */
  onlyThere: array(string().max(500).required()).max(200).default([]),
});
export type SyncRunRequest = InferType<typeof syncRunSchema>;

export const pairSchema = object({
  lines: array(lineSchema).max(80).required(),
  /** How many pairs to pass over, to look at another one. */
  nth: number().integer().min(0).max(10_000).default(0),
});
export interface PairRequest {
  lines: SyncLine[];
  nth: number;
}

export const settleSchema = object({
  take: string()
    .oneOf(['ours', 'theirs', 'both', 'typed', 'contact', 'new', 'leave', 'removeThere', 'bringBack'])
    .required(),
  text: string().max(2000).default(''),
  contactId: anyId().nullable().default(null),
  /** Makes it the rule of this field from now on. */
  always: boolean().default(false),
  /** Both values as they were shown; if they are not any more, nothing is settled. */
  saw: object({
    ours: array(string().defined()).defined(),
    theirs: array(string().defined()).defined(),
  })
    .nullable()
    .default(null),
});
export type SettleRequest = InferType<typeof settleSchema>;

export const syncChoiceSchema = object({
  choice: string().oneOf(['send', 'never']).nullable().defined(),
});
export type SyncChoiceRequest = { choice: 'send' | 'never' | null };

export const connectionStepResultAnswer = part({
  name: text(),
  ok: yesNo(),
  text: text(),
});
export type ConnectionStepResult = InferType<typeof connectionStepResultAnswer>;

export const connectionTestResultAnswer = part({
  steps: listOf(connectionStepResultAnswer),
  capabilities: core<Capabilities>().nullable(),
});
export type ConnectionTestResult = InferType<typeof connectionTestResultAnswer>;

const oneWay = part({ made: whole(), changed: whole(), removed: whole() });
const crossedAnswer = part({ here: oneWay, there: oneWay });
export type Crossed = InferType<typeof crossedAnswer>;
export type Span = 'day' | 'week' | 'month';

export const connectionSummaryAnswer = part({
  id: whole(),
  name: text(),
  kind: oneOf<ConnectorKind>(...CONNECTOR_KINDS),
  look: whole(),
  state: oneOf('new', 'on', 'paused', 'stopped'),
  address: text(),
  here: whole(),
  there: whole().nullable(),
  inStep: whole(),
  /** Questions that a person has to answer. */
  waiting: whole(),
  /** Records of ours that are still to be written over there, or were not taken. */
  unsent: whole(),
  /** What went each way since the day, the week or the month began. */
  crossed: part({ day: crossedAnswer, week: crossedAnswer, month: crossedAnswer }),
  lastRun: part({
    id: whole(),
    state: text(),
    at: text(),
    error: text().nullable(),
  }).nullable(),
  nextRunAt: text().nullable(),
  running: whole().nullable(),
  trouble: text().nullable(),
  braked: part({
    runId: whole(),
    reasons: listOf(text()),
  }).nullable(),
  needsTrial: yesNo(),
});
export type ConnectionSummary = InferType<typeof connectionSummaryAnswer>;

export const syncTrialAnswer = part({
  runId: whole(),
  at: text(),
  totals: core<PassTotals>(),
  reasons: listOf(text()),
  /** Whether the set-up is still the one that was tried. */
  isCurrent: yesNo(),
});
export type SyncTrial = InferType<typeof syncTrialAnswer>;

export const connectionDetailAnswer = connectionSummaryAnswer.shape({
  /** What it was told to be reached, without its secrets. */
  settings: recordOf(text()),
  setup: core<SyncSetup>(),
  everyMinutes: whole().nullable(),
  capabilities: core<Capabilities>(),
  /** Address that the other side calls when something changed. */
  hook: text(),
  /** What each line does, in words, by its id. */
  words: recordOf(text()),
  /** What the other side cannot hold, by line. */
  limits: recordOf(text()),
  fights: listOf(
    part({
      field: text(),
      with: text(),
    }),
  ),
  days: listOf(
    part({
      day: text(),
      here: whole(),
      there: whole(),
    }),
  ),
  runs: listOf(
    part({
      id: whole(),
      title: text(),
      state: text(),
      at: text(),
      counts: recordOf(whole()),
      trial: yesNo(),
      error: text().nullable(),
    }),
  ),
  trial: syncTrialAnswer.nullable(),
  /** Records that the other side did not take, and records there that cannot be read, with the reason. */
  notTaken: part({
    total: whole(),
    records: listOf(
      part({
        outsideId: text(),
        contactId: whole(),
        name: text(),
        why: text(),
        isUnreadable: yesNo(),
      }),
    ),
  }),
  /** Records there of people who were erased here, by their ids: they are not taken in. */
  keptOut: listOf(text()),
});
export type ConnectionDetail = InferType<typeof connectionDetailAnswer>;

/** How a list over there and what keeps it here stand to each other. */
export const listStandingAnswer = part({
  id: text(),
  direction: oneOf('in', 'out'),
  /** The segment, or the tag. */
  name: text(),
  segment: whole(),
  label: text(),
  /** Whether there is such a list over there. */
  isThere: yesNo(),
  here: whole(),
  there: whole(),
  /** Of those here, who has no record over there. */
  notLinked: whole(),
  /** Who is in one of both only, though they have a record over there; and of them, about whom a person is asked. */
  differs: whole(),
  asked: whole(),
  lastAt: text().nullable(),
});
export type ListStanding = InferType<typeof listStandingAnswer>;

const sharer = () => part({ contactId: whole(), name: text() });

/** Addresses over there that several people share, the first of them: who has the record, and who has not. */
export const sharedPlacesAnswer = part({
  total: whole(),
  places: listOf(
    part({
      place: text(),
      holder: sharer().nullable(),
      /** A person is asked who is there. */ asked: yesNo(),
      waiting: listOf(sharer()),
    }),
  ),
});
export type SharedPlaces = InferType<typeof sharedPlacesAnswer>;

export const sharerSchema = object({ place: string().min(1).max(500).required(), contactId: id() });

/** Who is on one side only, the first of them. */
export const listDifferenceAnswer = part({
  contactId: whole(),
  name: text(),
  why: oneOf('notLinked', 'onlyHere', 'onlyThere'),
});
export type ListDifference = InferType<typeof listDifferenceAnswer>;

export const syncChangeEntryAnswer = part({
  id: whole(),
  runId: whole(),
  connection: text(),
  outsideId: text(),
  contactId: whole(),
  name: text(),
  side: oneOf('here', 'there'),
  field: text(),
  kind: text(),
  before: listOf(core<OutsideValue>()),
  after: listOf(core<OutsideValue>()),
  at: text(),
});
export type SyncChangeEntry = InferType<typeof syncChangeEntryAnswer>;

export const pairLookAnswer = part({
  name: text(),
  contactId: whole().nullable(),
  more: yesNo(),
  lines: listOf(
    part({
      id: text(),
      here: listOf(text()),
      there: listOf(text()),
      verdict: oneOf('same', 'in', 'out', 'both', 'ask', 'left'),
      after: listOf(text()),
    }),
  ),
});
export type PairLook = InferType<typeof pairLookAnswer>;

export const conflictEntryAnswer = part({
  /** Of a conflict about values its number; of a question who somebody is the id of the record over there. */
  key: text(),
  kind: oneOf('value', 'who', 'two', 'removal', 'list'),
  connectionId: whole(),
  connection: text(),
  look: whole(),
  /** What kind of tool it is. */
  tool: oneOf<ConnectorKind>(...CONNECTOR_KINDS),
  contactId: whole(),
  name: text(),
  field: text(),
  line: text(),
  several: yesNo(),
  why: text(),
  ours: part({
    text: listOf(text()),
    at: text().nullable(),
    thread: text().nullable(),
    kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
  }),
  theirs: part({
    text: listOf(text()),
    at: text().nullable(),
  }),
  candidates: listOf(
    part({
      id: whole(),
      name: text(),
      email: text(),
      tel: text(),
    }),
  ),
  /** Of a record beside another one of its contact: such records in other tools, for which one answer holds as well. */
  also: listOf(
    part({ connection: text(), look: whole(), tool: oneOf<ConnectorKind>(...CONNECTOR_KINDS), text: listOf(text()) }),
  ),
  at: text(),
});
export type ConflictEntry = InferType<typeof conflictEntryAnswer>;

export const conflictListAnswer = part({
  entries: listOf(conflictEntryAnswer),
  /** Of all that are open, also those beyond the ones given. */
  total: whole(),
  /** Questions who somebody is that can be answered together: by connection, and by how sure the likeliest is. */
  together: listOf(
    part({
      connectionId: whole(),
      connection: text(),
      look: whole(),
      tool: oneOf<ConnectorKind>(...CONNECTOR_KINDS),
      band: oneOf('certain', 'likely'),
      count: whole(),
    }),
  ),
});
export type ConflictList = InferType<typeof conflictListAnswer>;
export const conflictsSchema = object({ limit: number().integer().min(1).max(5000).default(300) });

const band = string().oneOf(['certain', 'likely']).required();
export const whoBandSchema = object({ band });
export const whoTogetherSchema = object({
  band,
  /** How many were said to be settled; where it is another number by now, nothing is settled. */
  saw: number().integer().min(1).required(),
});
export const whoSampleAnswer = part({
  /** Questions that are settled in one go, and those that have to be looked at one by one. */
  count: whole(),
  left: whole(),
  /** A few of them, spread over all. */
  sample: listOf(conflictEntryAnswer),
});
export type WhoSample = InferType<typeof whoSampleAnswer>;
export const whoSettledAnswer = part({ settled: whole(), left: whole() });

export const contactSyncAnswer = part({
  /** Whether the connection was stopped, so that nothing can be asked of it. */
  stopped: yesNo(),
  connectionId: whole(),
  connection: text(),
  look: whole(),
  tool: oneOf<ConnectorKind>(...CONNECTOR_KINDS),
  takesPart: yesNo(),
  /** Why, or why not, in words. */
  why: text(),
  choice: oneOf('send', 'never').nullable(),
  /** Id of the record over there; null where there is none. */
  outsideId: text().nullable(),
  linkedSince: text().nullable(),
  /** Whether the contact can be put at the head of those whom the tool calls. */
  canCallNext: yesNo(),
  story: listOf(syncChangeEntryAnswer),
});
export type ContactSync = InferType<typeof contactSyncAnswer>;

export type { BrakeLimits, Capabilities, OutsideValue, PassTotals, Scope, SyncLine, SyncSetup };

export const syncChangesSchema = object({
  after: place().default(0),
  limit: number().integer().min(1).max(500).default(100),
  side: string().oneOf(['', 'here', 'there']).default(''),
  kind: string().max(20).default(''),
  /** Changes only: values that are written and records that are made or removed, without what is only noted. */
  changes: boolean().default(false),
});
export const syncChangesAnswer = part({ changes: listOf(syncChangeEntryAnswer), total: whole() });
export const settledAnswer = part({ settled: yesNo() });
export const heardAnswer = part({ heard: yesNo() });
