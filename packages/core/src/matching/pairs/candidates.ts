import { forEachPerson, type People } from '../people/people-store';
import type { MatchPerson } from '../people/person';
import type { ColumnComparer } from '../comparing/column-compare';
import { sharedInts } from '../comparing/columns';
import { grown } from '../people/key-numbers';
import { eachBlockingKey, keyHash } from '../people/keys';
import { COMPARED } from '../comparing/levels';
import { patternOf } from '../model/model';
import type { PairList } from './pair-list';
import { listed, Shelves, type Lists } from '../people/shelves';

/** Blocks larger than this are cut by a further key; what stays larger is passed over. */
const BLOCK_LIMIT = 60;
/**
 * What more records share is no reason by itself to compare them: a name that many bear, a line that many use. Something else
 * has to be shared as well.
 */
const COMMON = 20;

const KEYS_A_PERSON = 18;
const TIGHT = 1;
const OF_NAMES = 2;

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

function cutBlock(
  people: People,
  members: ArrayLike<number>,
  depth: number,
  take: (part: ArrayLike<number>) => void,
): void {
  if (members.length < 2) return;
  if (members.length <= BLOCK_LIMIT) return take(members);
  const cut = CUTS[depth];
  if (!cut) return;
  const parts = new Map<string, number[]>();
  for (let m = 0; m < members.length; m++) {
    const i = members[m] ?? 0;
    const person = people.at(i);
    const key = person ? cut(person) : '';
    const part = parts.get(key);
    if (part) part.push(i);
    else parts.set(key, [i]);
  }
  for (const part of parts.values()) cutBlock(people, part, depth + 1, take);
}

const NEEDED = 2;
const NAMED = 4;
/** What is added to a pair by sharing a block: two are compared from two on; all common names together are worth one. */
const ADDS = { tight: NEEDED, loose: 1, commonName: NAMED } as const;

/** People who share a key, none too many, by index; with what each block adds to a pair. */
export interface Blocks {
  members: Lists;
  adds: Uint8Array;
  /** Blocks of each person. */
  of: Lists;
}

/** Numbers that are added one by one. */
class Numbers {
  private items = new Int32Array(1 << 12);
  length = 0;

  push(number: number): void {
    if (this.length === this.items.length) this.items = grown(this.items);
    this.items[this.length++] = number;
  }

  taken(): Int32Array {
    return this.items.slice(0, this.length);
  }
}

/** Brings together who shares a key. Cost near linear in the number of people; some 17 keys a person. */
export function buildBlocks(people: People): Blocks {
  const shelves = new Shelves(people.length * KEYS_A_PERSON);
  forEachPerson(people, (person, i) =>
    eachBlockingKey(person, (text, loose, name) =>
      shelves.put(keyHash(text), i, (loose ? 0 : TIGHT) | (name ? OF_NAMES : 0)),
    ),
  );
  const starts = new Numbers();
  const members = new Numbers();
  const adds = new Numbers();
  starts.push(0);
  // A key that anybody has as a tight one is tight.
  shelves.forEachShared((all, _hash, kind) => {
    const common = all.length > COMMON;
    const add = common && kind & OF_NAMES ? ADDS.commonName : common || !(kind & TIGHT) ? ADDS.loose : ADDS.tight;
    cutBlock(people, all, 0, (part) => {
      for (let m = 0; m < part.length; m++) members.push(part[m] ?? 0);
      starts.push(members.length);
      adds.push(add);
    });
  });
  const blocks: Lists = { starts: sharedInts(starts.taken()), items: sharedInts(members.taken()) };
  const blockAt = new Int32Array(blocks.items.length);
  for (let block = 0; block < adds.length; block++) blockAt.fill(block, blocks.starts[block], blocks.starts[block + 1]);
  const of = listed(people.length, blocks.items, blockAt, blockAt.length);
  return {
    members: blocks,
    adds: Uint8Array.from(adds.taken()),
    of: { starts: sharedInts(of.starts), items: sharedInts(of.items) },
  };
}

const isEnough = (shared: number) => (shared & (NAMED - 1)) + (shared & NAMED ? 1 : 0) >= NEEDED;

/** Finds who may be one person in blocks, a stretch of people at a time. */
export class PairFinder {
  private readonly stamp: Int32Array;
  private readonly shared: Uint8Array;
  private readonly levels: number[] = COMPARED.map(() => 0);

  constructor(private readonly blocks: Blocks) {
    const count = blocks.of.starts.length - 1;
    this.stamp = new Int32Array(count).fill(-1);
    this.shared = new Uint8Array(count);
  }

  /**
   * Every pair that shares a tight key or enough others, once, as (a, b) with a < b, for each a of a range. Repeats are
   * removed without a set of pairs: each person's partners are stamped while that person is at work.
   */
  forEach(each: (a: number, b: number) => void, from: number, to: number): void {
    const { stamp, shared } = this;
    const {
      members: { starts, items },
      adds,
      of,
    } = this.blocks;
    for (let a = from; a < to; a++) {
      const last = of.starts[a + 1] ?? 0;
      for (let at = of.starts[a] ?? 0; at < last; at++) {
        const block = of.items[at] ?? 0;
        const add = adds[block] ?? 0;
        const first = starts[block] ?? 0;
        // Members stand in ascending order, so those before a are passed over from the end.
        for (let m = (starts[block + 1] ?? 0) - 1; m >= first; m--) {
          const b = items[m] ?? 0;
          if (b <= a) break;
          const before = stamp[b] === a ? (shared[b] ?? 0) : 0;
          if (isEnough(before)) continue;
          const now = add === NAMED ? before | NAMED : before + add;
          stamp[b] = a;
          shared[b] = now;
          if (isEnough(now)) each(a, b);
        }
      }
    }
  }

  /** Compares the pairs of a range into a list. */
  compare(comparer: ColumnComparer, into: PairList, from: number, to: number): void {
    const { levels } = this;
    this.forEach(
      (a, b) => {
        const turn = comparer.compareInto(levels, a, b);
        into.push(a, b, patternOf(levels), turn);
      },
      from,
      to,
    );
  }
}

/** Every pair of all people; see PairFinder. */
export function forEachPair(blocks: Blocks, each: (a: number, b: number) => void): void {
  new PairFinder(blocks).forEach(each, 0, blocks.of.starts.length - 1);
}
