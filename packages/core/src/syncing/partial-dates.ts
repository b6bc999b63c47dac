import type { FieldType } from '../fields';
import type { Item } from './project';

/** Year, month and day of a date in ISO 8601, null for what is not known: "1984", "1984-07", "--07-16". */
function partsOf(iso: string): (string | null)[] | null {
  const match = /^(?:(\d{4})|-)(?:-(\d\d))?(?:-(\d\d))?$/.exec(iso);
  return match ? [match[1] ?? null, match[2] ?? null, match[3] ?? null] : null;
}

/** Whether everything that `part` says of a date is said by `whole` as well, and more. */
function containsDate(whole: string, part: string): boolean {
  const [w, p] = [partsOf(whole), partsOf(part)];
  if (!w || !p) return false;
  return p.every((text, i) => text === null || text === w[i]) && w.some((text, i) => text !== null && p[i] === null);
}

/**
 * Of two dates that differ, the one that says what the other says and more: nothing is lost where it stands on both sides.
 * Gives which way it has to go; null where they contradict, or are no dates.
 */
export function fullerDate(type: FieldType, ours: Item | undefined, theirs: Item | undefined): 'in' | 'out' | null {
  if ((type !== 'date' && type !== 'partialDate') || !ours || !theirs) return null;
  if (containsDate(theirs.key, ours.key)) return 'in';
  return containsDate(ours.key, theirs.key) ? 'out' : null;
}
