import { array, lazy, mixed, number, object, string, type InferType } from 'yup';
import { COMPARED, type ComparedField, type PairHistogram } from '@gray-loom/core/matching';
import { SURVIVOR_RULES, type SurvivorRule } from '@gray-loom/core/merging';
import type { Value } from '@gray-loom/core/model';
import type { RunThread, ThreadKind } from './threads';
import type { WeekCount } from './worklist';

export type GroupState = 'open' | 'later' | 'merged' | 'apart' | 'gone';
export type GroupBand = 'certain' | 'likely' | 'possible';

export interface GroupSummary {
  id: number;
  kind: 'person' | 'organization';
  name: string;
  size: number;
  band: GroupBand;
  probability01: number;
  state: GroupState;
  /** Who else has the group on screen. */
  busyWith: string | null;
}

export interface GroupList {
  groups: GroupSummary[];
  counts: Record<GroupBand, number>;
  later: number;
  decided: number;
  /** Of these, decided one by one in the last ten minutes. */
  lately: number;
  /** When the last full scan ended; null before the first. */
  scannedAt: string | null;
  scanning: number | null;
}

export interface BoardMember {
  id: number;
  version: number;
  name: string;
  thread: RunThread | null;
  touchedAt: string;
}

export interface BoardRow {
  field: string;
  name: string;
  kind: 'agree' | 'one' | 'differ' | 'several';
  cells: { memberId: number; values: Value[] }[];
  /** Member whose value is proposed, for fields with one value. */
  chosen: number | null;
  result: Value[];
}

export interface MatchBoard {
  group: GroupSummary;
  members: BoardMember[];
  keepId: number;
  rows: BoardRow[];
  reasons: { a: number; b: number; bits: number; reasons: { field: string; text: string; bits: number }[] }[];
  /** E-mails and phones that some of the records have in common: as compared, and as shown. */
  lines: { line: string; shown: string }[];
  threads: Record<number, RunThread>;
  /** Set when the group no longer stands as it was found. */
  stale: string | null;
}

const versions = lazy((value: Record<string, unknown> | undefined) =>
  object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().integer().required()]))),
);

export const mergeSchema = object({
  memberIds: array(number().integer().positive().required()).min(2).max(60).required(),
  keepId: number().integer().positive().nullable().default(null),
  choices: versions,
  versions,
});
export type MergeRequest = Omit<InferType<typeof mergeSchema>, 'choices' | 'versions'> & {
  choices: Record<string, number>;
  versions: Record<string, number>;
};

export const apartSchema = object({
  memberIds: array(number().integer().positive().required()).min(2).max(60).required(),
  /** Lines that these people share, so that they prove nothing any more. */
  sharedLines: array(string().max(254).required()).max(20).default([]),
});
export type ApartRequest = InferType<typeof apartSchema>;
export const takeOutSchema = object({ memberId: number().integer().positive().required() });

/** What merging all certain groups would do, with a random few to check. */
export interface BatchLook {
  groups: number;
  records: number;
  sample: MatchBoard[];
}

export const batchSchema = object({
  /** Groups that stay for a person. */
  except: array(number().integer().positive().required()).max(2000).required(),
});

/** How duplicates got in: second and further records of people, by week and by the thread that brought them. */
export interface DuplicateOrigin {
  copies: number;
  weeks: WeekCount[];
  threads: { id: number; kind: ThreadKind; name: string; copies: number; brought: number }[];
}

export const matchSetupSchema = object({
  /** Probabilities from which a group is certain, likely, possible. */
  thresholds: object({
    certain: number().min(0.5).max(0.999999).required(),
    likely: number().min(0.5).max(0.999999).required(),
    possible: number().min(0.01).max(0.999).required(),
  }).required(),
  /** Fields that do not count. */
  ignored: array(
    mixed<ComparedField>()
      .oneOf([...COMPARED])
      .required(),
  ).required(),
});
export type MatchSetupRequest = InferType<typeof matchSetupSchema>;

export interface MatchSetup extends MatchSetupRequest {
  asShipped: MatchSetupRequest['thresholds'];
  /** Pairs of the last scan by weight; null before the first. */
  pairs: PairHistogram | null;
  people: number;
  scannedAt: string | null;
}

const ruleSchema = mixed<SurvivorRule>()
  .oneOf([...SURVIVOR_RULES])
  .required();
export const mergeRulesSchema = object({
  otherwise: ruleSchema,
  byField: lazy((value: Record<string, unknown> | undefined) =>
    object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, ruleSchema]))),
  ),
  /** Kinds of threads, the most trusted first. */
  trusted: array(string().max(20).required()).max(20).required(),
});
export interface MergeRuleSetup {
  otherwise: SurvivorRule;
  byField: Record<string, SurvivorRule>;
  trusted: ThreadKind[];
}

/** What other rules would change in the groups that wait. */
export interface MergeRuleTrial {
  groups: number;
  differing: number;
  values: number;
  examples: { groupId: number; name: string; changed: { field: string; before: string; after: string }[] }[];
}

/** What comes of asking for a group: whether it waits at all, and who has it where somebody else does. */
export interface GroupLook {
  waits: boolean;
  busyWith: string | null;
}

/** People of one home, as proposed or kept. */
export interface HouseholdEntry {
  id: number;
  name: string;
  /** Whether somebody named it; otherwise its people's names do. */
  named: boolean;
  members: { id: number; name: string; email: string; tel: string }[];
  address: string;
  /** E-mails and phones that several of them have. */
  shared: string[];
  /** Line for letters to all of them. */
  line: string;
  /** The kept household that the others would join. */
  joins: { id: number; name: string } | null;
}

export interface Households {
  proposed: HouseholdEntry[];
  kept: HouseholdEntry[];
}

export const householdSchema = object({
  memberIds: array(number().integer().positive().required()).min(1).max(12).required(),
  name: string().trim().max(120).default(''),
});
export type HouseholdRequest = InferType<typeof householdSchema>;

/** What people's decisions teach, and what would move by it. */
export interface LearningLook {
  same: number;
  apart: number;
  needed: { all: number; ofEachKind: number };
  /** What is in force. */
  adopted: { at: string; same: number; apart: number } | null;
  /** Null as long as there are too few decisions. */
  trial: {
    /** Decisions on whose side the weight lies, now and by what would be learned. */
    right: { now: number; then: number };
    /** Pairs that wait and were looked at. */
    pairs: number;
    moves: { from: string; to: string; pairs: number }[];
    examples: { groupId: number; name: string; from: string; to: string; bits: number }[];
  } | null;
}
