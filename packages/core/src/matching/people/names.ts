import { areNicknames, isFormalName, isKnownGivenName } from '../../fields';
import { COMPARED, type ComparedField, type MatchContext } from '../comparing/levels';
import { nicknameKey } from '../model/learn-nicknames';
import { forEachPerson, type People } from './people-store';
import type { MatchPerson } from './person';
import { editDistance } from '../comparing/text-distance';

const NAME_COUNT = 5;

/** Words that occur often enough in the data to be names of their own, with how often. */
export function findNames(people: People, wordOf: (person: MatchPerson) => string): Map<string, number> {
  const counts = new Map<string, number>();
  forEachPerson(people, (person) => {
    const word = wordOf(person);
    if (word) counts.set(word, (counts.get(word) ?? 0) + 1);
  });
  for (const [name, count] of counts) if (count < NAME_COUNT) counts.delete(name);
  return counts;
}

/** What the data tell of names. */
export interface Names {
  givenNames: ReadonlyMap<string, number>;
  familyNames: ReadonlyMap<string, number>;
  /** Pairs of given names that stand for one another, learned from the data (nicknameKey). */
  nicknames: ReadonlySet<string>;
}

/** How many times oftener a word has to stand as one part of a name than as the other. */
const TURNED = 5;
/** A slip of a common name occurs often as well, where there are many people; but seldom beside the name itself. */
const SLIP_SHARE = 0.04;

/** Every text that a word becomes when one letter is left out. */
function shortened(word: string): string[] {
  const texts: string[] = [];
  for (let i = 0; i < word.length; i++) texts.push(word.slice(0, i) + word.slice(i + 1));
  return texts;
}

/**
 * Names by what they are with one letter left out, so that the name a slip was made of is found without looking at all
 * (after the idea of deletion neighbourhoods; Mor and Fraenkel 1982).
 */
class NearestName {
  private index: Map<string, string[]> | null = null;
  private readonly found = new Map<string, string>();

  constructor(private readonly names: ReadonlyMap<string, number>) {}

  private build(): Map<string, string[]> {
    const index = new Map<string, string[]>();
    for (const name of this.names.keys()) {
      if (name.length < 3) continue;
      for (const text of [name, ...shortened(name)]) {
        const list = index.get(text);
        if (list) list.push(name);
        else index.set(text, [name]);
      }
    }
    return index;
  }

  /** The commonest name that a rare word is one slip away from; the word itself where there is none. */
  of(word: string): string {
    if (word.length < 3 || this.names.has(word)) return word;
    const known = this.found.get(word);
    if (known !== undefined) return known;
    this.index ??= this.build();
    let best = word;
    let most = 0;
    for (const text of [word, ...shortened(word)]) {
      for (const name of this.index.get(text) ?? []) {
        const count = this.names.get(name) ?? 0;
        if (count < most || (count === most && name >= best) || editDistance(name, word, 1) > 1) continue;
        best = name;
        most = count;
      }
    }
    this.found.set(word, best);
    return best;
  }
}

const contexts = new WeakMap<Names, MatchContext>();

/** What a comparison knows of all the data, by a model's names and shared lines. Made once per model. */
export function contextOf(
  model: Names & { sharedLines: ReadonlySet<string>; ignored?: readonly ComparedField[] },
): MatchContext {
  const known = contexts.get(model);
  if (known) return known;
  const { givenNames, familyNames, nicknames, sharedLines } = model;
  const areBoth = (names: ReadonlyMap<string, number>, a: string, b: string) => {
    const [x, y] = [names.get(a), names.get(b)];
    return a !== b && x !== undefined && y !== undefined && Math.min(x, y) >= SLIP_SHARE * Math.max(x, y);
  };
  const [given, family] = [new NearestName(givenNames), new NearestName(familyNames)];
  const context: MatchContext = {
    ignored: (model.ignored ?? []).map((field) => COMPARED.indexOf(field)),
    isShared: (key) => sharedLines.has(key),
    areTwoNames: (a, b) =>
      givenNames.has(a) || givenNames.has(b) ? areBoth(givenNames, a, b) : isKnownGivenName(a) && isKnownGivenName(b),
    areTwoFamilies: (a, b) => areBoth(familyNames, a, b),
    isFamilyName: (word) => familyNames.has(word),
    isTurned: (first, last) => {
      const asGiven = givenNames.get(last) ?? 0;
      return (
        asGiven >= TURNED &&
        asGiven >= TURNED * Math.max(1, familyNames.get(last) ?? 0) &&
        !isKnownGivenName(first) &&
        TURNED * (givenNames.get(first) ?? 0) <= Math.max(TURNED, familyNames.get(first) ?? 0)
      );
    },
    areNicknames: (a, b) => areNicknames(a, b) || nicknames.has(nicknameKey(a, b)),
    areFormal: (a, b) => isFormalName(a) && isFormalName(b),
    nearestGiven: (word) => given.of(word),
    nearestFamily: (word) => family.of(word),
  };
  contexts.set(model, context);
  return context;
}
