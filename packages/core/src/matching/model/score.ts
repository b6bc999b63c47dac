import { COMPARED, LEVELS, type ComparedField, type Comparison, type LevelName } from '../comparing/levels';
import { comparePeople } from '../comparing/compare';
import { correctionBits } from './corrections';
import { CLASSES, sumBits, type MatchModel, type PairClass } from './model';
import type { MatchPerson } from '../people/person';
import { contextOf } from '../people/names';

export type Band = 'certain' | 'likely' | 'possible' | 'apart';

export interface PairScore {
  /** Weight of evidence for one person over two, prior included, in bits. */
  bits: number;
  probability01: number;
  band: Band;
  comparison: Comparison;
}

const SAME_CULTURE_BITS = 3;
const GIVEN = COMPARED.indexOf('given');
const FAMILY = COMPARED.indexOf('family');
const same = (field: ComparedField) => (LEVELS[field] as readonly string[]).indexOf('same');

const levelIn = <F extends ComparedField>(field: F, names: readonly LevelName<F>[]) =>
  new Set(names.map((name) => (LEVELS[field] as readonly string[]).indexOf(name)));
/** Levels at which one name is a form of the other: as likely by chance as the commoner of the two is common. */
const GIVEN_FORMS = levelIn('given', ['nickname', 'slip', 'close', 'similar']);
const FAMILY_FORMS = levelIn('family', ['slip', 'close', 'similar', 'inferredSame']);
const INITIAL = (LEVELS.given as readonly string[]).indexOf('initial');
/** A name that occurs once has others a letter away from it. */
const NEIGHBOURS = 3;
/** The share that an initial has on the whole. */
const LETTER_SHARE = 0.08;

/** How much rarer or commoner the agreeing name is than names on the whole, in bits (Winkler 1989: frequency weights). */
function rarityBits(
  model: MatchModel,
  { levels, swapped, given: [givenName, otherGiven], family: [familyName, otherFamily] }: Comparison,
): { given: number; family: number } {
  const [givenLevel, familyLevel] = [levels[GIVEN] ?? 0, levels[FAMILY] ?? 0];
  let given = 0;
  let family = 0;
  const shareOf = (name: string, shares: ReadonlyMap<string, number>, others: ReadonlyMap<string, number>) =>
    Math.max(shares.get(name) ?? 0, model.rarest01, swapped ? (others.get(name) ?? 0) : 0);
  const givenShare = (name: string) => shareOf(name, model.givenShare, model.familyShare);
  const familyShare = (name: string) => shareOf(name, model.familyShare, model.givenShare);
  const { given: ofGiven, family: ofFamily } = model.tables.random;
  if (givenLevel === same('given')) given = Math.log2(givenShare(givenName) / (ofGiven[givenLevel] ?? 0.01));
  else if (!swapped && GIVEN_FORMS.has(givenLevel)) {
    const share = Math.max(givenShare(givenName), givenShare(otherGiven), NEIGHBOURS * model.rarest01);
    given = Math.log2(share / (ofGiven[givenLevel] ?? 0.01));
  } else if (!swapped && givenLevel === INITIAL)
    given = Math.log2((model.letterShare.get(givenName[0] ?? '') ?? LETTER_SHARE) / LETTER_SHARE);
  if (familyLevel === same('family')) family = Math.log2(familyShare(familyName) / (ofFamily[familyLevel] ?? 0.003));
  else if (!swapped && FAMILY_FORMS.has(familyLevel)) {
    const share = Math.max(familyShare(familyName), familyShare(otherFamily), NEIGHBOURS * model.rarest01);
    family = Math.log2(share / (ofFamily[familyLevel] ?? 0.003));
  }
  // Given and family names come from one culture, so agreeing on both is likelier by chance than the two rates say.
  if (givenLevel === same('given') && familyLevel === same('family')) {
    family += SAME_CULTURE_BITS;
    const whole = model.nameShare.get(
      givenName < familyName ? `${givenName} ${familyName}` : `${familyName} ${givenName}`,
    );
    if (whole) {
      const parts = given + family + Math.log2((ofGiven[1] ?? 0.01) * (ofFamily[1] ?? 0.003));
      family += Math.max(0, Math.log2(whole) - parts);
    }
  } else if (given !== 0 && family !== 0) family += SAME_CULTURE_BITS;
  return { given, family };
}

/** Places of a field's levels in a row of a table. */
const LEVELS_A_FIELD = 16;
const CLASS_STEP = COMPARED.length * LEVELS_A_FIELD;

/** Tables of a model as bits: class by class, field by field, level by level. */
const bitsOfTables = new WeakMap<MatchModel['tables'], Float64Array>();

function bitTables({ tables }: MatchModel): Float64Array {
  const known = bitsOfTables.get(tables);
  if (known) return known;
  const made = new Float64Array(CLASSES.length * CLASS_STEP);
  CLASSES.forEach((name, c) =>
    COMPARED.forEach((field, f) =>
      tables[name][field].forEach((p, level) => {
        if (level > 0) made[c * CLASS_STEP + f * LEVELS_A_FIELD + level] = Math.log2(p || 1e-9);
      }),
    ),
  );
  bitsOfTables.set(tables, made);
  return made;
}

/** Bits of a pair by class, in the order of CLASSES; used again and again, for this is the innermost part of scoring. */
const BY_CLASS = new Float64Array(CLASSES.length);
const [MATCH, HOME, OFFICE, RANDOM] = CLASSES.map((_, i) => i) as [number, number, number, number];

/** Bits of the pair in every class, value-specific for the names. */
function classBits(model: MatchModel, comparison: Comparison): Float64Array {
  const rarity = rarityBits(model, comparison);
  const tables = bitTables(model);
  const { levels } = comparison;
  for (let c = 0; c < CLASSES.length; c++) {
    const table = c * CLASS_STEP;
    let bits = model.priorBits[CLASSES[c] as PairClass];
    for (let i = 0; i < levels.length; i++) bits += tables[table + i * LEVELS_A_FIELD + (levels[i] ?? 0)] ?? 0;
    if (c === RANDOM) bits += rarity.given + rarity.family;
    // In one home the family name agrees whatever it is; the given name agrees as rarely as the name is rare.
    if (c === HOME) bits += Math.max(-2, Math.min(2, rarity.given)) * 0.5;
    if (c === OFFICE) bits += rarity.given + rarity.family;
    BY_CLASS[c] = bits;
  }
  return BY_CLASS;
}

const placeOf = (name: PairClass): number => CLASSES.indexOf(name);

/** The kind of pair, of those named, that fits a comparison best. */
export function classOf(model: MatchModel, comparison: Comparison, among: readonly PairClass[]): PairClass | undefined {
  const by = classBits(model, comparison);
  return [...among].sort((a, b) => (by[placeOf(b)] ?? 0) - (by[placeOf(a)] ?? 0))[0];
}

/** A probability as the weight of evidence, in bits. */
export function bitsOfProbability(probability01: number): number {
  return Math.log2(probability01 / (1 - probability01));
}

export function bandOf(model: Pick<MatchModel, 'thresholds'>, probability01: number): Band {
  const { certain, likely, possible } = model.thresholds;
  return probability01 >= certain
    ? 'certain'
    : probability01 >= likely
      ? 'likely'
      : probability01 >= possible
        ? 'possible'
        : 'apart';
}

/** Contradictions that no shared line outweighs (engines.md, 3.4). */
function isContradiction(levels: readonly number[]): boolean {
  const given = LEVELS.given[levels[GIVEN] ?? 0];
  const generation = LEVELS.generation[levels[COMPARED.indexOf('generation')] ?? 0];
  return generation === 'different' && given !== 'different';
}

const BDAY = COMPARED.indexOf('bday');
const OTHER_BIRTHDAY = (LEVELS.bday as readonly string[]).indexOf('different');

/**
 * The one verdict on a pair: full scan, changed-since scan and single check all end here, so under one model they agree.
 * Symmetric in a and b. Cost: one comparison and four sums.
 */
export function scorePair(model: MatchModel, a: MatchPerson, b: MatchPerson): PairScore {
  const comparison = comparePeople(a, b, contextOf(model));
  const bits = scoreComparison(model, comparison);
  const probability01 = 1 / (1 + 2 ** -bits);
  return { bits, probability01, band: bandOf(model, probability01), comparison };
}

/** Levels that something beside the name agrees at; without any of them names alone would have to decide. */
const BESIDE_THE_NAME: Partial<Record<ComparedField, ReadonlySet<string>>> = {
  email: new Set(['same', 'sameShared', 'near', 'sameLocal', 'close']),
  phone: new Set(['same', 'sameShared']),
  bday: new Set(['same', 'swapped']),
  place: new Set(['same', 'sameStreet']),
};
const BESIDE = COMPARED.map((field) => LEVELS[field].map((name) => BESIDE_THE_NAME[field]?.has(name) ?? false));

/** What of the rules, rather than of the evidence, settles a comparison; null where none does. */
export type Ruling = 'otherGeneration' | 'otherBirthday' | 'nameAlone';

/** The rule that holds for a comparison, and the most bits it leaves. */
export function rulingOf(model: MatchModel, { levels }: Comparison): { ruling: Ruling; most: number } | null {
  if (isContradiction(levels)) return { ruling: 'otherGeneration', most: -8 };
  // Two birthdays are two people, whatever line or home they share.
  if (levels[BDAY] === OTHER_BIRTHDAY) return { ruling: 'otherBirthday', most: -4 };
  // However rare a name, somebody else may have it: never certain enough for a batch.
  if (!levels.some((level, field) => BESIDE[field]?.[level]))
    return { ruling: 'nameAlone', most: Math.log2(model.thresholds.certain / (1 - model.thresholds.certain)) - 0.1 };
  return null;
}

/** What the data alone say of a comparison, without rules and without what people decided, in bits. */
export function evidenceBits(model: MatchModel, comparison: Comparison): number {
  const by = classBits(model, comparison);
  return (by[MATCH] ?? 0) - sumBits([by[HOME] ?? 0, by[OFFICE] ?? 0, by[RANDOM] ?? 0]);
}

/** Weight of a comparison for one person over two, in bits, within -40 and 40. */
export function scoreComparison(model: MatchModel, comparison: Comparison): number {
  const bits = Math.min(
    evidenceBits(model, comparison) + correctionBits(model.corrections, comparison.levels),
    rulingOf(model, comparison)?.most ?? Infinity,
  );
  return Math.max(-40, Math.min(40, bits));
}

export interface FieldEvidence {
  field: ComparedField | 'prior';
  level: string;
  bits: number;
}

/**
 * What each field adds, in bits, against the kinds of different people that fit this pair best. The parts add up to
 * the whole up to what the mixture leaves over, which is put with the prior.
 */
export function weighEvidence(model: MatchModel, comparison: Comparison): FieldEvidence[] {
  const bits = classBits(model, comparison);
  const by = Object.fromEntries(CLASSES.map((name, i) => [name, bits[i] ?? 0])) as Record<PairClass, number>;
  const others = CLASSES.filter((name) => name !== 'match');
  const total = sumBits(others.map((name) => by[name]));
  const share = Object.fromEntries(others.map((name) => [name, 2 ** (by[name] - total)])) as Record<PairClass, number>;
  const rarity = rarityBits(model, comparison);
  const evidence: FieldEvidence[] = [];
  let explained = 0;
  COMPARED.forEach((field, i) => {
    const level = comparison.levels[i] ?? 0;
    if (level === 0) return;
    const m = Math.log2(model.tables.match[field][level] ?? 1e-9);
    const extra = field === 'given' ? rarity.given : field === 'family' ? rarity.family : 0;
    const against = others.reduce(
      (sum, name) =>
        sum + share[name] * (Math.log2(model.tables[name][field][level] ?? 1e-9) + (name === 'home' ? 0 : extra)),
      0,
    );
    const learned = model.corrections?.[field][level] ?? 0;
    evidence.push({ field, level: LEVELS[field][level] ?? '', bits: m - against + learned });
    explained += m - against;
  });
  evidence.push({ field: 'prior', level: '', bits: by.match - total - explained });
  return evidence;
}
