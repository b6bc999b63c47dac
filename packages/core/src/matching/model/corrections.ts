import { COMPARED, LEVELS, type ComparedField } from '../comparing/levels';

/** What people's decisions add to the weight of each level, in bits; level 0 has none. */
export type Corrections = Record<ComparedField, number[]>;

/** A pair that a person decided on: how it compares, what the data alone say, and what the person said. */
export interface Decision {
  levels: readonly number[];
  /** Weight by the model, before corrections and rules, in bits. */
  bits: number;
  same: boolean;
}

/** Fewer decisions than these, or of one kind alone, teach nothing that holds. */
export const DECISIONS_NEEDED = { all: 20, ofEachKind: 5 };
/** How far corrections are believed to lie from nothing, in bits, before any decision. */
const SPREAD_BITS = 1.2;
const MOST_BITS = 4;
const SWEEPS = 60;

export function nothingLearned(): Corrections {
  return Object.fromEntries(COMPARED.map((field) => [field, LEVELS[field].map(() => 0)])) as Corrections;
}

export function isEnough(decisions: readonly Decision[]): boolean {
  const same = decisions.filter((one) => one.same).length;
  const { all, ofEachKind } = DECISIONS_NEEDED;
  return decisions.length >= all && same >= ofEachKind && decisions.length - same >= ofEachKind;
}

/** What corrections add for one comparison, in bits. */
export function correctionBits(corrections: Corrections | null, levels: readonly number[]): number {
  if (!corrections) return 0;
  let bits = 0;
  for (let i = 0; i < COMPARED.length; i++) bits += corrections[COMPARED[i] as ComparedField][levels[i] ?? 0] ?? 0;
  return bits;
}

/**
 * Learns corrections from decisions: logistic regression on the levels with the model's weight as offset and a normal
 * prior around nothing (MAP), by coordinate-wise Newton steps. People see only pairs that are in doubt; since what is
 * learned is conditional on how a pair compares, that choice does not bias it. Null where there are too few decisions.
 * Independent of their order.
 */
export function learnCorrections(given: readonly Decision[]): Corrections | null {
  if (!isEnough(given)) return null;
  const decisions = given
    .map((one) => ({ ...one, key: `${one.levels.join()}:${one.bits}:${one.same}` }))
    .sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0));
  const corrections = nothingLearned();
  const weights = decisions.map(({ bits }) => bits);
  const precision = 1 / SPREAD_BITS ** 2;
  const at = COMPARED.map((field, place) =>
    LEVELS[field].map((_, level) => decisions.flatMap(({ levels }, i) => (levels[place] === level ? [i] : []))),
  );
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let moved = 0;
    COMPARED.forEach((field, place) => {
      for (let level = 1; level < LEVELS[field].length; level++) {
        const members = at[place]?.[level] ?? [];
        if (!members.length) continue;
        const before = corrections[field][level] ?? 0;
        let slope = before * precision;
        let bend = precision;
        for (const i of members) {
          const p = 1 / (1 + 2 ** -(weights[i] ?? 0));
          slope += Math.LN2 * (p - (decisions[i]?.same ? 1 : 0));
          bend += Math.LN2 ** 2 * p * (1 - p);
        }
        const after = Math.max(-MOST_BITS, Math.min(MOST_BITS, before - slope / bend));
        corrections[field][level] = after;
        moved = Math.max(moved, Math.abs(after - before));
        for (const i of members) weights[i] = (weights[i] ?? 0) + after - before;
      }
    });
    if (moved < 1e-6) break;
  }
  return corrections;
}
