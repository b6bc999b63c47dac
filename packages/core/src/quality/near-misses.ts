import { foldText } from '../fields';

/**
 * Slips of the pen between two texts: letters left out, added, changed, or two neighbours swapped (Damerau 1964, optimal string
 * alignment). Where the lengths alone differ by more than `most`, `most + 1`.
 */
export function slips(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let twoAgo: number[] = [];
  let ago = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const now = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let least = Math.min((ago[j] ?? 0) + 1, (now[j - 1] ?? 0) + 1, (ago[j - 1] ?? 0) + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        least = Math.min(least, (twoAgo[j - 2] ?? 0) + 1);
      now.push(least);
    }
    twoAgo = ago;
    ago = now;
  }
  return ago[b.length] ?? most + 1;
}

/** Words without the endings of a plural, in the order of the alphabet, run together. */
function coreOf(text: string): string {
  return foldText(text)
    .split(' ')
    .map((word) =>
      word.length > 3
        ? word
            .replace(/ies$/, 'y')
            .replace(/(?:ses|xes|ches|shes)$/, (end) => end.slice(0, -2))
            .replace(/(?<!s)s$/, '')
        : word,
    )
    .sort()
    .join('');
}

export interface NearMiss {
  label: string;
  /** The same but for case, marks and spacing; a plural or another order; or slips of the pen. */
  why: 'writing' | 'form' | 'slip';
}

/**
 * Values of a pick-list that a new one may be meant for, nearest first: "Boat fair" for "boat-fair", "Alumni" for
 * "alumnis", "Regatta" for "Regata". Cost grows with the length of the list.
 */
export function nearMisses(typed: string, labels: readonly string[], limit = 4): NearMiss[] {
  const folded = foldText(typed).replaceAll(' ', '');
  if (!folded) return [];
  const core = coreOf(typed);
  const most = core.length < 4 ? 0 : core.length < 8 ? 1 : 2;
  const found: (NearMiss & { distance: number })[] = [];
  for (const label of labels) {
    if (label === typed) continue;
    if (foldText(label).replaceAll(' ', '') === folded) found.push({ label, why: 'writing', distance: 0 });
    else if (coreOf(label) === core) found.push({ label, why: 'form', distance: 0.5 });
    else if (most > 0) {
      const distance = slips(core, coreOf(label), most);
      if (distance <= most) found.push({ label, why: 'slip', distance });
    }
  }
  return found
    .sort((a, b) => a.distance - b.distance || a.label.localeCompare(b.label))
    .slice(0, limit)
    .map(({ label, why }) => ({ label, why }));
}
