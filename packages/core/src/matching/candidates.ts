import type { MatchPerson } from './person';
import { blockingKeys } from './keys';

/** Blocks larger than this are cut by a further key; what stays larger is passed over. */
const BLOCK_LIMIT = 60;

type Cut = (person: MatchPerson) => string;

// What a block that is too large is cut by, coarsest first. A person with nothing there keeps company with the others alike.
const CUTS: Cut[] = [
  (p) => p.given[0] ?? '',
  (p) => p.familyText,
  (p) => p.postal || p.locality,
  (p) => p.bday,
  (p) => p.phones[0]?.slice(-4) ?? '',
  (p) => p.emails[0]?.local ?? '',
];

function cutBlock(people: readonly MatchPerson[], members: number[], depth: number, out: number[][]): void {
  if (members.length < 2) return;
  if (members.length <= BLOCK_LIMIT) {
    out.push(members);
    return;
  }
  const cut = CUTS[depth];
  if (!cut) return;
  const parts = new Map<string, number[]>();
  for (const i of members) {
    const person = people[i];
    const key = person ? cut(person) : '';
    const part = parts.get(key);
    if (part) part.push(i);
    else parts.set(key, [i]);
  }
  for (const part of parts.values()) cutBlock(people, part, depth + 1, out);
}

/** Blocks of people who share a key, none too large, by index into `people`. Cost near linear in the number of people. */
export function buildBlocks(people: readonly MatchPerson[]): number[][] {
  const byKey = new Map<string, number[]>();
  people.forEach((person, i) => {
    for (const { text } of blockingKeys(person)) {
      const block = byKey.get(text);
      if (block) block.push(i);
      else byKey.set(text, [i]);
    }
  });
  const blocks: number[][] = [];
  for (const members of byKey.values()) cutBlock(people, members, 0, blocks);
  return blocks;
}

/**
 * Every pair that shares a block, once, as (a, b) with a < b. Repeats are removed without a set of pairs: each person's
 * partners are stamped while that person is at work.
 */
export function forEachPair(count: number, blocks: readonly number[][], each: (a: number, b: number) => void): void {
  const blocksOf: number[][] = Array.from({ length: count }, () => []);
  blocks.forEach((block, id) => {
    for (const member of block) blocksOf[member]?.push(id);
  });
  const stamp = new Int32Array(count).fill(-1);
  for (let a = 0; a < count; a++) {
    for (const id of blocksOf[a] ?? []) {
      for (const b of blocks[id] ?? []) {
        if (b <= a || stamp[b] === a) continue;
        stamp[b] = a;
        each(a, b);
      }
    }
  }
}
