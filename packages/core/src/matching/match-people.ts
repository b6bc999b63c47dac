import { buildBlocks, PairFinder } from './pairs/candidates';
import { COMPARED, type MatchContext } from './comparing/levels';
import { ColumnComparer } from './comparing/column-compare';
import type { MatchOptions, MatchResult } from './match-options';
import { learnNicknames } from './model/learn-nicknames';
import { learnWeights, patternOf, type MatchModel } from './model/model';
import type { ScoredPair } from './pairs/group';
import { PairList } from './pairs/pair-list';
import { forEachPerson, PeopleStore, storeOf, type People } from './people/people-store';
import type { MatchPerson } from './people/person';
import { groupScored, householdsOf, scorePairs } from './model/decide';
import { contextOf, findNames, type Names } from './people/names';
import { countNeighbours, findSharedLines } from './model/shared-lines';

/** What a scan that was stopped gives. */
export const NOTHING_FOUND = { pairs: [], groups: [], households: [] };

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
  if (stopped) return { model, ...NOTHING_FOUND, comparedPairs: candidates.count, stopped };
  const scored = scorePairs(people, candidates, model, options);
  const groups = groupScored(comparer, model, scored.pairs, options);
  return {
    model,
    pairs: scored.pairs,
    groups,
    households: householdsOf(scored, model),
    comparedPairs: candidates.count,
    stopped,
  };
}
