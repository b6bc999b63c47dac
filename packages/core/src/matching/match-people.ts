import { buildBlocks, PairFinder } from './candidates';
import { COMPARED, namesOf, TURNS, type ComparedField, type MatchContext } from './levels';
import { ColumnComparer } from './column-compare';
import type { MatchGroup, ScoredPair } from './group';
import { findHouseholds, isOfOneHome, sharesAddressAndLine } from './households';
import { learnNicknames } from './learn-nicknames';
import { learnWeights, levelsOf, patternOf, type MatchModel } from './model';
import { PairList } from './pair-list';
import { forEachPerson, PeopleStore, storeOf, type People } from './people-store';
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

const givenSaid = ({ given }: MatchPerson): string => given[0] ?? '';
const familySaid = ({ familyText, familyInferred }: MatchPerson): string => (familyInferred ? '' : familyText);

function shares(people: People, wordOf: (person: MatchPerson) => string): Map<string, number> {
  const counts = new Map<string, number>();
  let total = 0;
  forEachPerson(people, (person) => {
    const word = wordOf(person);
    if (!word) return;
    counts.set(word, (counts.get(word) ?? 0) + 1);
    total++;
  });
  for (const [word, count] of counts) counts.set(word, count / total);
  return counts;
}

/** Whole names that more records carry than one person's few would account for, with their share of all records. */
function commonNames(people: People): Map<string, number> {
  const counts = new Map<string, number>();
  forEachPerson(people, ({ given: [given], familyText }) => {
    if (!given || !familyText) return;
    const key = given < familyText ? `${given} ${familyText}` : `${familyText} ${given}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  });
  const common = new Map<string, number>();
  for (const [key, count] of counts) if (count >= 4) common.set(key, (count - 2) / people.length);
  return common;
}

function randomPatterns({ length }: People, comparer: ColumnComparer): Map<number, number> {
  const counts = new Map<number, number>();
  const next = repeatable(length);
  const levels: number[] = COMPARED.map(() => 0);
  const tries = Math.min(RANDOM_PAIRS, length * 20);
  for (let i = 0; i < tries; i++) {
    const [x, y] = [next(length), next(length)];
    if (x === y) continue;
    comparer.compareInto(levels, x, y);
    const pattern = patternOf(levels);
    counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
  }
  return counts;
}

/** What a model counts over all people. */
interface Tallies extends Pick<MatchModel, 'givenShare' | 'familyShare' | 'letterShare' | 'nameShare'> {
  people: number;
  randomPatterns: Map<number, number>;
}

export function tallies(people: People, comparer: ColumnComparer): Tallies {
  return {
    people: people.length,
    randomPatterns: randomPatterns(people, comparer),
    givenShare: shares(people, givenSaid),
    familyShare: shares(people, familySaid),
    letterShare: shares(people, ({ given }) => given[0]?.[0] ?? ''),
    nameShare: commonNames(people),
  };
}

/** Learns a model from the people themselves: names' frequencies, shared lines, weights by EM on candidate pairs. */
export function learnModel(
  { people, randomPatterns, ...shares }: Tallies,
  neighbours: { home: number; office: number },
  pairs: PairList,
  learned: Learned,
  { ignored = [], thresholds = DEFAULT_THRESHOLDS, corrections = null, sharedLines = [] }: MatchOptions,
): MatchModel {
  const { priorBits, tables } = learnWeights({ patterns: pairs.counts(), randomPatterns, people, neighbours });
  return {
    version: `learned-${people}`,
    priorBits,
    tables,
    ...shares,
    rarest01: 1 / Math.max(2000, people),
    sharedLines: new Set([...learned.sharedLines, ...sharedLines]),
    givenNames: new Map(learned.givenNames),
    familyNames: new Map(learned.familyNames),
    nicknames: new Set(learned.nicknames),
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

/** What a scan knows of its people before it compares them. */
export interface Learned extends Names {
  sharedLines: ReadonlySet<string>;
}

/** Learns from the people themselves what names there are, which stand for one another, and which lines are shared. */
export function learnNames(people: People): Learned {
  const nicknames = learnNicknames(people);
  return {
    nicknames,
    givenNames: findNames(people, givenSaid),
    familyNames: findNames(people, familySaid),
    sharedLines: findSharedLines(people, nicknames),
  };
}

/** What is known beforehand with what a person said. */
export function knownOf(learned: Learned, { sharedLines = [], ignored, model }: MatchOptions): MatchContext {
  return contextOf({
    ...learned,
    sharedLines: new Set([...learned.sharedLines, ...sharedLines]),
    ignored: model?.ignored ?? ignored,
  });
}

/**
 * Finds duplicates among all people: keys, compare, weigh, decide, group.
 * Deterministic and independent of the order of people up to the numbering of members. Cost near linear.
 */
export function matchPeople(everybody: People, options: MatchOptions): MatchResult {
  const people = everybody instanceof PeopleStore ? everybody : storeOf(everybody);
  people.seal();
  const learned = options.model ?? learnNames(people);
  const comparer = new ColumnComparer(people, knownOf(learned, options));
  const finder = new PairFinder(buildBlocks(people));
  const candidates = new PairList();
  const every = Math.max(1, Math.ceil(people.length / 100));
  let stopped = false;
  for (let from = 0; from < people.length && !stopped; from += every) {
    finder.compare(comparer, candidates, from, Math.min(people.length, from + every));
    stopped = options.onProgress?.(from / people.length) === false;
  }
  const model =
    options.model ??
    learnModel(tallies(people, comparer), countNeighbours(people, learned.nicknames), candidates, learned, options);
  return decide(people, comparer, candidates, model, options, stopped);
}

/** Weighs what was compared, and groups it. */
export function decide(
  people: PeopleStore,
  comparer: ColumnComparer,
  candidates: PairList,
  model: MatchModel,
  options: MatchOptions,
  stopped: boolean,
): MatchResult {
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
    const [x, y] = [people.at(a), people.at(b)];
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
        compare: (a, b) => comparer.compare(a, b),
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
