import type { ActivitySpan, DayBound, DaySpan, Test } from './tree';
import { isBlank } from './tree';

/** A stretch of days (ISO 8601) or of days of the year (MM-DD), both ends within; an end that is null is open. */
export interface DayRange {
  from: string | null;
  to: string | null;
}

/** What a test of a date compares with: whole dates, or days of the year whatever the year. */
export type DateTest = { by: 'date'; range: DayRange } | { by: 'part'; ranges: { from: string; to: string }[] };

const DAY_MS = 86_400_000;
const isoOf = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
const msOf = (day: string): number => Date.parse(`${day}T00:00:00Z`);

/** The day so many days, months or years from another; of a month that is shorter its last day. */
export function dayFrom(today: string, { n, unit }: Exclude<DayBound, string>): string {
  if (unit === 'day') return isoOf(msOf(today) + n * DAY_MS);
  const [year = 1970, month = 1, day = 1] = today.split('-').map(Number);
  const months = year * 12 + (month - 1) + (unit === 'month' ? n : 12 * n);
  const first = new Date(0);
  first.setUTCFullYear(Math.floor(months / 12), ((months % 12) + 12) % 12, 1);
  const last = new Date(first);
  last.setUTCMonth(first.getUTCMonth() + 1, 0);
  return isoOf(first.getTime() + (Math.min(day, last.getUTCDate()) - 1) * DAY_MS);
}

/** A day as a test says it, on a day; null of an end that is open. */
export const dayOf = (today: string, bound: DayBound | undefined): string | null =>
  bound === undefined || bound === null ? null : typeof bound === 'string' ? bound : dayFrom(today, bound);

/** Days of the year from today to so many days on; round the end of the year they are two stretches. */
function comingDays(today: string, days: number): { from: string; to: string }[] {
  if (days >= 365) return [{ from: '01-01', to: '12-31' }];
  const from = today.slice(5);
  const to = dayFrom(today, { n: days, unit: 'day' }).slice(5);
  return from <= to
    ? [{ from, to }]
    : [
        { from, to: '12-31' },
        { from: '01-01', to },
      ];
}

/** What a test of a date means on a day; null where it is no such test. */
export function dateTest({ op, value }: Test, today: string): DateTest | null {
  if (isBlank(value)) return null;
  switch (op) {
    case 'span': {
      const { from, to } = value as DaySpan;
      return { by: 'date', range: { from: dayOf(today, from), to: dayOf(today, to) } };
    }
    case 'year': {
      const year = String(value as number).padStart(4, '0');
      return { by: 'date', range: { from: `${year}-01-01`, to: `${year}-12-31` } };
    }
    case 'month': {
      const month = String(value as number).padStart(2, '0');
      return { by: 'part', ranges: [{ from: `${month}-01`, to: `${month}-31` }] };
    }
    case 'day': {
      const day = value === 'today' ? today.slice(5) : (value as string);
      return { by: 'part', ranges: [{ from: day, to: day }] };
    }
    case 'comes':
      return { by: 'part', ranges: comingDays(today, value as number) };
    default:
      return null;
  }
}

/** Whether a test says something else tomorrow, though nobody changes anything. */
export function movesWithDays({ field, op, value }: Test): boolean {
  // What is planned becomes a touch when its day comes.
  if (field === '@touch' || field === '@touchBy' || field === '@overdue') return true;
  if (op === 'comes') return true;
  if (op === 'day') return value === 'today';
  if (op === 'did') {
    const { since, until } = value as ActivitySpan;
    return typeof since === 'object' || typeof until === 'object';
  }
  if (op !== 'span' || isBlank(value)) return false;
  const { from, to } = value as DaySpan;
  return typeof from === 'object' || typeof to === 'object';
}
