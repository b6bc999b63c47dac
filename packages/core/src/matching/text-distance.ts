const WIDTH = 256;
// Three rows used over and over: the comparison is the innermost loop of a scan.
const ROWS: [Int32Array, Int32Array, Int32Array] = [
  new Int32Array(WIDTH),
  new Int32Array(WIDTH),
  new Int32Array(WIDTH),
];

/**
 * Optimal string alignment distance (Damerau-Levenshtein without overlapping swaps), given up above `limit`.
 * Returns limit + 1 when the distance is larger. Cost: length times limit.
 */
export function editDistance(a: string, b: string, limit: number): number {
  if (a === b) return 0;
  const n = a.length;
  const m = b.length;
  if (Math.abs(n - m) > limit) return limit + 1;
  if (m >= WIDTH) return editDistance(a.slice(0, WIDTH - 1), b.slice(0, WIDTH - 1), limit);
  let [before, previous, row] = ROWS;
  for (let j = 0; j <= m; j++) previous[j] = j;
  for (let i = 1; i <= n; i++) {
    row[0] = i;
    let least = i;
    for (let j = 1; j <= m; j++) {
      const same = a.charCodeAt(i - 1) === b.charCodeAt(j - 1);
      let d = Math.min((previous[j] ?? 0) + 1, (row[j - 1] ?? 0) + 1, (previous[j - 1] ?? 0) + (same ? 0 : 1));
      if (i > 1 && j > 1 && a.charCodeAt(i - 1) === b.charCodeAt(j - 2) && a.charCodeAt(i - 2) === b.charCodeAt(j - 1))
        d = Math.min(d, (before[j - 2] ?? 0) + 1);
      row[j] = d;
      if (d < least) least = d;
    }
    if (least > limit) return limit + 1;
    [before, previous, row] = [previous, row, before];
  }
  return Math.min(previous[m] ?? 0, limit + 1);
}

/** Letters that a scanner takes for others, as the one they were. */
function unscanned(word: string): string {
  return word.replace(/rn/g, 'm').replace(/cl/g, 'd').replace(/vv/g, 'w');
}

const SCANNED = /rn|cl|vv/;

/** Whether two words differ by what a slip of the hand or eye makes: one edit, or two in a long word. */
export function isSlip(a: string, b: string): boolean {
  const longer = Math.max(a.length, b.length);
  if (longer < 4) return false;
  const limit = longer >= 7 ? 2 : 1;
  return editDistance(a, b, limit) <= limit || ((SCANNED.test(a) || SCANNED.test(b)) && unscanned(a) === unscanned(b));
}

/** Whether two words could be one that was damaged more than once: three edits in a long word, two in a middling, one in a short. */
export function isClose(a: string, b: string): boolean {
  const longer = Math.max(a.length, b.length);
  if (longer < 3) return false;
  const limit = longer >= 9 ? 3 : longer >= 6 ? 2 : 1;
  return (longer >= 5 || a[0] === b[0]) && editDistance(a, b, limit) <= limit;
}
