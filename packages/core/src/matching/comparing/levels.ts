import { PARTICLES } from '../../fields';
import type { MatchPerson } from '../people/person';

/** The fields that are compared, in the order of a comparison pattern. */
export const COMPARED = ['given', 'family', 'email', 'phone', 'bday', 'place', 'organization', 'generation'] as const;
export type ComparedField = (typeof COMPARED)[number];

/** Agreement levels per field. Level 0 is always "absent": nothing to compare, which is not disagreement. */
export const LEVELS = {
  given: ['absent', 'same', 'nickname', 'initial', 'slip', 'part', 'different', 'similar', 'close'],
  family: ['absent', 'same', 'slip', 'part', 'different', 'inferredSame', 'inferredDifferent', 'close', 'similar'],
  email: ['absent', 'same', 'sameShared', 'near', 'sameLocal', 'different', 'close'],
  phone: ['absent', 'same', 'sameShared', 'slip', 'different'],
  bday: ['absent', 'same', 'swapped', 'slip', 'different'],
  place: ['absent', 'same', 'sameStreet', 'samePostal', 'sameTown', 'different'],
  organization: ['absent', 'same', 'close', 'different'],
  generation: ['absent', 'same', 'onlyOne', 'different'],
} as const satisfies Record<ComparedField, readonly string[]>;

export type LevelName<F extends ComparedField> = (typeof LEVELS)[F][number];

/** How two people compare: one level number per field of COMPARED, and the names that were compared. */
export interface Comparison {
  levels: number[];
  /** Set when given and family name stand in each other's place. */
  swapped: boolean;
  given: readonly [string, string];
  family: readonly [string, string];
}

/**
 * Which names of two people were compared with which: each with its like; the first one's family name with the other's given
 * name for the given name (`first`); the other way round (`second`); or both people's family names for the given name.
 */
export const TURNS = { none: 0, first: 1, second: 2, both: 3 } as const;
export type Turn = (typeof TURNS)[keyof typeof TURNS];

/** The given name that stands where the other's family name is: all of it where it is that name, else its first word. */
function crossing({ given, givenText }: MatchPerson, { familyText }: MatchPerson): string {
  if (givenText === familyText) return givenText;
  return given.find((word) => !PARTICLES.has(word)) ?? given[0] ?? '';
}

/** The names of two people as they were compared. */
export function namesOf(a: MatchPerson, b: MatchPerson, turn: Turn): Pick<Comparison, 'given' | 'family' | 'swapped'> {
  const [x, y] = turn === TURNS.none ? [a.given[0] ?? '', b.given[0] ?? ''] : [crossing(a, b), crossing(b, a)];
  const swapped = turn !== TURNS.none;
  switch (turn) {
    case TURNS.none:
      return { swapped, given: [x, y], family: [a.familyText, b.familyText] };
    case TURNS.first:
      return { swapped, given: [a.familyText, y], family: [x, b.familyText] };
    case TURNS.second:
      return { swapped, given: [x, b.familyText], family: [a.familyText, y] };
    case TURNS.both:
      return { swapped, given: [a.familyText, b.familyText], family: [x, y] };
  }
}

/** The number of each level by its name. */
const NUMBER = Object.fromEntries(
  COMPARED.map((field) => [field, Object.fromEntries(LEVELS[field].map((name, i) => [name, i]))]),
) as Record<ComparedField, Record<string, number>>;

export function level<F extends ComparedField>(field: F, name: LevelName<F>): number {
  return NUMBER[field][name] ?? 0;
}

/** What a comparison knows of all the data. */
export interface MatchContext {
  /** Places of fields that are not compared. */
  readonly ignored: readonly number[];
  /** Whether several distinct people use an e-mail or phone, so that it proves little. */
  isShared(key: string): boolean;
  /** Whether two folded words that look alike are two given names rather than one and a slip of it. */
  areTwoNames(a: string, b: string): boolean;
  /** The same of two family names. */
  areTwoFamilies(a: string, b: string): boolean;
  /** Whether a word is a family name that occurs often enough to be known. */
  isFamilyName(word: string): boolean;
  /** Whether a person's given and family name stand in each other's place, by what the words usually are. */
  isTurned(given: string, family: string): boolean;
  /** Whether one given name is a usual form of the other. */
  areNicknames(a: string, b: string): boolean;
  /** Whether both are given names in their full form, so that neither is short for the other. */
  areFormal(a: string, b: string): boolean;
  /** The name that a rare word is most likely a slip of; the word itself where there is none. */
  nearestGiven(word: string): string;
  nearestFamily(word: string): string;
}

/** The part of a prepared person that names are compared by. */
export type NameCard = Pick<
  MatchPerson,
  'given' | 'givenText' | 'nickname' | 'unreadable' | 'script' | 'family' | 'familyText' | 'familyInferred'
>;
