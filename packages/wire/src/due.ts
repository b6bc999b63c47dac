import { ROW_KINDS, type ActivityKind } from '@gray-loom/core/activity';
import { array, mixed, number, object, string, type InferType } from 'yup';
import { activityEntryAnswer } from './activities';
import { listOf, oneOf, part, text, trimmed, whole } from './parts';

/** The address of a calendar, which is told once. */
export const calendarAnswer = part({ path: text() });
export type CalendarAddress = InferType<typeof calendarAnswer>;

/** Whose: one's own, or everybody's. */
export const DUE_OF = ['mine', 'team'] as const;
export type DueOf = (typeof DUE_OF)[number];

export const dueQuerySchema = object({
  of: mixed<DueOf>().oneOf(DUE_OF).default('mine'),
  /** Days ahead that are looked at. */
  days: number().integer().min(0).max(366).default(14),
  /** Entries of each list at most; `totals` counts all. */
  limit: number().integer().min(1).max(100).default(20),
});
export type DueQuery = InferType<typeof dueQuerySchema>;

/** What is to be thought of now. */
export const remindersAnswer = listOf(activityEntryAnswer);

/** A day of the year that comes round for somebody. */
const comingDayAnswer = part({
  contact: part({ id: whole(), name: text() }),
  what: oneOf<'birthday' | 'anniversary'>('birthday', 'anniversary'),
  /** The date as it is known (ISO 8601, or --MM-DD without a year). */
  date: text(),
  /** The day that it is on this time. */
  on: text(),
});
export type ComingDay = InferType<typeof comingDayAnswer>;

/** Somebody who is to be heard from. */
const toHearFromAnswer = part({
  contact: part({ id: whole(), name: text() }),
  owner: text(),
  /** The day of the last touch (ISO 8601) and by whom; empty where there was none. */
  last: text(),
  by: text(),
  /** Days by which it is overdue; nought is today. */
  overdue: whole(),
});
export type ToHearFrom = InferType<typeof toHearFromAnswer>;

/** What counts as being in touch, and how often it is expected. */
export const touchSettingsSchema = object({
  kinds: array(mixed<ActivityKind>().oneOf(ROW_KINDS, 'There is no such kind of activity.').required())
    .max(20)
    .required(),
  rhythms: array(
    object({
      everyDays: number().required('Say after how many days.'),
      stage: trimmed().max(80),
      segmentId: number().integer().min(1),
    }),
  )
    .max(200)
    .required(),
});
export type TouchSettingsRequest = InferType<typeof touchSettingsSchema>;
export const touchSettingsAnswer = part({
  kinds: listOf(text()),
  rhythms: listOf(
    object({ everyDays: whole(), stage: string(), segmentId: number(), people: whole(), overdue: whole() }),
  ),
});
export type TouchRhythms = InferType<typeof touchSettingsAnswer>;

/** Each list is cut after so many as were asked for; `totals` says how many there are. */
export const dueAnswer = part({
  today: text(),
  tasks: listOf(activityEntryAnswer),
  enquiries: listOf(activityEntryAnswer),
  appointments: listOf(activityEntryAnswer),
  comingDays: listOf(comingDayAnswer),
  toHearFrom: listOf(toHearFromAnswer),
  totals: part({ tasks: whole(), late: whole(), enquiries: whole(), appointments: whole(), toHearFrom: whole() }),
});
export type Due = InferType<typeof dueAnswer>;
