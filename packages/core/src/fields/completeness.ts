import type { RecordKind } from '../model';

/** What each field adds to completeness, by its key: a whole number from 0 (nothing) to 9. */
export type Weights = Readonly<Record<string, number>>;

export const MOST_WEIGHT = 9;

/** The fields worth having where nobody chose, each as much as the other. */
export const WORTH_HAVING = [
  'givenName',
  'familyName',
  'email',
  'tel',
  'adr',
  'organization',
  'source',
  'stage',
  'tags',
  'bday',
];
export const EQUAL_WEIGHTS: Weights = Object.fromEntries(WORTH_HAVING.map((key) => [key, 1]));

/** Fields that say something of people only. */
export const PERSON_FIELDS: ReadonlySet<string> = new Set(
  'prefix givenName additionalNames familyName suffix nickname title bday anniversary letterLine salutation'.split(' '),
);

const placeOf = (key: string): number => (WORTH_HAVING.includes(key) ? WORTH_HAVING.indexOf(key) : WORTH_HAVING.length);

/** The fields that count for a kind of contact, with their weights, the heaviest first; of two alike the first of `WORTH_HAVING`. */
function countedFields(kind: RecordKind, weights: Weights): [key: string, weight: number][] {
  return Object.entries(weights)
    .filter(([key, weight]) => weight > 0 && (kind === 'person' || !PERSON_FIELDS.has(key)))
    .sort(([x, a], [y, b]) => b - a || placeOf(x) - placeOf(y));
}

/** The share of what is worth having that is there, 0 to 100; 100 where nothing counts. */
export function completenessOf(
  kind: RecordKind,
  has: (key: string) => boolean,
  weights: Weights = EQUAL_WEIGHTS,
): number {
  let whole = 0;
  let there = 0;
  for (const [key, weight] of countedFields(kind, weights)) {
    whole += weight;
    if (has(key)) there += weight;
  }
  return whole ? Math.round((there / whole) * 100) : 100;
}

/** What is missing, what adds most first. */
export const missingOf = (kind: RecordKind, has: (key: string) => boolean, weights: Weights): string[] =>
  countedFields(kind, weights).flatMap(([key]) => (has(key) ? [] : [key]));

/** What is wrong with weights that came from outside, in words; null where nothing is. */
export function faultOfWeights(weights: Weights, hasField: (key: string) => boolean): string | null {
  const all = Object.entries(weights);
  const unknown = all.find(([key]) => !hasField(key));
  if (unknown) return `There is no field '${unknown[0]}' any more. Load the page again.`;
  if (all.some(([, weight]) => !(Number.isInteger(weight) && weight >= 0 && weight <= MOST_WEIGHT)))
    return `A weight is a whole number from 0 to ${MOST_WEIGHT}.`;
  return all.some(([, weight]) => weight > 0) ? null : 'At least one field has to count.';
}
