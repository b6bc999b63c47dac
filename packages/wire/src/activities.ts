import {
  ROW_KINDS,
  TALK_WAYS,
  type Activity,
  type ActivityKind,
  type Repeat,
  type TalkWay,
} from '@gray-loom/core/activity';
import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import { id } from './ids';
import { core, listOf, oneOf, part, recordOf, text, trimmed, whole } from './parts';
import type { ThreadKind } from './threads';

const account = () => number().integer().min(1).nullable();
const when = () => string().max(30).nullable();
const amount = () => number().min(-1e12).max(1e12).nullable();

const parts = {
  at: when(),
  end: when(),
  who: account(),
  what: trimmed().max(1000),
  text: string().max(2_000_000),
  quantity: amount(),
  amount: object({ amount: number().required().min(-1e12).max(1e12), currency: string().defined().max(3) })
    .nullable()
    .default(undefined),
  minutes: number().nullable(),
  way: mixed<TalkWay>().oneOf(TALK_WAYS).nullable(),
  outcome: trimmed().max(200),
  place: trimmed().max(300),
  from: trimmed().max(200),
  people: array(id()).max(200),
  colleagues: array(id()).max(200),
  repeat: mixed<Repeat>(
    (value): value is Repeat => typeof value === 'object' && value !== null && 'every' in value && 'first' in value,
  ).nullable(),
  isOpen: boolean(),
};

/** Something that happened or is to happen, as somebody writes it down; what is left out is at its default. */
export const activitySchema = object({
  kind: mixed<ActivityKind>().oneOf(ROW_KINDS, 'There is no such kind of activity.').required('Say what it is.'),
  ...parts,
  /** The stage that the contact comes to with it. */
  stage: trimmed().max(80),
});
export type ActivityRequest = InferType<typeof activitySchema>;

/** A change; what is left out stays as it is. */
export const activityChangeSchema = object({
  version: number().integer().min(1).required(),
  ...parts,
});
export type ActivityChangeRequest = InferType<typeof activityChangeSchema>;

export const activityQuerySchema = object({
  /** Kinds, with commas between them; all where it is empty. */
  kinds: string().max(200).default(''),
  skip: number().integer().min(0).max(1_000_000).default(0),
  limit: number().integer().min(1).max(200).default(40),
});
export type ActivityQuery = InferType<typeof activityQuerySchema>;

const named = () => part({ id: whole(), name: text() });

export const activityEntryAnswer = part({
  id: whole(),
  version: whole(),
  activity: core<Activity>(),
  /** The contact that it hangs on: of an organization it may be one of its people. */
  contact: named(),
  /** Of ours, who did it or is to do it; empty where nobody is named. */
  who: text(),
  /** Further contacts who take part. */
  people: listOf(named()),
  colleagues: listOf(named()),
  /** Who wrote it down, and what it came through. */
  by: text(),
  thread: part({
    kind: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
    name: text(),
  }),
  runId: whole(),
  writtenAt: text(),
});
export type ActivityEntry = InferType<typeof activityEntryAnswer>;

/** When somebody of ours was last in touch (ISO 8601) and who; empty where nobody was. `overdue` is null where nobody expects to hear from them. */
const touchAnswer = part({ last: text(), by: text(), overdue: whole().nullable() });
export type TouchState = InferType<typeof touchAnswer>;

export const activityPageAnswer = part({
  entries: listOf(activityEntryAnswer),
  /** How many there are of each kind. */
  counts: recordOf(whole()),
  touch: touchAnswer,
});
export type ActivityPage = InferType<typeof activityPageAnswer>;

/** The name of a file that is sent, as encodeURIComponent writes it. */
export const fileNameSchema = object({
  'x-file-name': string()
    .transform((value: unknown) => nameFrom(value) as string)
    .max(1000)
    .required('Say the name of the file (X-File-Name).'),
});
function nameFrom(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
}
export const fileMadeAnswer = part({ id: whole(), runId: whole() });

export const activityMadeAnswer = part({ id: whole(), runId: whole(), booked: listOf(text()) });
/** `next` is the following one of what repeats; `booked` says which colleagues have something else at that time. */
export const activityChangedAnswer = part({
  runId: whole().nullable(),
  version: whole(),
  next: whole().nullable(),
  booked: listOf(text()),
});
export type ActivityChanged = InferType<typeof activityChangedAnswer>;

export const activityHistoryAnswer = listOf(
  part({ version: whole(), at: text(), by: text(), before: core<Activity>().nullable() }),
);
export type ActivityHistory = InferType<typeof activityHistoryAnswer>;
