import type { MatchPerson } from './person';
import { eachBlockingKey, keyHash } from './keys';

/** Blocks larger than this are cut by a further key; what stays larger is passed over. */
const BLOCK_LIMIT = 60;
/**
 * What more records share is no reason by itself to compare them: a name that many bear, a line that many use. Something else
 * has to be shared as well.
 */
const COMMON = 20;

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

function cutBlock(people: readonly MatchPerson[], members: ArrayLike<number>, depth: number, out: number[][]): void {
  if (members.length < 2) return;
  if (members.length <= BLOCK_LIMIT) {
    out.push(Array.from(members));
    return;
  }
  const cut = CUTS[depth];
  if (!cut) return;
  const parts = new Map<string, number[]>();
  for (let m = 0; m < members.length; m++) {
    const i = members[m] ?? 0;
    const person = people[i];
    const key = person ? cut(person) : '';
    const part = parts.get(key);
    if (part) part.push(i);
    else parts.set(key, [i]);
  }
  for (const part of parts.values()) cutBlock(people, part, depth + 1, out);
}

/** Numbers keys in the order in which they come: open addressing over their hashes. */
class KeyNumbers {
  private mask: number;
  private hashes: Float64Array;
  private numbers: Int32Array;
  count = 0;

  constructor(expected: number) {
    let size = 1 << 12;
    while (size < expected * 2) size *= 2;
    this.mask = size - 1;
    this.hashes = new Float64Array(size);
    this.numbers = new Int32Array(size);
  }

  of(hash: number): number {
    let at = this.placeOf(hash);
    const known = this.numbers[at] ?? 0;
    if (known > 0) return known - 1;
    if (this.count * 2 > this.mask) {
      this.grow();
      at = this.placeOf(hash);
    }
    this.hashes[at] = hash;
    this.numbers[at] = this.count + 1;
    return this.count++;
  }

  private placeOf(hash: number): number {
    let at = (hash ^ Math.floor(hash / 4294967296)) & this.mask;
    while (this.numbers[at] !== 0 && this.hashes[at] !== hash) at = (at + 1) & this.mask;
    return at;
  }

  private grow(): void {
    const { hashes, numbers } = this;
    this.mask = this.mask * 2 + 1;
    this.hashes = new Float64Array(this.mask + 1);
    this.numbers = new Int32Array(this.mask + 1);
    for (let i = 0; i < numbers.length; i++) {
      if (numbers[i] === 0) continue;
      const at = this.placeOf(hashes[i] ?? 0);
      this.hashes[at] = hashes[i] ?? 0;
      this.numbers[at] = numbers[i] ?? 0;
    }
  }
}

function grown(from: Int32Array): Int32Array {
  const to = new Int32Array(from.length * 2);
  to.set(from);
  return to;
}

/** Lists of numbers, one after the other: list i is `items` from `starts[i]` to `starts[i + 1]`. */
export interface Lists {
  starts: Int32Array;
  items: Int32Array;
}

/** Sorts items into lists by number, keeping their order. */
function listed(count: number, numbers: Int32Array, items: (at: number) => number, length: number): Lists {
  const starts = new Int32Array(count + 1);
  for (let at = 0; at < length; at++) {
    const next = (numbers[at] ?? 0) + 1;
    starts[next] = (starts[next] ?? 0) + 1;
  }
  for (let i = 0; i < count; i++) starts[i + 1] = (starts[i + 1] ?? 0) + (starts[i] ?? 0);
  const fill = starts.slice();
  const sorted = new Int32Array(length);
  for (let at = 0; at < length; at++) {
    const number = numbers[at] ?? 0;
    const to = fill[number] ?? 0;
    sorted[to] = items(at);
    fill[number] = to + 1;
  }
  return { starts, items: sorted };
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

/** Brings together who shares a key. Cost near linear in the number of people; 17 keys a person, four numbers each. */
export function buildBlocks(people: readonly MatchPerson[]): Blocks {
  const numbers = new KeyNumbers(people.length * 8);
  let keyAt: Int32Array = new Int32Array(1 << 16);
  let personAt: Int32Array = new Int32Array(1 << 16);
  let kinds: Uint8Array = new Uint8Array(1 << 16);
  let length = 0;
  people.forEach((person, i) => {
    eachBlockingKey(person, (text, loose, name) => {
      if (length === keyAt.length) [keyAt, personAt] = [grown(keyAt), grown(personAt)];
      const key = numbers.of(keyHash(text));
      if (key >= kinds.length) {
        const more = new Uint8Array(kinds.length * 2);
        more.set(kinds);
        kinds = more;
      }
      // A key that anybody has as a tight one is tight.
      kinds[key] = (kinds[key] ?? 0) | (loose ? 0 : 1) | (name ? 2 : 0);
      keyAt[length] = key;
      personAt[length] = i;
      length++;
    });
  });
  const byKey = listed(numbers.count, keyAt, (at) => personAt[at] ?? 0, length);
  const starts: number[] = [0];
  const adds: number[] = [];
  const members: number[] = [];
  for (let key = 0; key < numbers.count; key++) {
    const from = byKey.starts[key] ?? 0;
    const to = byKey.starts[key + 1] ?? 0;
    if (to - from < 2) continue;
    const all = byKey.items.subarray(from, to).filter((one, n, list) => n === 0 || one !== list[n - 1]);
    if (all.length < 2) continue;
    const kind = kinds[key] ?? 0;
    const common = all.length > COMMON;
    const add = common && kind & 2 ? ADDS.commonName : common || !(kind & 1) ? ADDS.loose : ADDS.tight;
    const parts: number[][] = [];
    cutBlock(people, all, 0, parts);
    for (const part of parts) {
      for (const one of part) members.push(one);
      starts.push(members.length);
      adds.push(add);
    }
  }
  const blocks: Lists = { starts: Int32Array.from(starts), items: Int32Array.from(members) };
  const blockAt = new Int32Array(members.length);
  for (let block = 0; block < adds.length; block++) blockAt.fill(block, starts[block], starts[block + 1]);
  return {
    members: blocks,
    adds: Uint8Array.from(adds),
    of: listed(people.length, blocks.items, (at) => blockAt[at] ?? 0, members.length),
  };
}

const isEnough = (shared: number) => (shared & (NAMED - 1)) + (shared & NAMED ? 1 : 0) >= NEEDED;

/**
 * Every pair that shares a tight key or enough others, once, as (a, b) with a < b, for each a of a range. Repeats are
 * removed without a set of pairs: each person's partners are stamped while that person is at work.
 */
export function forEachPair(
  { members: { starts, items }, adds, of }: Blocks,
  each: (a: number, b: number) => void,
  from = 0,
  to = of.starts.length - 1,
): void {
  const count = of.starts.length - 1;
  const stamp = new Int32Array(count).fill(-1);
  const shared = new Uint8Array(count);
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
