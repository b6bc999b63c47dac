import type { ColumnComparer } from '../comparing/column-compare';
import type { MatchGroup, ScoredPair } from '../pairs/group';
import { findHouseholds, isOfOneHome, sharesAddressAndLine } from '../households';
import { level, namesOf, TURNS } from '../comparing/levels';
import type { MatchOptions } from '../match-options';
import { levelsOf, type MatchModel } from './model';
import { pairCode, type PairList } from '../pairs/pair-list';
import type { People } from '../people/people-store';
import { bitsOfProbability, scoreComparison } from './score';
import { groupPeople } from '../comparing/sets';

/** Pairs this much below what is possible may yet be one person together with others. */
const LINK_BITS = -6;
const INITIAL = level('given', 'initial');

/** What scoring finds: pairs that may be one person, and different people of one home. */
export interface Scored {
  pairs: ScoredPair[];
  homes: { a: number; b: number }[];
}

/** Weighs what was compared, from one pair to before another. */
export function scorePairs(
  people: People,
  candidates: PairList,
  model: MatchModel,
  { keptApart }: Pick<MatchOptions, 'keptApart'>,
  from = 0,
  to = candidates.count,
): Scored {
  const pairs: ScoredPair[] = [];
  const homes: { a: number; b: number }[] = [];
  const possible = bitsOfProbability(model.thresholds.possible);
  const keep = possible + LINK_BITS;
  const nowhere = ['', ''] as const;
  // An initial says most where few names begin with it.
  const [rarest = ''] = [...model.letterShare].sort(([x, a], [y, b]) => a - b || (x < y ? -1 : 1))[0] ?? [];
  // What a pattern weighs at most, however rare the names: most pairs are told by that, and not looked at one by one.
  const most = new Map<number, number>();
  const mostOf = (pattern: number): number => {
    const known = most.get(pattern);
    if (known !== undefined) return known;
    const levels = levelsOf(pattern);
    const given = levels[0] === INITIAL ? ([rarest, ''] as const) : nowhere;
    const bits = scoreComparison(model, { levels, swapped: false, given, family: nowhere });
    most.set(pattern, bits);
    return bits;
  };
  const atHome = new Map<number, boolean>();
  const mayBeAtHome = (pattern: number): boolean => {
    const known = atHome.get(pattern) ?? sharesAddressAndLine(levelsOf(pattern));
    atHome.set(pattern, known);
    return known;
  };
  for (let i = from; i < to; i++) {
    const { a, b, pattern, turn } = candidates.at(i);
    const home = mayBeAtHome(pattern);
    if (!home && turn === TURNS.none && mostOf(pattern) < keep) continue;
    const [x, y] = [people.at(a), people.at(b)];
    if (!x || !y) continue;
    const comparison = { levels: levelsOf(pattern), ...namesOf(x, y, turn) };
    const bits = keptApart?.has(pairCode(a, b)) ? -Infinity : scoreComparison(model, comparison);
    if (bits >= keep) pairs.push({ a, b, bits });
    if (home && bits < possible && isOfOneHome(model, comparison)) homes.push({ a, b });
  }
  return { pairs, homes };
}

/** Groups whoever may be one person. */
export function groupScored(
  comparer: ColumnComparer,
  model: MatchModel,
  pairs: readonly ScoredPair[],
  { keptApart, threshold01, onlyAgreeing }: Pick<MatchOptions, 'keptApart' | 'threshold01' | 'onlyAgreeing'>,
): MatchGroup[] {
  return groupPeople({
    model,
    compare: (a, b) => comparer.compare(a, b),
    isKeptApart: keptApart?.size ? (a, b) => keptApart.has(pairCode(a, b)) : () => false,
    pairs,
    thresholdBits: bitsOfProbability(threshold01),
    onlyAgreeing,
  });
}

export function householdsOf({ pairs, homes }: Scored, { thresholds }: MatchModel): number[][] {
  const possible = bitsOfProbability(thresholds.possible);
  return findHouseholds(
    homes,
    pairs.filter(({ bits }) => bits >= possible),
  );
}

/** Pairs in two halves that share nobody, directly or by way of others, so that each is grouped by itself. */
export function halved(people: number, pairs: readonly ScoredPair[]): [ScoredPair[], ScoredPair[]] {
  const above = new Int32Array(people).map((_, i) => i);
  const rootOf = (i: number): number => {
    let at = i;
    for (let up = above[at] ?? at; up !== at; up = above[at] ?? at) {
      above[at] = above[up] ?? up;
      at = up;
    }
    return at;
  };
  for (const { a, b } of pairs) {
    const [x, y] = [rootOf(a), rootOf(b)];
    if (x !== y) above[Math.max(x, y)] = Math.min(x, y);
  }
  const sizes = new Int32Array(people);
  for (const { a } of pairs) {
    const root = rootOf(a);
    sizes[root] = (sizes[root] ?? 0) + 1;
  }
  const isFirst = new Uint8Array(people);
  let taken = 0;
  for (let i = 0; i < people && taken * 2 < pairs.length; i++) {
    const size = sizes[i] ?? 0;
    if (size === 0) continue;
    isFirst[i] = 1;
    taken += size;
  }
  const halves: [ScoredPair[], ScoredPair[]] = [[], []];
  for (const pair of pairs) halves[isFirst[rootOf(pair.a)] ? 0 : 1].push(pair);
  return halves;
}
