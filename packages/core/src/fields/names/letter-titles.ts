import { foldText } from '../values/fold';

/** Titles of one letter, each with what shows that it is one: a title of others that stands beside it in the same list. */
const LETTERS: readonly (readonly [letter: string, beside: RegExp])[] = [
  ['m', /^(?:mme|mlle|melle|mmes|madame|monsieur|mesdames)\b/],
  ['d', /^(?:dna|dona)\b/],
  ['g', /^(?:ga|gda|gospa|gosp|gospodja|gdja)\b/],
];
/** Share of names that begin with one letter and a point, from which on it is no initial. */
const SAME_LETTER01 = 0.6;
const LEAST = 4;

/**
 * The small letters that are titles in a list of whole names and initials elsewhere: M. beside Mme, D. beside Dª, or one with
 * which most names begin. Empty where there are none.
 */
export function letterTitlesIn(names: readonly string[]): string {
  const starts = names.map((name) => ({
    letter: /^\s*([MDG])\.?\s+\p{Lu}[\p{L}.'’-]*\s+\S/iu.exec(name)?.[1]?.toLowerCase(),
    folded: foldText(name),
    raised: /^\s*D\.?ª/i.test(name),
  }));
  return LETTERS.filter(([letter, beside]) => {
    const begun = starts.filter((start) => start.letter === letter).length;
    const isBeside = starts.some(({ folded, raised }) => beside.test(folded) || (letter === 'd' && raised));
    return begun > 0 && (isBeside || (begun >= LEAST && begun >= SAME_LETTER01 * names.length));
  })
    .map(([letter]) => letter)
    .join('');
}
