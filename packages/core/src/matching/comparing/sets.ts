import { COMPARED, LEVELS, type ComparedField, type Comparison } from './levels';
import { comparePeople } from './compare';
import { groupPairs, type MatchGroup, type ScoredPair, type WeighSets } from '../pairs/group';
import type { MatchModel } from '../model/model';
import { pairCode } from '../pairs/pair-list';
import type { MatchPerson } from '../people/person';
import { scoreComparison } from '../model/score';
import { contextOf } from '../people/names';

/** Levels of each field from the one that says most for one person to the one that says most against it. */
const BEST_FIRST: Record<ComparedField, readonly string[]> = {
  given: ['same', 'nickname', 'slip', 'close', 'part', 'initial', 'similar', 'different'],
  family: ['same', 'slip', 'part', 'close', 'inferredSame', 'similar', 'different', 'inferredDifferent'],
  email: ['same', 'near', 'sameLocal', 'close', 'sameShared', 'different'],
  phone: ['same', 'sameShared', 'slip', 'different'],
  bday: ['same', 'swapped', 'slip', 'different'],
  place: ['same', 'sameStreet', 'samePostal', 'sameTown', 'different'],
  organization: ['same', 'close', 'different'],
  // Senior and junior contradict whatever else there is.
  generation: ['different', 'same', 'onlyOne'],
};

/** Rank by level number; level 0, nothing to compare, comes last. */
const RANK = COMPARED.map((field) =>
  (LEVELS[field] as readonly string[]).map((name, level) => (level === 0 ? 99 : BEST_FIRST[field].indexOf(name))),
);
const GIVEN = COMPARED.indexOf('given');
const FAMILY = COMPARED.indexOf('family');

/**
 * Two sets of records compared as a whole: in each field the best agreement that any two records show. An initial counts
 * only where no two written-out names were compared, or a J would bind a John to a Jane.
 */
export function compareSets(
  a: readonly number[],
  b: readonly number[],
  compare: (a: number, b: number) => Comparison,
): Comparison {
  const [i0, j0] = [a[0], b[0]];
  if (a.length === 1 && b.length === 1 && i0 !== undefined && j0 !== undefined) return compare(i0, j0);
  const levels = COMPARED.map(() => 0);
  let result: Comparison = { levels, swapped: false, given: ['', ''], family: ['', ''] };
  let writtenOut = false;
  for (const i of a) {
    for (const j of b) {
      const comparison = compare(i, j);
      const isWrittenOut = (comparison.given[0]?.length ?? 0) > 1 && (comparison.given[1]?.length ?? 0) > 1;
      if (isWrittenOut && (comparison.levels[GIVEN] ?? 0) !== 0 && !writtenOut) {
        writtenOut = true;
        levels[GIVEN] = 0;
      }
      for (let field = 0; field < levels.length; field++) {
        const level = comparison.levels[field] ?? 0;
        if (field === GIVEN && writtenOut && !isWrittenOut) continue;
        if ((RANK[field]?.[level] ?? 99) >= (RANK[field]?.[levels[field] ?? 0] ?? 99)) continue;
        levels[field] = level;
        if (field === GIVEN) result = { ...result, given: comparison.given, swapped: comparison.swapped };
        if (field === FAMILY) result = { ...result, family: comparison.family };
      }
    }
  }
  return result;
}

/** What of the names two records of one batch may differ in; anything else waits for a person. */
const NAMES_OF_A_BATCH: Record<'given' | 'family', ReadonlySet<string>> = {
  given: new Set(['absent', 'same', 'nickname', 'initial', 'slip']),
  family: new Set(['absent', 'same', 'slip', 'part', 'inferredSame']),
};

export interface GroupingOf {
  model: MatchModel;
  /** How two of the people compare, by their numbers, the smaller first. */
  compare: (a: number, b: number) => Comparison;
  isKeptApart: (a: number, b: number) => boolean;
  pairs: readonly ScoredPair[];
  thresholdBits: number;
  /** Puts only records together whose names agree, as a batch asks for. */
  onlyAgreeing?: boolean;
}

const NOTHING: Comparison = { levels: COMPARED.map(() => 0), swapped: false, given: ['', ''], family: ['', ''] };

/** How people compare by a model, for few people who are known by any numbers. */
export function comparisons(
  model: MatchModel,
  personAt: (i: number) => MatchPerson | undefined,
): GroupingOf['compare'] {
  const context = contextOf(model);
  return (a, b) => {
    const [x, y] = [personAt(a), personAt(b)];
    return x && y ? comparePeople(x, y, context) : NOTHING;
  };
}

/**
 * Groups people from the pairs that may be one. A group whose members do not all agree on their names is never certain,
 * however much else they share. Comparisons of two people are made once.
 */
export function groupPeople({
  model,
  compare: compareTwo,
  isKeptApart,
  pairs,
  thresholdBits,
  onlyAgreeing = false,
}: GroupingOf): MatchGroup[] {
  const known = new Map<number, Comparison>();
  const compare = (a: number, b: number): Comparison => {
    const [i, j] = a < b ? [a, b] : [b, a];
    const key = pairCode(i, j);
    const found = known.get(key);
    if (found) return found;
    const made = compareTwo(i, j);
    known.set(key, made);
    return made;
  };
  const agree = (a: number, b: number) => {
    const { levels } = compare(a, b);
    return (
      NAMES_OF_A_BATCH.given.has(LEVELS.given[levels[GIVEN] ?? 0] ?? '') &&
      NAMES_OF_A_BATCH.family.has(LEVELS.family[levels[FAMILY] ?? 0] ?? '')
    );
  };
  const apart = (i: number, j: number) => isKeptApart(i, j) || (onlyAgreeing && !agree(i, j));
  const weigh: WeighSets = (a, b) =>
    a.some((i) => b.some((j) => apart(i, j))) ? -Infinity : scoreComparison(model, compareSets(a, b, compare));
  const short = Math.log2(model.thresholds.certain / (1 - model.thresholds.certain)) - 0.01;
  return groupPairs(pairs, thresholdBits, weigh).map((group) =>
    group.members.every((a, i) => group.members.slice(i + 1).every((b) => agree(a, b)))
      ? group
      : { ...group, weakestBits: Math.min(group.weakestBits, short) },
  );
}
