import { ROW_KINDS, type Activity, type ActivityKind } from './activity';
import { daysBetween, dayOfWhen, msOfWhen } from './when';

/** How often contacts at a stage, or in a segment, are to be heard from. */
export type Rhythm = { everyDays: number } & ({ stage: string } | { segmentId: number });

/** What counts as being in touch, and how often that is expected of whom. */
export interface TouchSettings {
  kinds: ActivityKind[];
  rhythms: Rhythm[];
}

/** Kinds that count as touch where nobody chose: what passes between two people. */
export const TOUCH_KINDS: readonly ActivityKind[] = ['talk', 'call', 'appointment', 'message'];
/** Nobody is expected to be heard from. */
export const NO_RHYTHMS: TouchSettings = { kinds: [...TOUCH_KINDS], rhythms: [] };
/** Days of the longest rhythm, and how many rhythms there are at most. */
export const MOST_DAYS = 3660;
export const MOST_RHYTHMS = 50;

export interface Touch {
  day: string;
  who: number | null;
}

/**
 * The last time that somebody of ours was in touch, up to a day (YYYY-MM-DD); what is planned for later does not count yet. Of two at
 * one moment the later one in the list is the last.
 */
export function lastTouch(
  activities: readonly Pick<Activity, 'kind' | 'at' | 'who' | 'gone'>[],
  kinds: readonly ActivityKind[],
  today: string,
): Touch | null {
  let last: (Touch & { ms: number }) | null = null;
  for (const { kind, at, who, gone } of activities) {
    const day = dayOfWhen(at);
    if (gone || at === null || day === null || day > today || !kinds.includes(kind)) continue;
    const ms = msOfWhen(at);
    if (!last || ms >= last.ms) last = { day, who, ms };
  }
  return last && { day: last.day, who: last.who };
}

/** How often somebody is to be heard from: the shortest of the rhythms of their stage and segments; null where none is theirs. */
export function rhythmOf(
  { rhythms }: Pick<TouchSettings, 'rhythms'>,
  { stage, segments }: { stage: string; segments: ReadonlySet<number> },
): number | null {
  const theirs = rhythms.filter((one) => ('stage' in one ? one.stage === stage : segments.has(one.segmentId)));
  return theirs.length ? Math.min(...theirs.map(({ everyDays }) => everyDays)) : null;
}

/**
 * Days by which somebody is overdue to be heard from: since the rhythm passed after the last touch, or after they came in where there was
 * none. Below nought it is not due yet.
 */
export function daysOverdue(everyDays: number, last: Touch | null, cameIn: string, today: string): number {
  return daysBetween(last?.day ?? cameIn, today) - everyDays;
}

/** What is wrong with settings that came from outside, in words; null where nothing is. */
export function faultOfTouchSettings({ kinds, rhythms }: TouchSettings): string | null {
  if (!kinds.length) return 'Choose at least one kind that counts as being in touch.';
  if (!kinds.every((kind) => (ROW_KINDS as readonly string[]).includes(kind)))
    return 'There is no such kind of activity.';
  if (rhythms.length > MOST_RHYTHMS) return `There are at most ${MOST_RHYTHMS} rhythms.`;
  if (rhythms.some(({ everyDays }) => !(Number.isInteger(everyDays) && everyDays >= 1 && everyDays <= MOST_DAYS)))
    return `A rhythm is a whole number of days from 1 to ${MOST_DAYS.toLocaleString('en-GB')}.`;
  const of = rhythms.map((one) => ('stage' in one ? `stage ${one.stage}` : `segment ${one.segmentId}`));
  return new Set(of).size < of.length ? 'A stage or segment has one rhythm only. Take the second one out.' : null;
}
