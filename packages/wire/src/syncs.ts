import { array, boolean, lazy, mixed, number, object, string, type InferType } from 'yup';
import type {
  BrakeLimits,
  Capabilities,
  OutsideValue,
  PassTotals,
  Scope,
  SyncLine,
  SyncSetup,
} from '@gray-loom/core/syncing';
import type { ThreadKind } from './threads';

const name = string().trim().min(1, 'Give it a name.').max(60).required('Give it a name.');
const address = string().trim().max(500).required('Give the address of the tool.');

export const connectionTestSchema = object({
  address,
  user: string().trim().max(200).default(''),
  password: string().max(500).default(''),
  /** A connection whose kept password is used where none is typed. */
  of: number().integer().nullable().default(null),
});
export type ConnectionTestRequest = InferType<typeof connectionTestSchema>;

export const connectionSchema = object({
  name,
  address,
  user: string().trim().max(200).required('Give the name that you sign in with over there.'),
  password: string().max(500).default(''),
  /** A connection that it starts from, so that only what differs has to be changed. */
  from: number().integer().nullable().default(null),
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
    typeof value === 'object' && value !== null
      ? object(
          Object.fromEntries(Object.keys(value).map((stage) => [stage, string().trim().min(1).max(200).required()])),
        )
      : mixed().optional(),
  ),
});

const giveSchema = object({
  tags: array(string().trim().min(1).max(200).required()).max(20).required(),
  source: string().max(200).default(''),
  owner: string().max(200).default(''),
  stage: string().max(200).default(''),
});

const scopeSchema = object({
  id: string().min(1).max(40).required(),
  who: object({
    kind: string().oneOf(['everybody', 'labelThere', 'tag', 'stage', 'filter', 'byHand']).required(),
    label: string().max(200).optional(),
    tag: string().max(200).optional(),
    stage: string().max(200).optional(),
    words: string().max(500).optional(),
    filter: mixed().optional(),
  }).required(),
  give: giveSchema.required(),
});

const count = number().integer().min(0).max(1_000_000);

export const syncSetupSchema = object({
  lines: array(lineSchema).max(80).required(),
  scopes: array(scopeSchema).min(1, 'Say who takes part.').max(20).required(),
  newHere: boolean().required(),
  newThere: boolean().required(),
  whenGoneThere: string().oneOf(['keep', 'makeAgain']).required(),
  whenGoneHere: string().oneOf(['keep', 'remove']).required(),
  whenLeaving: string().oneOf(['keep', 'remove', 'takeLabelOff']).required(),
  whenMergedHere: string().oneOf(['ask', 'remove']).required(),
  limits: object({ removals: count.required(), overwrites: count.required() }).required(),
});

export const connectionChangeSchema = object({
  name: string().trim().min(1).max(60).optional(),
  user: string().trim().max(200).optional(),
  password: string().max(500).optional(),
  address: string().trim().max(500).optional(),
  setup: lazy((value: unknown) => (value === undefined ? mixed().optional() : syncSetupSchema)),
  everyMinutes: number().integer().min(1).max(10_080).nullable().optional(),
  state: string().oneOf(['on', 'paused', 'stopped']).optional(),
  /** Colour and pattern of its thread. */
  look: number().integer().min(0).max(3).optional(),
});
export interface ConnectionChange {
  name?: string;
  user?: string;
  password?: string;
  address?: string;
  setup?: SyncSetup;
  everyMinutes?: number | null;
  state?: 'on' | 'paused' | 'stopped';
  look?: number;
}

export const syncRunSchema = object({
  trial: boolean().default(false),
  /** Only these contacts: a first real run on a chosen few, or one person now. */
  only: array(number().integer().positive().required()).max(200).nullable().default(null),
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
  take: string().oneOf(['ours', 'theirs', 'both', 'typed', 'contact', 'new', 'leave', 'removeThere']).required(),
  text: string().max(2000).default(''),
  contactId: number().integer().positive().nullable().default(null),
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
  choice: string().oneOf(['send', 'never']).nullable().required(),
});
export type SyncChoiceRequest = { choice: 'send' | 'never' | null };

export interface ConnectionStepResult {
  name: string;
  ok: boolean;
  text: string;
}

export interface ConnectionTestResult {
  steps: ConnectionStepResult[];
  capabilities: Capabilities | null;
}

export interface ConnectionSummary {
  id: number;
  name: string;
  kind: 'addressBook';
  look: number;
  state: 'new' | 'on' | 'paused' | 'stopped';
  address: string;
  here: number;
  there: number | null;
  inStep: number;
  /** Questions that a person has to answer. */
  waiting: number;
  today: { madeHere: number; changedHere: number; madeThere: number; changedThere: number };
  lastRun: { id: number; state: string; at: string; error: string | null } | null;
  nextRunAt: string | null;
  running: number | null;
  trouble: string | null;
  braked: { runId: number; reasons: string[] } | null;
  needsTrial: boolean;
}

export interface ConnectionDetail extends ConnectionSummary {
  user: string;
  setup: SyncSetup;
  everyMinutes: number | null;
  capabilities: Capabilities;
  /** Address that the other side calls when something changed. */
  hook: string;
  /** What each line does, in words, by its id. */
  words: Record<string, string>;
  /** What the other side cannot hold, by line. */
  limits: Record<string, string>;
  fights: { field: string; with: string }[];
  days: { day: string; here: number; there: number }[];
  runs: {
    id: number;
    title: string;
    state: string;
    at: string;
    counts: Record<string, number>;
    trial: boolean;
    error: string | null;
  }[];
  trial: SyncTrial | null;
}

export interface SyncTrial {
  runId: number;
  at: string;
  totals: PassTotals;
  reasons: string[];
  /** Whether the set-up is still the one that was tried. */
  isCurrent: boolean;
}

export interface SyncChangeEntry {
  id: number;
  runId: number;
  connection: string;
  outsideId: string;
  contactId: number;
  name: string;
  side: 'here' | 'there';
  field: string;
  kind: string;
  before: OutsideValue[];
  after: OutsideValue[];
  at: string;
}

export interface PairLook {
  name: string;
  contactId: number | null;
  more: boolean;
  lines: {
    id: string;
    here: string[];
    there: string[];
    verdict: 'same' | 'in' | 'out' | 'both' | 'ask' | 'left';
    after: string[];
  }[];
}

export interface ConflictEntry {
  /** Of a conflict about values its number; of a question who somebody is the id of the record over there. */
  key: string;
  kind: 'value' | 'who' | 'two';
  connectionId: number;
  connection: string;
  look: number;
  contactId: number;
  name: string;
  field: string;
  line: string;
  several: boolean;
  why: string;
  ours: { text: string[]; at: string | null; thread: string | null; kind: ThreadKind };
  theirs: { text: string[]; at: string | null };
  candidates: { id: number; name: string; email: string; tel: string }[];
  at: string;
}

export interface ContactSync {
  /** Whether the connection was stopped, so that nothing can be asked of it. */
  stopped: boolean;
  connectionId: number;
  connection: string;
  look: number;
  takesPart: boolean;
  /** Why, or why not, in words. */
  why: string;
  choice: 'send' | 'never' | null;
  linkedSince: string | null;
  story: SyncChangeEntry[];
}

export type { BrakeLimits, Capabilities, OutsideValue, PassTotals, Scope, SyncLine, SyncSetup };
