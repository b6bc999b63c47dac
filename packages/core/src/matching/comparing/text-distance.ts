const WIDTH = 256;
// Three rows used over and over: the comparison is the innermost loop of a scan.
const ROWS: [Int32Array, Int32Array, Int32Array] = [
  new Int32Array(WIDTH),
  new Int32Array(WIDTH),
  new Int32Array(WIDTH),
];

/** The letters that occur, as bits. */
export function lettersOf(text: string): number {
  let bits = 0;
  for (let i = 0; i < text.length; i++) bits |= 1 << (text.charCodeAt(i) & 31);
  return bits;
}

/** How many bits are set. */
export function countBits(bits: number): number {
  let x = bits - ((bits >>> 1) & 0x55555555);
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

const LEFT = new Uint16Array(WIDTH * 4);
const RIGHT = new Uint16Array(WIDTH * 4);

/**
 * Optimal string alignment distance (Damerau-Levenshtein without overlapping swaps), given up above `limit`.
 * Returns limit + 1 when the distance is larger. Cost: length times limit; most pairs that are far apart are told by
 * their length and letters alone, since one edit changes at most two of the letters that occur.
 */
export function editDistance(a: string, b: string, limit: number): number {
  if (a === b) return 0;
  const [longA, longB] = [a.length, b.length];
  if (Math.abs(longA - longB) > limit) return limit + 1;
  if (countBits(lettersOf(a) ^ lettersOf(b)) > 2 * limit) return limit + 1;
  if (longA > LEFT.length || longB > RIGHT.length) return limit + 1;
  for (let i = 0; i < longA; i++) LEFT[i] = a.charCodeAt(i);
  for (let i = 0; i < longB; i++) RIGHT[i] = b.charCodeAt(i);
  return unitDistance(LEFT, 0, longA, RIGHT, 0, longB, limit);
}

/** The same of two stretches of code units, each from its first place to before its last. */
export function unitDistance(
  a: Uint16Array,
  firstA: number,
  lastA: number,
  b: Uint16Array,
  firstB: number,
  lastB: number,
  limit: number,
): number {
  if (Math.abs(lastA - firstA - (lastB - firstB)) > limit) return limit + 1;
  // What both begin and end with costs nothing; a swap stays whole, since its letters differ on both sides.
  let [fromA, fromB, toA, toB] = [firstA, firstB, lastA, lastB];
  while (fromA < toA && fromB < toB && a[fromA] === b[fromB]) {
    fromA++;
    fromB++;
  }
  while (toA > fromA && toB > fromB && a[toA - 1] === b[toB - 1]) {
    toA--;
    toB--;
  }
  const [n, m] = [toA - fromA, toB - fromB];
  if (n === 0 || m === 0) return Math.min(Math.max(n, m), limit + 1);
  if (n >= WIDTH || m >= WIDTH) return limit + 1;
  let [before, previous, row] = ROWS;
  for (let j = 0; j <= m; j++) previous[j] = j;
  for (let i = 1; i <= n; i++) {
    row[0] = i;
    let least = i;
    const x = a[fromA + i - 1] ?? 0;
    for (let j = 1; j <= m; j++) {
      const y = b[fromB + j - 1] ?? 0;
      let d = Math.min((previous[j] ?? 0) + 1, (row[j - 1] ?? 0) + 1, (previous[j - 1] ?? 0) + (x === y ? 0 : 1));
      if (i > 1 && j > 1 && x === b[fromB + j - 2] && a[fromA + i - 2] === y) d = Math.min(d, (before[j - 2] ?? 0) + 1);
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
