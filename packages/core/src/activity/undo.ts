import { sameContent } from '../model';
import type { Activity, ActivityPart } from './activity';

/** What a run did to one activity: from how it was to how it became. `before` is null where the run made it. */
export interface ActivityStep {
  before: Activity | null;
  after: Activity;
}

export interface UndoneActivity {
  /** How it is then; null where nothing of the step is left to take back. */
  activity: Activity | null;
  /** Parts that others changed since, and that stay as they are. */
  left: ActivityPart[];
}

const same = (a: unknown, b: unknown): boolean => sameContent(a as never, b as never);

/** Parts in which two states of an activity differ. */
export const changedParts = (before: Activity, after: Activity): ActivityPart[] =>
  (Object.keys(after) as ActivityPart[]).filter((part) => !same(before[part], after[part]));

/**
 * Takes a step back, part by part: what is still as the step left it becomes as it was before; what others changed since stays. What
 * the step made goes, unless somebody changed it since.
 */
export function undoActivity(now: Activity, { before, after }: ActivityStep): UndoneActivity {
  if (!before) {
    if (now.gone) return { activity: null, left: [] };
    const since = changedParts(after, now);
    return since.length ? { activity: null, left: since } : { activity: { ...now, gone: true }, left: [] };
  }
  const parts = changedParts(before, after);
  const left = parts.filter((part) => !same(now[part], after[part]) && !same(now[part], before[part]));
  const back = parts.filter((part) => same(now[part], after[part]));
  if (!back.length) return { activity: null, left };
  const restored = Object.fromEntries(back.map((part) => [part, before[part]])) as Partial<Activity>;
  return { activity: { ...now, ...restored }, left };
}
