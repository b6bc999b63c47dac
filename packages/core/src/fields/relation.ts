import { wordTable } from '../model';
/** Usual relations and what each is seen from the other side. */
const INVERSE = wordTable({
  spouse: 'spouse',
  partner: 'partner',
  parent: 'child',
  child: 'parent',
  sibling: 'sibling',
  colleague: 'colleague',
  assistant: 'assists',
  assists: 'assistant',
  'referred by': 'referred',
  referred: 'referred by',
});

export const RELATIONS: readonly string[] = Object.keys(INVERSE);

/** The relation seen from the other side; own words are turned round by saying whose they are ("mentor" -> "is mentor of"). */
export function inverseRelation(relation: string): string {
  const known = INVERSE[relation];
  if (known) return known;
  const turned = /^is (.+) of$/.exec(relation)?.[1];
  return turned ?? `is ${relation} of`;
}

/** Relations of two who may share a home and a letter. */
export function isCouple(relation: string): boolean {
  return relation === 'spouse' || relation === 'partner';
}
