import { DAY, daysBetween, momentOf, wallTime } from './when';

/** How something comes again: every so many days, weeks, months or years. */
export interface Repeat {
  every: number;
  unit: 'day' | 'week' | 'month' | 'year';
  /**
   * The day (YYYY-MM-DD) that it counts from, so that what is due on the 31st, or on the 29th of February, comes back to that day after a
   * shorter month.
   */
  first: string;
  /** The clock that its time is of (IANA); of no meaning for whole days. */
  zone: string;
  /** The last day it may be on; null where it never ends. */
  until: string | null;
}

const UNITS: readonly unknown[] = ['day', 'week', 'month', 'year'];

export const isRepeat = ({ every, unit, first, until }: Repeat): boolean =>
  Number.isInteger(every) &&
  every >= 1 &&
  every <= 400 &&
  UNITS.includes(unit) &&
  DAY.test(first) &&
  (until === null || DAY.test(until));

const DAY_MS = 86_400_000;

/** The nth day of a repeat; the last of a month that is too short. */
function nthDay({ every, unit, first }: Repeat, n: number): string {
  const [year = 1970, month = 1, day = 1] = first.split('-').map(Number);
  if (unit === 'day' || unit === 'week') {
    const days = n * every * (unit === 'week' ? 7 : 1);
    return new Date(Date.UTC(year, month - 1, day) + days * DAY_MS).toISOString().slice(0, 10);
  }
  const months = month - 1 + n * every * (unit === 'year' ? 12 : 1);
  const last = new Date(Date.UTC(year, months + 1, 0)).getUTCDate();
  return new Date(Date.UTC(year, months, Math.min(day, last))).toISOString().slice(0, 10);
}

/** Days of a unit, at most: what steps are counted in before the exact day is looked for. */
const LONGEST: Record<Repeat['unit'], number> = { day: 1, week: 7, month: 31, year: 366 };

/**
 * When something that repeats comes after a day; at the same time by the clock of its zone, also where clocks change. Null where it
 * has ended.
 */
export function nextOf(repeat: Repeat, at: string, after: string): string | null {
  const time = DAY.test(at) ? null : wallTime(Date.parse(at), repeat.zone).slice(10);
  let n = Math.max(0, Math.floor(daysBetween(repeat.first, after) / (repeat.every * LONGEST[repeat.unit])));
  let day = nthDay(repeat, n);
  while (day <= after) day = nthDay(repeat, ++n);
  if (repeat.until !== null && day > repeat.until) return null;
  return time === null ? day : new Date(momentOf(`${day}${time}`, repeat.zone)).toISOString();
}
