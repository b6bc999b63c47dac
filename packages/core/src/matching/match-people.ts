import { buildBlocks, forEachPair } from './candidates';
import { COMPARED, namesOf, TURNS, type ComparedField, type MatchContext, type Turn } from './levels';
import { compareInto, comparePeople } from './compare';
import type { MatchGroup, ScoredPair } from './group';
import { findHouseholds, isOfOneHome, sharesAddressAndLine } from './households';
import { numberNames } from './level-cache';
import { learnNicknames } from './learn-nicknames';
import { learnWeights, levelsOf, patternOf, type MatchModel } from './model';
import type { MatchPerson } from './person';
import { scoreComparison } from './score';
import { groupPeople } from './sets';
import { contextOf, findNames, type Names } from './names';
import { countNeighbours, findSharedLines } from './shared-lines';

export interface MatchOptions {
  /** Probability from which two records count as one person. */
  threshold01: number;
  /** Lines that a person said are shared, beside those that the data tell. */
  sharedLines?: readonly string[];
  /** Fields that are not compared. */
  ignored?: ComparedField[];
  thresholds?: MatchModel['thresholds'];
  /** What people's decisions add, where they were adopted. */
  corrections?: MatchModel['corrections'];
  /** Groups only records whose names agree, as a batch asks for. */
  onlyAgreeing?: boolean;
  /** Called now and then with the share done; returning false stops the scan. */
  onProgress?: (done01: number) => boolean;
  /** Pairs a person keeps apart, as indexes. */
  isKeptApart?: (a: number, b: number) => boolean;
  /** A model learned before; without one it is learned from these people. */
  model?: MatchModel;
}

export interface MatchResult {
  model: MatchModel;
  pairs: ScoredPair[];
  groups: MatchGroup[];
  /** People of one home, never to be merged. */
  households: number[][];
  comparedPairs: number;
  stopped: boolean;
}

/** Pairs this much below what is possible may yet be one person together with others. */
const LINK_BITS = -6;
const RANDOM_PAIRS = 40_000;
export const DEFAULT_THRESHOLDS = { certain: 0.995, likely: 0.9, possible: 0.5 };

/** Linear congruential numbers (Numerical Recipes), so that random pairs are the same at every run. */
function repeatable(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 4294967296) * below);
  };
}

function shares(words: Iterable<string>): Map<string, number> {
  const counts = new Map<string, number>();
  let total = 0;
  for (const word of words) {
    if (!word) continue;
    counts.set(word, (counts.get(word) ?? 0) + 1);
    total++;
  }
  for (const [word, count] of counts) counts.set(word, count / total);
  return counts;
}

/** Whole names that more records carry than one person's few would account for, with their share of all records. */
function commonNames(people: readonly MatchPerson[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const person of people) {
    if (!person.given[0] || !person.familyText) continue;
    const key = [person.given[0], person.familyText].sort().join(' ');
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const common = new Map<string, number>();
  for (const [key, count] of counts) if (count >= 4) common.set(key, (count - 2) / people.length);
  return common;
}

/** The candidate pairs of a scan with their patterns, compared once and kept in typed arrays that grow. */
class PairList {
  private a = new Int32Array(1 << 16);
  private b = new Int32Array(1 << 16);
  private pattern = new Int32Array(1 << 16);
  private turned = new Uint8Array(1 << 16);
  count = 0;

  push(a: number, b: number, pattern: number, turn: Turn): void {
    if (this.count === this.a.length) {
      const grow = (from: Int32Array) => {
        const to = new Int32Array(from.length * 2);
        to.set(from);
        return to;
      };
      [this.a, this.b, this.pattern] = [grow(this.a), grow(this.b), grow(this.pattern)];
      const turned = new Uint8Array(this.turned.length * 2);
      turned.set(this.turned);
      this.turned = turned;
    }
    this.a[this.count] = a;
    this.b[this.count] = b;
    this.pattern[this.count] = pattern;
    this.turned[this.count] = turn;
    this.count++;
  }

  at(i: number): { a: number; b: number; pattern: number; turn: Turn } {
    const turn = (this.turned[i] ?? 0) as Turn;
    return { a: this.a[i] ?? 0, b: this.b[i] ?? 0, pattern: this.pattern[i] ?? 0, turn };
  }

  counts(): Map<number, number> {
    const counts = new Map<number, number>();
    for (let i = 0; i < this.count; i++) {
      const pattern = this.pattern[i] ?? 0;
      counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
    }
    return counts;
  }
}

function randomPatterns(people: readonly MatchPerson[], context: MatchContext): Map<number, number> {
  const counts = new Map<number, number>();
  const next = repeatable(people.length);
  const tries = Math.min(RANDOM_PAIRS, people.length * 20);
  for (let i = 0; i < tries; i++) {
    const x = people[next(people.length)];
    const y = people[next(people.length)];
    if (!x || !y || x === y) continue;
    const pattern = patternOf(comparePeople(x, y, context).levels);
    counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
  }
  return counts;
}

/** Learns a model from the people themselves: names' frequencies, shared lines, weights by EM on candidate pairs. */
function learnModel(
  people: readonly MatchPerson[],
  pairs: PairList,
  sharedLines: Set<string>,
  names: Names,
  {
    ignored = [],
    thresholds = DEFAULT_THRESHOLDS,
    corrections = null,
  }: Pick<MatchOptions, 'ignored' | 'thresholds' | 'corrections'>,
): MatchModel {
  const { priorBits, tables } = learnWeights({
    patterns: pairs.counts(),
    randomPatterns: randomPatterns(people, contextOf({ ...names, sharedLines, ignored })),
    people: people.length,
    neighbours: countNeighbours(people, names.nicknames),
  });
  return {
    version: `learned-${people.length}`,
    priorBits,
    tables,
    givenShare: shares(people.map((person) => person.given[0] ?? '')),
    familyShare: shares(people.map((person) => (person.familyInferred ? '' : person.familyText))),
    letterShare: shares(people.map(({ given }) => given[0]?.[0] ?? '')),
    rarest01: 1 / Math.max(2000, people.length),
    nameShare: commonNames(people),
    sharedLines,
    givenNames: new Map(names.givenNames),
    familyNames: new Map(names.familyNames),
    nicknames: new Set(names.nicknames),
    ignored,
    corrections,
    thresholds,
  };
}

/** How many pairs weigh how much, from the least weight kept on, one bit a step: where a threshold may lie. */
export interface PairHistogram {
  from: number;
  counts: number[];
}

export function histogramOf(pairs: readonly ScoredPair[]): PairHistogram {
  const counts = new Array<number>(HISTOGRAM.to - HISTOGRAM.from).fill(0);
  for (const { bits } of pairs) {
    if (bits < HISTOGRAM.from) continue;
    const step = Math.min(counts.length - 1, Math.floor(bits) - HISTOGRAM.from);
    counts[step] = (counts[step] ?? 0) + 1;
  }
  return { from: HISTOGRAM.from, counts };
}

const HISTOGRAM = { from: -6, to: 30 };

export function bitsOfProbability(probability01: number): number {
  return Math.log2(probability01 / (1 - probability01));
}

/** Compares whoever shares a key. What they were brought together by is let go with it. */
function comparePairs(
  people: readonly MatchPerson[],
  context: MatchContext,
  onProgress: MatchOptions['onProgress'],
): { candidates: PairList; stopped: boolean } {
  const candidates = new PairList();
  const levels: number[] = COMPARED.map(() => 0);
  let stopped = false;
  const every = Math.max(1, Math.floor(people.length / 100));
  let reported = -1;
  forEachPair(buildBlocks(people), (a, b) => {
    if (stopped) return;
    const step = Math.floor(a / every);
    if (step !== reported) {
      reported = step;
      if (onProgress?.(a / people.length) === false) stopped = true;
    }
    const x = people[a];
    const y = people[b];
    if (!x || !y) return;
    const turn = compareInto(levels, x, y, context);
    candidates.push(a, b, patternOf(levels), turn);
  });
  return { candidates, stopped };
}

/**
 * Finds duplicates among all people: keys, compare, weigh, decide, group.
 * Deterministic and independent of the order of people up to the numbering of members. Cost near linear.
 */
export function matchPeople(people: readonly MatchPerson[], options: MatchOptions): MatchResult {
  numberNames(people);
  const names = options.model ?? {
    nicknames: learnNicknames(people),
    givenNames: findNames(people.map(({ given }) => given[0] ?? '')),
    familyNames: findNames(people.map(({ familyText, familyInferred }) => (familyInferred ? '' : familyText))),
  };
  const sharedKeys = new Set(options.model?.sharedLines ?? findSharedLines(people, names.nicknames));
  for (const line of options.sharedLines ?? []) sharedKeys.add(line);
  const context = contextOf({ ...names, sharedLines: sharedKeys, ignored: options.model?.ignored ?? options.ignored });
  const { candidates, stopped } = comparePairs(people, context, options.onProgress);
  const model = options.model ?? learnModel(people, candidates, sharedKeys, names, options);
  const pairs: ScoredPair[] = [];
  const keep = bitsOfProbability(model.thresholds.possible) + LINK_BITS;
  // What a pattern weighs at most, however rare the names: most pairs are told by that, and not looked at one by one.
  const most = new Map<number, number>();
  const mostOf = (pattern: number): number => {
    const known = most.get(pattern);
    if (known !== undefined) return known;
    const nowhere = ['', ''] as const;
    const bits = scoreComparison(model, {
      levels: levelsOf(pattern),
      swapped: false,
      given: nowhere,
      family: nowhere,
    });
    most.set(pattern, bits);
    return bits;
  };
  const homes: { a: number; b: number }[] = [];
  const possible = bitsOfProbability(model.thresholds.possible);
  const atHome = new Map<number, boolean>();
  const mayBeAtHome = (pattern: number): boolean => {
    const known = atHome.get(pattern) ?? sharesAddressAndLine(levelsOf(pattern));
    atHome.set(pattern, known);
    return known;
  };
  for (let i = 0; i < candidates.count && !stopped; i++) {
    const { a, b, pattern, turn } = candidates.at(i);
    const home = mayBeAtHome(pattern);
    if (!home && turn === TURNS.none && mostOf(pattern) < keep) continue;
    const [x, y] = [people[a], people[b]];
    if (!x || !y) continue;
    const comparison = { levels: levelsOf(pattern), ...namesOf(x, y, turn) };
    const bits = options.isKeptApart?.(a, b) ? -Infinity : scoreComparison(model, comparison);
    if (bits >= keep) pairs.push({ a, b, bits });
    if (home && bits < possible && isOfOneHome(model, comparison)) homes.push({ a, b });
  }
  const groups = stopped
    ? []
    : groupPeople({
        model,
        personAt: (i) => people[i],
        isKeptApart: options.isKeptApart ?? (() => false),
        pairs,
        thresholdBits: bitsOfProbability(options.threshold01),
        onlyAgreeing: options.onlyAgreeing,
      });
  const households = findHouseholds(
    homes,
    pairs.filter(({ bits }) => bits >= possible),
  );
  return { model, pairs, groups, households, comparedPairs: candidates.count, stopped };
}
