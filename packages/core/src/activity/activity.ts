import { foldText } from '../fields';
import { sameContent, type MoneyValue } from '../model';
import { DAY, isRealDay, isRealMoment } from './when';
import { isRepeat, type Repeat } from './repeat';

/** Everything dated that happens with a contact. The first five are written here; the others come from files and tools as well. */
export const ACTIVITY_KINDS = [
  'note',
  'task',
  'appointment',
  'talk',
  'enquiry',
  'call',
  'message',
  'result',
  'purchase',
  'gift',
  'enrolment',
  'file',
] as const;
export type ActivityKind = (typeof ACTIVITY_KINDS)[number];

/** Kinds that can be written down or come from files and tools as rows; a file comes with its content. */
export const ROW_KINDS = ACTIVITY_KINDS.filter((kind) => kind !== 'file');

/** How a talk was had. */
export const TALK_WAYS = ['call', 'meeting'] as const;
export type TalkWay = (typeof TALK_WAYS)[number];

/** Where the content of a file is kept, and what it is by that content. */
export interface FileContent {
  /** SHA-256 of the content, in hexadecimal. */
  hash: string;
  mediaType: string;
  bytes: number;
}

/**
 * One entry of the stream of a contact. One shape for all kinds, so that each is merged, undone, counted and taken out alike; what a
 * kind has no use for stays at its default.
 */
export interface Activity {
  kind: ActivityKind;
  /** A moment (ISO 8601, UTC, to the minute or finer) or a day (YYYY-MM-DD); null of a task that is due at no time. */
  at: string | null;
  /** When an appointment ends; as `at`. */
  end: string | null;
  /** The account of ours who did it, or who is to do it. */
  who: number | null;
  /** What it is about: a subject, an item, a course, a mailing. */
  what: string;
  text: string;
  quantity: number | null;
  amount: MoneyValue | null;
  minutes: number | null;
  way: TalkWay | null;
  outcome: string;
  place: string;
  /** Where an enquiry came from. */
  from: string;
  /** Further contacts who take part. */
  people: number[];
  /** Accounts of ours who take part beside `who`. */
  colleagues: number[];
  repeat: Repeat | null;
  /** The number that it has where it comes from. */
  outsideId: string;
  /** A task that is not done, an enquiry that is not answered. */
  isOpen: boolean;
  /** When it was done or answered, and by which account. */
  closedAt: string | null;
  closedBy: number | null;
  /** What is kept of a file; its name is `what`. */
  file: FileContent | null;
  /** It was removed; undo brings it back. */
  gone: boolean;
}

export type ActivityPart = keyof Activity;

const BLANK: Omit<Activity, 'kind'> = {
  at: null,
  end: null,
  who: null,
  what: '',
  text: '',
  quantity: null,
  amount: null,
  minutes: null,
  way: null,
  outcome: '',
  place: '',
  from: '',
  people: [],
  colleagues: [],
  repeat: null,
  outsideId: '',
  isOpen: false,
  closedAt: null,
  closedBy: null,
  file: null,
  gone: false,
};

/** An activity of a kind with what is known of it; tasks and enquiries begin open. */
export function activityOf(kind: ActivityKind, known: Partial<Omit<Activity, 'kind'>> = {}): Activity {
  return { ...BLANK, isOpen: kind === 'task' || kind === 'enquiry', ...known, kind };
}

/** What of an activity is not at its default: the short form that is kept. */
export function packActivity(activity: Activity): Partial<Activity> & Pick<Activity, 'kind'> {
  const blank = activityOf(activity.kind);
  const kept = Object.entries(activity).filter(
    ([part, value]) => part === 'kind' || !sameContent(value as never, blank[part as ActivityPart] as never),
  );
  return Object.fromEntries(kept) as Partial<Activity> & Pick<Activity, 'kind'>;
}

/** The whole of what `packActivity` made short. */
export const unpackActivity = ({ kind, ...known }: Partial<Activity> & Pick<Activity, 'kind'>): Activity =>
  activityOf(kind, known);

/** Characters of a subject, and of a text. */
export const MOST_WHAT = 300;
export const MOST_TEXT = 20_000;
/** People or colleagues in one appointment. */
export const MOST_PEOPLE = 100;

export interface ActivityFault {
  code:
    | 'nothing'
    | 'noWhat'
    | 'noName'
    | 'noFile'
    | 'noStart'
    | 'noSuchDay'
    | 'endBeforeStart'
    | 'mixedEnds'
    | 'tooLong'
    | 'currency'
    | 'minutes'
    | 'repeat'
    | 'repeatWithoutDay'
    | 'tooManyPeople';
  part: ActivityPart;
}

const isWhen = (text: string): boolean => (DAY.test(text) ? isRealDay(text) : isRealMoment(text));

/** What is wrong with an activity, the weightiest first; null where nothing is. */
export function faultOfActivity(activity: Activity): ActivityFault | null {
  const { kind, at, end, what, text, amount, minutes, repeat } = activity;
  if (what.length > MOST_WHAT) return { code: 'tooLong', part: 'what' };
  if (text.length > MOST_TEXT) return { code: 'tooLong', part: 'text' };
  if (kind === 'note' && !text.trim()) return { code: 'nothing', part: 'text' };
  if ((kind === 'task' || kind === 'appointment') && !what.trim()) return { code: 'noWhat', part: 'what' };
  if (kind === 'file' && !activity.file) return { code: 'noFile', part: 'file' };
  if (kind === 'file' && !what.trim()) return { code: 'noName', part: 'what' };
  if (at === null && kind === 'appointment') return { code: 'noStart', part: 'at' };
  if (at !== null && !isWhen(at)) return { code: 'noSuchDay', part: 'at' };
  if (end !== null) {
    if (!isWhen(end)) return { code: 'noSuchDay', part: 'end' };
    if (at === null) return { code: 'noStart', part: 'at' };
    if (DAY.test(at) !== DAY.test(end)) return { code: 'mixedEnds', part: 'end' };
    if (end < at) return { code: 'endBeforeStart', part: 'end' };
  }
  if (amount && !/^[A-Z]{3}$/.test(amount.currency)) return { code: 'currency', part: 'amount' };
  if (minutes !== null && !(minutes >= 0 && minutes <= 6000)) return { code: 'minutes', part: 'minutes' };
  if (repeat && !isRepeat(repeat)) return { code: 'repeat', part: 'repeat' };
  if (repeat && at === null) return { code: 'repeatWithoutDay', part: 'repeat' };
  if (activity.people.length > MOST_PEOPLE || activity.colleagues.length > MOST_PEOPLE)
    return { code: 'tooManyPeople', part: 'people' };
  return null;
}

const SENTENCES: Record<ActivityFault['code'], string> = {
  nothing: 'Nothing is written. Write the note first.',
  noWhat: 'Say what it is about.',
  noName: 'A file needs a name.',
  noFile: 'Choose the file itself; a file comes with its content.',
  noStart: 'Say when.',
  noSuchDay: 'There is no such day. Write it as 2026-07-14, with a time if it has one.',
  endBeforeStart: 'It ends before it begins. Set a later end.',
  mixedEnds: 'Beginning and end are both days, or both have a time.',
  tooLong: `That is too long: a subject has at most ${MOST_WHAT} characters, a text ${MOST_TEXT.toLocaleString('en-GB')}.`,
  currency: 'Say in which currency, with its three letters.',
  minutes: 'Minutes are a number from 0 to 6,000.',
  repeat: 'It repeats every so many days, weeks, months or years: a whole number from 1 to 400.',
  repeatWithoutDay: 'What repeats needs a day to begin with.',
  tooManyPeople: `At most ${MOST_PEOPLE} people take part.`,
};

/** What is wrong with an activity, in words. */
export const sayActivityFault = ({ code }: ActivityFault): string => SENTENCES[code];

/**
 * What two entries without a number of their own have to have in common to be the same: kind, time, what, amount and quantity; of
 * a note its text alone. Compared among entries of one contact only.
 */
export function contentKey({ kind, at, what, text, amount, quantity }: Activity): string {
  const of = kind === 'note' ? foldText(text) : foldText(what);
  // The same remark is not made again because it comes on another day.
  return [
    kind,
    kind === 'note' ? '' : (at ?? ''),
    of,
    amount ? `${amount.amount} ${amount.currency}` : '',
    quantity ?? '',
  ].join('\n');
}
