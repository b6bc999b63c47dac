import { anyId, id } from './ids';
import { runThreadAnswer } from './threads';
import { weekCountAnswer } from './worklist';
import { part, whole, oneOf, text, listOf, recordOf, core, yesNo, trimmed } from './parts';
import { array, lazy, mixed, number, object, string, type InferType } from 'yup';
import { COMPARED, type ComparedField, type PairHistogram } from '@gray-loom/core/matching';
import { SURVIVOR_RULES, type SurvivorRule } from '@gray-loom/core/merging';
import type { Value } from '@gray-loom/core/model';
import type { ThreadKind } from './threads';

export type GroupState = 'open' | 'later' | 'merged' | 'apart' | 'gone';
export type GroupBand = 'certain' | 'likely' | 'possible';

export const groupSummaryAnswer = part({
  id: whole(),
  kind: oneOf('person', 'organization'),
  name: text(),
  size: whole(),
  band: oneOf<GroupBand>('certain', 'likely', 'possible'),
  probability01: whole(),
  state: oneOf<GroupState>('open', 'later', 'merged', 'apart', 'gone'),
  /** Who else has the group on screen. */
  busyWith: text().nullable(),
  /** Who takes its records for one and may not merge them. */
  proposedBy: text().nullable(),
});
export type GroupSummary = InferType<typeof groupSummaryAnswer>;

export const groupListAnswer = part({
  groups: listOf(groupSummaryAnswer),
  counts: part({ certain: whole(), likely: whole(), possible: whole() }),
  later: whole(),
  decided: whole(),
  /** Of these, decided one by one in the last ten minutes. */
  lately: whole(),
  /** When the last full scan ended; null before the first. */
  scannedAt: text().nullable(),
  scanning: whole().nullable(),
});
export type GroupList = InferType<typeof groupListAnswer>;

export const boardMemberAnswer = part({
  id: whole(),
  version: whole(),
  name: text(),
  thread: runThreadAnswer.nullable(),
  touchedAt: text(),
});
export type BoardMember = InferType<typeof boardMemberAnswer>;

export const boardRowAnswer = part({
  field: text(),
  name: text(),
  kind: oneOf('agree', 'one', 'differ', 'several'),
  cells: listOf(
    part({
      memberId: whole(),
      values: listOf(core<Value>()),
    }),
  ),
  /** Member whose value is proposed, for fields with one value. */
  chosen: whole().nullable(),
  result: listOf(core<Value>()),
});
export type BoardRow = InferType<typeof boardRowAnswer>;

export const matchBoardAnswer = part({
  group: groupSummaryAnswer,
  members: listOf(boardMemberAnswer),
  /** Records of it outside the remit of whoever asks. */
  elsewhere: whole(),
  keepId: whole(),
  rows: listOf(boardRowAnswer),
  reasons: listOf(
    part({
      a: whole(),
      b: whole(),
      bits: whole(),
      reasons: listOf(
        part({
          field: text(),
          text: text(),
          bits: whole(),
        }),
      ),
    }),
  ),
  /** E-mails and phones that some of the records have in common: as compared, and as shown. */
  lines: listOf(
    part({
      line: text(),
      shown: text(),
    }),
  ),
  /** Stops of one of the records that another one lifted later: the merged record keeps them. */
  stopsKept: listOf(part({ channel: text(), at: text(), allowedAt: text() })),
  threads: recordOf(runThreadAnswer),
  /** Set when the group no longer stands as it was found. */
  stale: text().nullable(),
});
export type MatchBoard = InferType<typeof matchBoardAnswer>;

const versions = lazy((value: Record<string, unknown> | undefined) =>
  object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().integer().required()]))).default({}),
);

export const mergeSchema = object({
  memberIds: array(id()).min(2).max(60).required(),
  keepId: anyId().nullable().default(null),
  choices: versions,
  versions,
});
export type MergeRequest = Omit<InferType<typeof mergeSchema>, 'choices' | 'versions'> & {
  choices: Record<string, number>;
  versions: Record<string, number>;
};

export const apartSchema = object({
  memberIds: array(id()).min(2).max(60).required(),
  /** Lines that these people share, so that they prove nothing any more. */
  sharedLines: array(string().max(254).required()).max(20).default([]),
});
export type ApartRequest = InferType<typeof apartSchema>;
export const takeOutSchema = object({ memberId: id() });

/** What merging all certain groups would do, with a random few to check. */
export const batchLookAnswer = part({
  groups: whole(),
  records: whole(),
  sample: listOf(matchBoardAnswer),
});
export type BatchLook = InferType<typeof batchLookAnswer>;

export const batchSchema = object({
  /** Groups that stay for a person. */
  except: array(id()).max(2000).required(),
});

/** How duplicates got in: second and further records of people, by week and by the thread that brought them. */
export const duplicateOriginAnswer = part({
  copies: whole(),
  weeks: listOf(weekCountAnswer),
  threads: listOf(
    part({
      id: whole(),
      kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
      name: text(),
      copies: whole(),
      brought: whole(),
    }),
  ),
});
export type DuplicateOrigin = InferType<typeof duplicateOriginAnswer>;

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

export const matchSetupAnswer = matchSetupSchema.shape({
  asShipped: core<MatchSetupRequest['thresholds']>(),
  /** Pairs of the last scan by weight; null before the first. */
  pairs: core<PairHistogram>().nullable(),
  people: whole(),
  scannedAt: text().nullable(),
});
export type MatchSetup = InferType<typeof matchSetupAnswer>;

const ruleSchema = mixed<SurvivorRule>()
  .oneOf([...SURVIVOR_RULES])
  .required();
export const mergeRulesSchema = object({
  otherwise: ruleSchema,
  byField: lazy((value: Record<string, unknown> | undefined) =>
    object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, ruleSchema]))).default({}),
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
export const mergeRuleTrialAnswer = part({
  groups: whole(),
  differing: whole(),
  values: whole(),
  examples: listOf(
    part({
      groupId: whole(),
      name: text(),
      changed: listOf(
        part({
          field: text(),
          before: text(),
          after: text(),
        }),
      ),
    }),
  ),
});
export type MergeRuleTrial = InferType<typeof mergeRuleTrialAnswer>;

/** What comes of asking for a group: whether it waits at all, and who has it where somebody else does. */
export const groupLookAnswer = part({
  waits: yesNo(),
  busyWith: text().nullable(),
});
export type GroupLook = InferType<typeof groupLookAnswer>;

/** People of one home, as proposed or kept. */
export const householdEntryAnswer = part({
  id: whole(),
  name: text(),
  /** Whether somebody named it; otherwise its people's names do. */
  named: yesNo(),
  members: listOf(
    part({
      id: whole(),
      name: text(),
      email: text(),
      tel: text(),
    }),
  ),
  address: text(),
  /** E-mails and phones that several of them have. */
  shared: listOf(text()),
  /** Line for letters to all of them. */
  line: text(),
  /** The kept household that the others would join. */
  joins: part({
    id: whole(),
    name: text(),
  }).nullable(),
});
export type HouseholdEntry = InferType<typeof householdEntryAnswer>;

export const householdsAnswer = part({
  proposed: listOf(householdEntryAnswer),
  kept: listOf(householdEntryAnswer),
});
export type Households = InferType<typeof householdsAnswer>;

export const householdSchema = object({
  memberIds: array(id()).min(1).max(12).required(),
  name: trimmed().max(120).default(''),
});
export type HouseholdRequest = InferType<typeof householdSchema>;

/** What people's decisions teach, and what would move by it. */
export const learningLookAnswer = part({
  same: whole(),
  apart: whole(),
  needed: part({
    all: whole(),
    ofEachKind: whole(),
  }),
  /** What is in force. */
  adopted: part({
    at: text(),
    same: whole(),
    apart: whole(),
  }).nullable(),
  /** Null as long as there are too few decisions. */
  trial: part({
    /** Decisions on whose side the weight lies, now and by what would be learned. */
    right: part({
      now: whole(),
      then: whole(),
    }),
    /** Pairs that wait and were looked at. */
    pairs: whole(),
    moves: listOf(
      part({
        from: text(),
        to: text(),
        pairs: whole(),
      }),
    ),
    examples: listOf(
      part({
        groupId: whole(),
        name: text(),
        from: text(),
        to: text(),
        bits: whole(),
      }),
    ),
  }).nullable(),
});
export type LearningLook = InferType<typeof learningLookAnswer>;

export const mergeRulesAnswer = part({
  otherwise: oneOf<SurvivorRule>(...SURVIVOR_RULES),
  byField: recordOf(oneOf<SurvivorRule>(...SURVIVOR_RULES)),
  trusted: listOf(core<ThreadKind>('string')),
});
/** The scan that a change of matching starts. */
export const scanAnswer = part({ scanId: whole() });
export const boardKeptAnswer = part({ runId: whole(), keepId: whole() });
export const takenOutAnswer = part({ runId: whole(), groupId: whole().nullable() });
export const householdMadeAnswer = part({ id: whole(), runId: whole() });
