import type { ConnectionSummary, Crossed, OutsideValue, SyncChangeEntry } from '@gray-loom/wire';
import { showValue } from '@gray-loom/core/fields';
import { count } from '../../ui/when';

export const valueText = ({ v, label }: OutsideValue): string =>
  `${typeof v === 'string' ? v : showValue('adr', { v })}${label ? ` (${label})` : ''}`;

/** What happened to a pair as a whole, in words. */
export const EVENTS: Record<string, string> = {
  madeHere: 'new here',
  madeThere: 'new over there',
  linked: 'found to be the same',
  asked: 'waits: who is it?',
  apart: 'no longer in step',
  removedThere: 'removed over there',
  again: 'in step again',
  refused: 'not taken over there',
  unreadable: 'cannot be read over there',
};

/** One change of a report in words, such as "Phone here: 1 becomes 2". */
export function changeWords({ field, side, kind, before, after }: SyncChangeEntry): {
  what: string;
  before: string;
  after: string;
} {
  if (!field) return { what: EVENTS[kind] ?? kind, before: '', after: after.map(valueText).join(', ') };
  return {
    what: `${field} ${side === 'here' ? 'here' : 'over there'}`,
    before: before.map(valueText).join(', '),
    after: after.map(valueText).join(', '),
  };
}

export function stateWords(one: ConnectionSummary): string {
  if (one.running !== null) return 'runs now';
  if (one.braked) return 'held by the brake';
  if (one.trouble) return 'in trouble';
  switch (one.state) {
    case 'new':
      return 'never ran';
    case 'on':
      return one.nextRunAt === null ? 'runs when it is called' : 'runs by its timetable';
    case 'paused':
      return 'runs by hand only';
    case 'stopped':
      return 'stopped';
  }
}

/** "14 new, 146 changed"; nothing where nothing crossed. */
export function crossedWords({ made, changed, removed }: Crossed['here']): string {
  return [
    made ? `${count(made)} new` : '',
    changed ? `${count(changed)} changed` : '',
    removed ? `${count(removed)} removed` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** A connection that runs by itself, but only when the other side calls. */
export const CALLED = 'called';

export const TIMETABLES: [minutes: number | typeof CALLED | null, words: string][] = [
  [null, 'by hand only'],
  [CALLED, 'when it is called'],
  [5, 'every 5 minutes'],
  [15, 'every 15 minutes'],
  [60, 'every hour'],
  [360, 'every 6 hours'],
  [1440, 'every day'],
  [10_080, 'every week'],
];

/** The days up to one, the last of them that one, as YYYY-MM-DD in UTC. */
export const daysUpTo = (last: Date, days: number): string[] =>
  Array.from({ length: days }, (_, i) =>
    new Date(last.getTime() - (days - 1 - i) * 86_400_000).toISOString().slice(0, 10),
  );

/** Counts by day and outcome as the parts of bars, what is most frequent first; days with nothing are 0. */
export function stackedByDay(
  days: readonly string[],
  counts: readonly { day: string; outcome: string; n: number }[],
): { name: string; data: number[] }[] {
  const totals = new Map<string, number>();
  for (const { outcome, n } of counts) totals.set(outcome, (totals.get(outcome) ?? 0) + n);
  const names = [...totals].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).map(([name]) => name);
  return names.map((name) => ({
    name,
    data: days.map((day) => counts.find((one) => one.day === day && one.outcome === name)?.n ?? 0),
  }));
}
