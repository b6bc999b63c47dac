import type { ColumnGuess } from './guess-columns';

/**
 * How much a table looks like one of contacts: the fields that its columns seem to hold, each once, by how certain that is.
 * Of several sheets the one with most is what somebody means who sends a spreadsheet; 0 says that nothing is known.
 */
export function contactLikeness(guesses: readonly Pick<ColumnGuess, 'field' | 'certainty01'>[]): number {
  const best = new Map<string, number>();
  for (const { field, certainty01 } of guesses)
    if (field !== null) best.set(field, Math.max(best.get(field) ?? 0, certainty01));
  return [...best.values()].reduce((sum, certainty01) => sum + certainty01, 0);
}
