import { foldText, foldWords } from '../../fields';
import { isClose } from '../comparing/text-distance';
import { keyHash, wholeNameKeys } from './keys';
import type { PersonFacts } from './person-facts';

/** Letters that a keyboard may lack, as two others. Folding writes most of them as one (DIN 5007-2; ICAO Doc 9303, part 3). */
const AS_TWO: Record<string, string> = { ö: 'oe', ø: 'oe', ä: 'ae', æ: 'ae', å: 'aa', ü: 'ue' };
const TWO_LETTERS = /oe|ae|aa|ue/g;
/** Ways of writing one name that are looked for. */
const MOST_WRITINGS = 8;

type Named = Pick<PersonFacts, 'givenName' | 'familyName'>;

const asTwo = (name: string): string =>
  foldText(
    name
      .normalize('NFC')
      .toLowerCase()
      .replace(/[öøäæåü]/g, (letter) => AS_TWO[letter] ?? letter),
  );

/** A name without regard to how its letters were transcribed: "Oedegaard", "Ødegård" and "Odegard" are the same. */
export const nameUntranscribed = (name: string): string => asTwo(name).replace(TWO_LETTERS, ([first = '']) => first);

/** The match forms that a name may have been written in, its own first. */
function writingsOf(name: string): string[] {
  const found = new Set([foldText(name), asTwo(name)]);
  for (const form of found) {
    for (const { index, 0: two } of form.matchAll(TWO_LETTERS)) {
      if (found.size >= MOST_WRITINGS) return [...found];
      found.add(form.slice(0, index + 1) + form.slice(index + two.length));
    }
  }
  return [...found];
}

/** Numbers of the keys that the whole name of somebody has under each way of writing it. At most `MOST_WRITINGS` squared. */
export function keysOfWritings({ givenName = '', familyName = '' }: Named): number[] {
  const keys = new Set<number>();
  for (const given of writingsOf(foldWords(givenName).length > 1 ? (givenName.split(/\s+/)[0] ?? '') : givenName))
    for (const familyText of writingsOf(familyName))
      for (const key of wholeNameKeys({ given: [given], familyText, familyInferred: false })) keys.add(keyHash(key));
  return [...keys];
}

/**
 * Whether two whole names may be one that was typed in another way: transcribed, with given and family name in each other's
 * place, or with a slip or two in either. Says nothing of how likely that is; it is for a person who looks.
 */
export function mayBeOneName(a: Named, b: Named): boolean {
  const [aGiven, aFamily, bGiven, bFamily] = [a.givenName, a.familyName, b.givenName, b.familyName].map((name) =>
    nameUntranscribed(name ?? ''),
  ) as [string, string, string, string];
  if (!aGiven || !aFamily || !bGiven || !bFamily) return false;
  const like = (x: string, y: string) => x === y || isClose(x, y);
  return (
    (like(aGiven, bGiven) && like(aFamily, bFamily)) ||
    // The other way round only where nothing else is amiss: many a family name is close to some given name.
    (aGiven === bFamily && aFamily === bGiven)
  );
}
