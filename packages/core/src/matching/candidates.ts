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

/** People who share a key, by index; a loose key alone brings nobody together. */
export interface Block {
  members: number[];
  loose: boolean;
}

/** Blocks of people who share a key, none too large, by index into `people`. Cost near linear in the number of people. */
export function buildBlocks(people: readonly MatchPerson[]): Block[] {
  const byKey = new Map<string, Block>();
  people.forEach((person, i) => {
    for (const { text, loose } of blockingKeys(person)) {
      const block = byKey.get(text);
      if (block) block.members.push(i);
      else byKey.set(text, { members: [i], loose });
    }
  });
  const blocks: Block[] = [];
  for (const { members, loose } of byKey.values()) {
    const parts: number[][] = [];
    cutBlock(people, members, 0, parts);
    for (const part of parts) blocks.push({ members: part, loose });
  }
  return blocks;
}

/** Loose keys that a pair has to share where it shares no other. */
const LOOSE_NEEDED = 2;

/**
 * Every pair that shares a key, or two loose ones, once, as (a, b) with a < b. Repeats are removed without a set of pairs:
 * each person's partners are stamped while that person is at work.
 */
export function forEachPair(count: number, blocks: readonly Block[], each: (a: number, b: number) => void): void {
  // Which blocks each person is in, as one list after the other.
  const starts = new Int32Array(count + 1);
  for (const { members } of blocks) for (const member of members) starts[member + 1] = (starts[member + 1] ?? 0) + 1;
  for (let i = 0; i < count; i++) starts[i + 1] = (starts[i + 1] ?? 0) + (starts[i] ?? 0);
  const fill = starts.slice();
  const blocksOf = new Int32Array(starts[count] ?? 0);
  blocks.forEach(({ members }, id) => {
    for (const member of members) {
      const at = fill[member] ?? 0;
      blocksOf[at] = id;
      fill[member] = at + 1;
    }
  });
  const stamp = new Int32Array(count).fill(-1);
  const shared = new Uint8Array(count);
  for (let a = 0; a < count; a++) {
    for (let at = starts[a] ?? 0; at < (starts[a + 1] ?? 0); at++) {
      const block = blocks[blocksOf[at] ?? 0];
      if (!block) continue;
      const { members, loose } = block;
      const worth = loose ? 1 : LOOSE_NEEDED;
      // Members stand in ascending order, so those before a are passed over from the end.
      for (let m = members.length - 1; m >= 0; m--) {
        const b = members[m] ?? 0;
        if (b <= a) break;
        const before = stamp[b] === a ? (shared[b] ?? 0) : 0;
        if (before >= LOOSE_NEEDED) continue;
        stamp[b] = a;
        shared[b] = before + worth;
        if (before + worth >= LOOSE_NEEDED) each(a, b);
      }
    }
  }
}
