import { foldText } from '../values/fold';
import { PREFIXES, TITLES_AS_WRITTEN, TITLES_OR_NAMES, TITLES_WITH_POINT } from './name-tables';

/** Letters that are not Latin. */
const BEYOND_LATIN = /[\u0370-\u1cff]/u;
/** Titles of the Iberian peninsula that end in a raised letter: "D.ª", "Eng.º". */
const RAISED = /^(?:d|eng|arq|prof|ex\.?m|il\.?m)\.?[ªº]$/iu;

/**
 * Whether a word is a title before a name, with so many words behind it. `letters` are single letters that are titles in the
 * list at hand.
 */
export function isPrefix(token: string, following: number, letters = ''): boolean {
  if (token.length <= 2 && letters && letters.includes(token.replace('.', '').toLowerCase())) return following > 0;
  if (RAISED.test(token)) return true;
  if (BEYOND_LATIN.test(token) && TITLES_AS_WRITTEN.has(token.toLowerCase().replace(/\.$/, ''))) return following > 0;
  const word = foldText(token).replace(/ /g, '');
  if (TITLES_WITH_POINT.has(word)) return token.endsWith('.');
  if (TITLES_OR_NAMES.has(word)) return following > 1;
  return PREFIXES.has(word);
}
