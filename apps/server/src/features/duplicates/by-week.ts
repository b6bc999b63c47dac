import type { WeekCount } from '@gray-loom/wire';

/** Counts of the last weeks by kind of thread, oldest week first; weeks without any are there as well. */
export function byWeek(rows: readonly { start: Date; kind: string; n: number }[], weeks: number): WeekCount[] {
  const monday = new Date();
  monday.setUTCHours(0, 0, 0, 0);
  monday.setUTCDate(monday.getUTCDate() - ((monday.getUTCDay() + 6) % 7));
  return Array.from({ length: weeks }, (_, i) => {
    const start = new Date(monday);
    start.setUTCDate(start.getUTCDate() - 7 * (weeks - 1 - i));
    const key = start.toISOString().slice(0, 10);
    const own = rows.filter((row) => row.start.toISOString().slice(0, 10) === key);
    return { start: key, byThread: Object.fromEntries(own.map((row) => [row.kind, row.n])) };
  });
}
