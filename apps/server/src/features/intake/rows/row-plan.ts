import type { Catalogue, FieldDefinition } from '@gray-loom/core/fields';
import type { DelimitedShape } from '@gray-loom/core/formats';
import type { IdentityCard, IdentityKey, Mapping, PlainRow } from '@gray-loom/core/mapping';
import { scorePair, type MatchModel, type MatchPerson } from '@gray-loom/core/matching';
import type { Issue } from '@gray-loom/core/model';
import type { Candidate, CandidateValue } from '@gray-loom/core/writing';
import type { ToldActivity } from '../../../book/row-activity';
import type { Queryable } from '../../../db/connect';
import type { PickLists } from '../../../book/picks';
import type { RowRemit } from './row-remit';

/** What is to become of one row, before anything is written. */
export interface RowPlan {
  row: number;
  cells: string[];
  candidate: Candidate;
  /** The opportunity of the contact that stands in the row. */
  opportunity: Candidate | null;
  /** What happened with the contact, as the row tells. */
  activities: ToldActivity[];
  /** The person prepared for comparison, where it has been. */
  person?: MatchPerson;
  issues: Issue[];
  decision:
    | { kind: 'held' }
    | { kind: 'new' }
    /** `seen` is the version of the contact that it was decided by; null where only a person's word decides. */
    | { kind: 'known'; contactId: number; seen: number | null }
    | { kind: 'fold'; intoRow: number };
  /** Look-up keys of values that no two contacts should share. */
  unique: number[];
}

/** A row of somebody new that leaves nothing to decide, read the short way. */
export interface PlainPlan {
  row: number;
  cells: string[];
  plain: PlainRow;
}

export const judgeOf = (model: MatchModel, person: MatchPerson) => (other: MatchPerson) =>
  scorePair(model, person, other).band;

/** What a row that was read the short way offers for its contact. */
export function candidateOf({ plain }: PlainPlan): Candidate {
  const candidate: Candidate = {};
  for (const { key, values } of plain.fields) candidate[key] = values.map(({ value }) => value);
  return candidate;
}

/** The same row as one that is yet to be decided. */
export function pendingOf(plan: PlainPlan): Pending {
  const { row, cells, plain } = plan;
  return {
    plan: {
      row,
      cells,
      candidate: candidateOf(plan),
      opportunity: null,
      activities: [],
      issues: [],
      decision: { kind: 'new' },
      unique: [],
    },
    card: plain.card,
    keys: plain.keys,
    foldKeys: plain.keys,
    unique: [],
    organization: null,
    number: null,
    mailboxes: plain.mailboxes,
    row,
  };
}

/**
 * A person's word on a row: keep it out, it is somebody new, or it is this contact and what stands otherwise there is taken or kept;
 * `back` brings that one back where it was deleted.
 */
export type RowChoice = 'hold' | 'new' | { contactId: number; asked: 'take' | 'keep'; back?: boolean };
/** What is known of single rows beside their cells. */
export interface RowWords {
  choices: ReadonlyMap<number, RowChoice>;
  /** In a file of rows that come back mended: those of that import that wait no longer. Null for any other file. */
  settled: ReadonlySet<number> | null;
}
export const NO_WORDS: RowWords = { choices: new Map(), settled: null };

/** What rows are planned by. */
export interface PlannerParts {
  pool: Queryable;
  mapping: Mapping;
  catalogue: Catalogue;
  picks: PickLists;
  shape: DelimitedShape;
  /** The run that writes, whose own new people are found by folding and not by looking them up. */
  runId: number;
  words?: RowWords;
  model?: MatchModel | null;
  /** There are only a few rows to plan: nothing is loaded ahead for them. */
  few?: boolean;
  /** What rows may do, where whoever brings them sees a part of the book. */
  remit?: RowRemit | null;
}

/** A row read, before it is decided. */
export interface Pending {
  plan: RowPlan;
  card: IdentityCard;
  keys: IdentityKey[];
  /** The keys that rows of the file fold by. */
  foldKeys: IdentityKey[];
  unique: UniqueValue[];
  /** Key of an organization's name; null for a person. */
  organization: number | null;
  /** The number of the contact here that the row names. */
  number: number | null;
  /** Keys of its mailboxes. */
  mailboxes: string[];
  row: number;
}

/** A value that no two contacts should share. */
export interface UniqueValue {
  field: FieldDefinition;
  value: CandidateValue;
  content: string;
  hash: number;
}
