import type { Corrections } from './corrections';
import { COMPARED, LEVELS, type ComparedField } from '../comparing/levels';

/**
 * What kinds of pair there are: one person twice, two people of one home, two of one office, two who have nothing to
 * do with each other. The last three are different people; keeping them apart lets a shared phone and address prove
 * little once a home explains them as well (a mixture over the classes of Fellegi & Sunter 1969 and Winkler 1988).
 */
export const CLASSES = ['match', 'home', 'office', 'random'] as const;
export type PairClass = (typeof CLASSES)[number];

/** Probability of each level in each class, given that both sides have something to compare. Level 0 has none. */
export type LevelTable = Record<ComparedField, number[]>;

export interface MatchModel {
  version: string;
  /** log2 of how many pairs of all pairs are of the class. */
  priorBits: Record<PairClass, number>;
  tables: Record<PairClass, LevelTable>;
  /** How often a folded given or family name occurs, 0 to 1; names not listed are as rare as `rarest01`. */
  givenShare: Map<string, number>;
  familyShare: Map<string, number>;
  rarest01: number;
  /** How many given names begin with a letter, 0 to 1. */
  letterShare: Map<string, number>;
  /** Share of whole names that occur often; others are taken as the product of their parts. */
  nameShare: Map<string, number>;
  sharedLines: Set<string>;
  /** Words that occur often enough to be names of their own, with how often. */
  givenNames: Map<string, number>;
  familyNames: Map<string, number>;
  /** Pairs of given names that stand for one another, beyond the table's. */
  nicknames: Set<string>;
  /** Fields that are not compared, as the set-up says. */
  ignored: ComparedField[];
  /** What people's decisions add; null as long as none were adopted. */
  corrections: Corrections | null;
  thresholds: { certain: number; likely: number; possible: number };
}

/** The number of different patterns is small, so pairs are counted by pattern: levels in a mixed radix. */
const RADIX = COMPARED.map((field) => LEVELS[field].length);

export function patternOf(levels: readonly number[]): number {
  let pattern = 0;
  for (let i = 0; i < RADIX.length; i++) pattern = pattern * (RADIX[i] ?? 1) + (levels[i] ?? 0);
  return pattern;
}

export function levelsOf(pattern: number): number[] {
  const levels = new Array<number>(RADIX.length);
  let rest = pattern;
  for (let i = RADIX.length - 1; i >= 0; i--) {
    const radix = RADIX[i] ?? 1;
    levels[i] = rest % radix;
    rest = Math.floor(rest / radix);
  }
  return levels;
}

// What is believed before any data, and how strongly (in pairs). The data move it; little data move it little.
const BELIEF_PAIRS: Record<PairClass, number> = { match: 400, home: 400, office: 400, random: 400 };
export const BELIEFS: Record<PairClass, LevelTable> = {
  match: {
    given: [0, 0.73, 0.07, 0.06, 0.09, 0.02, 0.01, 0.006, 0.014],
    family: [0, 0.793, 0.1, 0.05, 0.03, 0.005, 0.005, 0.015, 0.002],
    email: [0, 0.61, 0.02, 0.14, 0.05, 0.16, 0.02],
    phone: [0, 0.74, 0.06, 0.06, 0.14],
    bday: [0, 0.93, 0.03, 0.03, 0.003],
    place: [0, 0.78, 0.03, 0.03, 0.05, 0.11],
    organization: [0, 0.72, 0.16, 0.12],
    generation: [0, 0.7, 0.28, 0.002],
  },
  home: {
    given: [0, 0.02, 0.02, 0.012, 0.005, 0.004, 0.894, 0.03, 0.015],
    family: [0, 0.88, 0.01, 0.02, 0.075, 0.005, 0.005, 0.004, 0.001],
    email: [0, 0.03, 0.15, 0.003, 0.001, 0.814, 0.002],
    phone: [0, 0.4, 0.3, 0.005, 0.295],
    bday: [0, 0.1, 0.004, 0.008, 0.888],
    place: [0, 0.88, 0.02, 0.02, 0.02, 0.06],
    organization: [0, 0.03, 0.01, 0.96],
    generation: [0, 0.05, 0.3, 0.65],
  },
  office: {
    given: [0, 0.01, 0.004, 0.012, 0.003, 0.002, 0.954, 0.005, 0.01],
    family: [0, 0.012, 0.004, 0.004, 0.969, 0.001, 0.001, 0.005, 0.004],
    email: [0, 0.0005, 0.2, 0.001, 0.0005, 0.7979, 0.0001],
    phone: [0, 0.03, 0.6, 0.005, 0.365],
    bday: [0, 0.0001, 0.001, 0.003, 0.9959],
    place: [0, 0.7, 0.05, 0.05, 0.1, 0.1],
    organization: [0, 0.9, 0.06, 0.04],
    generation: [0, 0.1, 0.8, 0.1],
  },
  random: {
    given: [0, 0.008, 0.005, 0.012, 0.002, 0.002, 0.957, 0.004, 0.01],
    family: [0, 0.003, 0.003, 0.003, 0.982, 0.001, 0.001, 0.004, 0.003],
    email: [0, 0.0000004, 0.000002, 0.000002, 0.00002, 0.99994, 0.00002],
    phone: [0, 0.0000006, 0.000003, 0.0003, 0.9997],
    bday: [0, 0.00006, 0.0004, 0.0012, 0.9983],
    place: [0, 0.000006, 0.00003, 0.0005, 0.012, 0.987],
    organization: [0, 0.003, 0.003, 0.994],
    generation: [0, 0.05, 0.85, 0.1],
  },
};

const LOG2 = Math.log2;

export function tableBits(table: LevelTable, levels: readonly number[]): number {
  let bits = 0;
  for (let i = 0; i < COMPARED.length; i++) {
    const level = levels[i] ?? 0;
    const field = COMPARED[i];
    if (level === 0 || !field) continue;
    bits += LOG2(table[field][level] ?? 1e-9);
  }
  return bits;
}

/** log2(2^a + 2^b + ...), safe against underflow. */
export function sumBits(values: readonly number[]): number {
  const most = Math.max(...values);
  if (most === -Infinity) return -Infinity;
  return most + LOG2(values.reduce((sum, value) => sum + 2 ** (value - most), 0));
}

function cloneTable(table: LevelTable): LevelTable {
  return Object.fromEntries(COMPARED.map((field) => [field, [...table[field]]])) as LevelTable;
}

/** People that a model before any data is for. A name of which nothing is known is taken as one in a thousand. */
const BELIEVED_PEOPLE = 10_000;

/**
 * The model before any scan: what is believed, with nothing learned. It lets the first people typed in be recognised;
 * it knows no common names and no shared lines yet, so it serves for hints and not for merging.
 */
export function believedModel(thresholds: MatchModel['thresholds']): MatchModel {
  const allPairs = (BELIEVED_PEOPLE * (BELIEVED_PEOPLE - 1)) / 2;
  const prior = (share01: number) => LOG2((BELIEVED_PEOPLE * share01) / allPairs);
  return {
    version: 'believed',
    priorBits: { match: prior(0.2), home: prior(0.02), office: prior(0.02), random: 0 },
    tables: BELIEFS,
    givenShare: new Map(),
    familyShare: new Map(),
    rarest01: 0.001,
    letterShare: new Map(),
    nameShare: new Map(),
    sharedLines: new Set(),
    givenNames: new Map(),
    familyNames: new Map(),
    nicknames: new Set(),
    ignored: [],
    corrections: null,
    thresholds,
  };
}

export interface LearnInput {
  /** How many candidate pairs show each pattern. */
  patterns: ReadonlyMap<number, number>;
  /** Random pairs by pattern, for the class of strangers. */
  randomPatterns: ReadonlyMap<number, number>;
  people: number;
  /** Pairs of different people of one home and of one office, counted in the data. */
  neighbours: { home: number; office: number };
}

export interface LearnedWeights {
  priorBits: Record<PairClass, number>;
  tables: Record<PairClass, LevelTable>;
  rounds: number;
}

/**
 * Estimates the weights from the data without labels, by expectation and maximisation over counts of patterns
 * (Winkler 1988), with the strangers' class fixed by random pairs and beliefs as pseudo-counts. Works on integers
 * counted per pattern and sums in ascending order of pattern, so the result does not depend on the order of records.
 */
export function learnWeights({ patterns, randomPatterns, people, neighbours }: LearnInput): LearnedWeights {
  const tables = Object.fromEntries(CLASSES.map((name) => [name, cloneTable(BELIEFS[name])])) as Record<
    PairClass,
    LevelTable
  >;
  for (const name of CLASSES) if (name !== 'random') fixShared(tables[name]);
  const random = countLevels(randomPatterns);
  // Random pairs say nothing about levels that strangers reach less than once in ten thousand pairs: what little they
  // show there are duplicates met by chance. Those levels keep what is believed.
  for (const field of COMPARED)
    tables.random[field] = smooth(dropRare(random[field], BELIEFS.random[field]), BELIEFS.random[field], 20_000);
  // Pairs of strangers that share a key agree more often than strangers at large; the share of each class is of all pairs.
  const allPairs = Math.max(1, (people * (people - 1)) / 2);
  const priorBits: Record<PairClass, number> = {
    match: LOG2((people * 0.2) / allPairs),
    home: LOG2((neighbours.home + people * 0.02) / allPairs),
    office: LOG2((neighbours.office + people * 0.02) / allPairs),
    random: 0,
  };
  // Namesakes agree on the name and on nothing else. While learning, patterns do not tell how common a name is, so they
  // need a class of their own, or they would pass for matches; at scoring the name's own frequency stands in for it.
  const namesakeTable: LevelTable = { ...tables.random, given: BELIEFS.match.given, family: BELIEFS.match.family };
  let namesakeBits = LOG2((people * 0.3) / allPairs);
  const ordered = [...patterns]
    .sort((a, b) => a[0] - b[0])
    .map(([pattern, count]) => ({ levels: levelsOf(pattern), count }));
  const learned = CLASSES.filter((name) => name !== 'random');
  let rounds = 0;
  for (; rounds < 60; rounds++) {
    let namesakes = 0;
    const sums = Object.fromEntries(CLASSES.map((name) => [name, 0])) as Record<PairClass, number>;
    const counts = Object.fromEntries(learned.map((name) => [name, emptyCounts()])) as Record<PairClass, LevelTable>;
    for (const { levels, count } of ordered) {
      const bits = CLASSES.map((name) => priorBits[name] + tableBits(tables[name], levels));
      const asNamesakes = namesakeBits + tableBits(namesakeTable, levels);
      const total = sumBits([...bits, asNamesakes]);
      namesakes += 2 ** (asNamesakes - total) * count;
      CLASSES.forEach((name, c) => {
        const share = 2 ** ((bits[c] ?? 0) - total) * count;
        sums[name] += share;
        if (name === 'random') return;
        COMPARED.forEach((field, i) => {
          const level = levels[i] ?? 0;
          const row = counts[name][field];
          if (level > 0) row[level] = (row[level] ?? 0) + share;
        });
      });
    }
    let moved = 0;
    namesakeBits = LOG2(Math.max(1, namesakes) / allPairs);
    for (const name of learned) {
      if (name === 'match') {
        const before = priorBits.match;
        priorBits.match = LOG2(Math.max(1, sums.match + people * 0.01) / allPairs);
        moved = Math.max(moved, Math.abs(before - priorBits.match));
      }
      // What makes a home a home is not learned, or the class would drift towards namesakes; its lines and places are.
      for (const field of name === 'match' ? COMPARED : LEARNED_OF_NEIGHBOURS)
        tables[name][field] = smooth(counts[name][field], BELIEFS[name][field], BELIEF_PAIRS[name]);
      if (name === 'match') for (const field of CONTRADICTING) capLast(tables.match, field);
      fixShared(tables[name]);
    }
    if (moved < 0.001) break;
  }
  return { priorBits, tables, rounds };
}

// A parent and child of one name look much like one person; were the share of contradictions learned freely, they would
// teach the model that one person often has two birthdays.
const CONTRADICTING = ['given', 'bday', 'generation'] as const;

function capLast(table: LevelTable, field: (typeof CONTRADICTING)[number]): void {
  const level = (LEVELS[field] as readonly string[]).indexOf('different');
  table[field][level] = Math.min(table[field][level] ?? 0, (BELIEFS.match[field][level] ?? 0) * 2);
}

// That a line is shared is known beforehand of whoever has it. What a pair shows is that both have it, which one person
// does as readily as two of one home or office; so these levels say nothing between those, and much against strangers.
const SHARED_LINE01 = { email: 0.5, phone: 0.5 } as const;

function fixShared(table: LevelTable): void {
  for (const field of ['email', 'phone'] as const)
    table[field][(LEVELS[field] as readonly string[]).indexOf('sameShared')] = SHARED_LINE01[field];
}

const LEARNED_OF_NEIGHBOURS: readonly ComparedField[] = ['place'];

function dropRare(counts: readonly number[], belief: readonly number[]): number[] {
  const total = counts.reduce((sum, x) => sum + x, 0);
  return counts.map((count, level) => ((belief[level] ?? 0) < 1e-4 ? (belief[level] ?? 0) * total : count));
}

function emptyCounts(): LevelTable {
  return Object.fromEntries(COMPARED.map((field) => [field, LEVELS[field].map(() => 0)])) as unknown as LevelTable;
}

function countLevels(patterns: ReadonlyMap<number, number>): LevelTable {
  const counts = emptyCounts();
  for (const [pattern, count] of patterns) {
    levelsOf(pattern).forEach((level, i) => {
      const field = COMPARED[i];
      if (field && level > 0) counts[field][level] = (counts[field][level] ?? 0) + count;
    });
  }
  return counts;
}

function smooth(counts: readonly number[], belief: readonly number[], strength: number): number[] {
  const total = counts.reduce((sum, x) => sum + x, 0) + strength;
  return belief.map((p, level) => (level === 0 ? 0 : ((counts[level] ?? 0) + p * strength) / total));
}
