import type { Activity, ActivityKind } from './activity';
import { daysBetween, dayOfWhen } from './when';

/** How often contacts of a stage or segment are to be heard from. */
export interface Rhythm {
  everyDays: number;
  /** Kinds that count as being in touch. */
  kinds: readonly ActivityKind[];
}

/** Kinds that count as touch where nobody chose: what passes between two people. */
export const TOUCH_KINDS: readonly ActivityKind[] = ['talk', 'call', 'appointment', 'message'];

export interface Touch {
  day: string;
  who: number | null;
}

/** The last time that somebody of ours was in touch, up to a day (YYYY-MM-DD); what is planned for later does not count yet. */
export function lastTouch(
  activities: readonly Pick<Activity, 'kind' | 'at' | 'who' | 'gone'>[],
  kinds: readonly ActivityKind[],
  today: string,
): Touch | null {
  let last: Touch | null = null;
  for (const { kind, at, who, gone } of activities) {
    const day = dayOfWhen(at);
    if (gone || day === null || day > today || !kinds.includes(kind)) continue;
    if (!last || day > last.day) last = { day, who };
  }
  return last;
}

/**
 * Days by which somebody is overdue to be heard from: since the rhythm passed after the last touch, or after they came in where there was
 * none. Less than one is not due yet.
 */
export function daysOverdue(rhythm: Rhythm, last: Touch | null, cameIn: string, today: string): number {
  return daysBetween(last?.day ?? cameIn, today) - rhythm.everyDays;
}
