import { boolean, mixed, number, object, type InferType } from 'yup';
import { activityEntryAnswer } from './activities';
import { listOf, oneOf, part, text, whole } from './parts';

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
  /** Says only how many there are. */
  isBrief: boolean().default(false),
});
export type DueQuery = InferType<typeof dueQuerySchema>;

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

/** Each list is cut after a hundred; `totals` says how many there are. */
export const dueAnswer = part({
  today: text(),
  tasks: listOf(activityEntryAnswer),
  enquiries: listOf(activityEntryAnswer),
  appointments: listOf(activityEntryAnswer),
  comingDays: listOf(comingDayAnswer),
  totals: part({ tasks: whole(), late: whole(), enquiries: whole(), appointments: whole() }),
});
export type Due = InferType<typeof dueAnswer>;
