import type { Condition, TestValue } from '@gray-loom/core/segments';
import type { ContactKind } from '@gray-loom/core/model';
import { boolean, mixed, number, object, type InferType } from 'yup';
import { contactListRowAnswer } from './contacts';
import { core, listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';

const kind = mixed<ContactKind>().oneOf(['person', 'organization']);

export const segmentSchema = object({
  name: trimmed().required('Give the segment a name.').max(80, 'A name has at most 80 characters.'),
  description: trimmed().max(500).default(''),
  kind: kind.default('person'),
  /** A condition (core: segments); what it holds is checked there. */
  condition: mixed<Condition>().required('Say who is in it.'),
  /** Everybody has it, or the one who made it alone. */
  isShared: boolean().default(true),
});
export type SegmentRequest = InferType<typeof segmentSchema>;
/** What is left out stays as it is. */
export const segmentChangeSchema = object({
  name: trimmed().min(1, 'Give the segment a name.').max(80, 'A name has at most 80 characters.').optional(),
  description: trimmed().max(500).optional(),
  condition: mixed<Condition>().optional(),
  isShared: boolean().optional(),
});
export type SegmentChange = InferType<typeof segmentChangeSchema>;

export const segmentSummaryAnswer = part({
  id: whole(),
  name: text(),
  description: text(),
  kind: oneOf<ContactKind>('person', 'organization'),
  condition: core<Condition>(),
  isShared: yesNo(),
  isMine: yesNo(),
  /** Who made it; empty where nobody did. */
  by: text(),
  changedAt: text(),
  /** How many are in it, within the remit of whoever asks; null while that is worked out for the first time. */
  members: number().defined().nullable(),
  /** Of how many in all, for somebody with a remit. */
  isPart: yesNo(),
  /** Who entered and left in the last 30 days. */
  entered: whole(),
  left: whole(),
  /** How many were in it at the end of days, oldest first. */
  days: listOf(part({ day: text(), n: whole() })),
  /** What stands in its way: it asks for itself, or for a field that is gone. Empty where nothing does. */
  problem: text(),
});
export type SegmentSummary = InferType<typeof segmentSummaryAnswer>;

/** Tries a condition before it is kept. */
export const segmentLookSchema = object({
  kind: kind.default('person'),
  condition: mixed<Condition>().required('Say who is in it.'),
  /** Counts of a sample, marked as estimates: for while one types. */
  isQuick: boolean().default(false),
  /** Answers to the blanks, by their question. */
  answers: mixed<Record<string, TestValue>>().default({}),
  /** The segment that is being changed, which it may not ask for. */
  of: number().integer().min(1).nullable().default(null),
});
export type SegmentLookRequest = InferType<typeof segmentLookSchema>;

export const segmentLookAnswer = part({
  total: whole(),
  /** Counted on a sample. */
  isEstimate: yesNo(),
  /** What each test lets through alone, in the order in which they stand. */
  tests: listOf(whole()),
  rows: listOf(contactListRowAnswer),
  /** People just beside a blank that was answered with a number, the nearest first. */
  near: listOf(part({ id: whole(), name: text(), value: text() })),
});
export type SegmentLook = InferType<typeof segmentLookAnswer>;

export const segmentEventsSchema = object({
  before: number().integer().min(1).optional(),
  limit: number().integer().min(1).max(200).default(50),
});

export const segmentEventsAnswer = part({
  events: listOf(
    part({
      id: whole(),
      entered: yesNo(),
      cause: oneOf<'change' | 'condition' | 'day' | 'review'>('change', 'condition', 'day', 'review'),
      contactId: whole(),
      name: text(),
      runId: number().defined().nullable(),
      run: text(),
      at: text(),
    }),
  ),
  more: yesNo(),
});
export type SegmentEvents = InferType<typeof segmentEventsAnswer>;

const named = () => listOf(part({ id: whole(), name: text() }));
/** What conditions refer to by number, with what it is called. */
export const segmentChoicesAnswer = part({
  segments: listOf(part({ id: whole(), name: text(), kind: oneOf<ContactKind>('person', 'organization') })),
  connections: listOf(part({ id: whole(), name: text(), canCallNext: yesNo() })),
  threads: listOf(part({ id: whole(), name: text(), kind: text() })),
  colleagues: named(),
  /** The latest imports. */
  runs: named(),
});
export type SegmentChoices = InferType<typeof segmentChoicesAnswer>;

export const segmentListAnswer = part({ segments: listOf(segmentSummaryAnswer) });
export type SegmentList = InferType<typeof segmentListAnswer>;
