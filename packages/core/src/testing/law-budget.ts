/**
 * Laws over random cases have a time budget in `./test`: as many cases as fit, one at least. `./loom bench laws` sets
 * GRAY_LOOM_LAWS=whole: then each runs ten times its cases, however long that takes.
 */
const IS_WHOLE = process.env.GRAY_LOOM_LAWS === 'whole';
const TIMES_MORE = 10;

/** Limit of a test that holds a law; far above its budget, for a machine that is busy with something else. */
export const LAW_TIMEOUT_MS = IS_WHOLE ? 4 * 3_600_000 : 600_000;

/** Parameters of fast-check for a law of so many cases, in a budget of so many seconds. */
export function lawWithin(
  budgetS: number,
  cases: number,
): { numRuns: number; interruptAfterTimeLimit?: number; markInterruptAsFailure?: false } {
  if (IS_WHOLE) return { numRuns: cases * TIMES_MORE };
  return { numRuns: cases, interruptAfterTimeLimit: budgetS * 1000, markInterruptAsFailure: false };
}

/** Numbers of cases for a law without fast-check, in the same way. */
export function* casesWithin(budgetS: number, cases: number): Generator<number> {
  const endMs = IS_WHOLE ? Infinity : performance.now() + budgetS * 1000;
  for (let i = 0; i < (IS_WHOLE ? cases * TIMES_MORE : cases); i++) {
    if (i > 0 && performance.now() > endMs) return;
    yield i;
  }
}
