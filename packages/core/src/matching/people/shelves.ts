import { KeyNumbers } from './key-numbers';

/** Lists of numbers, one after the other: list i is `items` from `starts[i]` to `starts[i + 1]`. */
export interface Lists {
  starts: Int32Array;
  items: Int32Array;
}

/** Sorts items into lists by number, keeping their order. */
export function listed(count: number, numbers: Int32Array, items: Int32Array, length: number): Lists {
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
    sorted[to] = items[at] ?? 0;
    fill[number] = to + 1;
  }
  return { starts, items: sorted };
}

/** Keys of one shelf: hash, whose it is, and bits of its kind; 13 bytes each. */
class Shelf {
  count = 0;
  hashes: Float64Array;
  people: Int32Array;
  kinds: Uint8Array;

  constructor(expected: number) {
    this.hashes = new Float64Array(expected);
    this.people = new Int32Array(expected);
    this.kinds = new Uint8Array(expected);
  }

  put(hash: number, person: number, kind: number): void {
    if (this.count === this.hashes.length) this.grow();
    this.hashes[this.count] = hash;
    this.people[this.count] = person;
    this.kinds[this.count++] = kind;
  }

  private grow(): void {
    const larger = new Shelf(Math.ceil(this.count * 1.25) + 16);
    larger.hashes.set(this.hashes);
    larger.people.set(this.people);
    larger.kinds.set(this.kinds);
    ({ hashes: this.hashes, people: this.people, kinds: this.kinds } = larger);
  }
}

const SHELVES = 256;

/**
 * Who has which key, for keys of very many people: put apart by their hash, so that those of one shelf are numbered within the
 * processor's cache. A map from texts to lists would take ten times the room.
 */
export class Shelves {
  private readonly shelves: (Shelf | null)[];

  /** For so many keys; more are taken as well. */
  constructor(keys: number) {
    const expected = Math.ceil(keys / SHELVES) + 16;
    this.shelves = Array.from({ length: SHELVES }, () => new Shelf(expected));
  }

  put(hash: number, person: number, kind = 0): void {
    this.shelves[hash >>> 24]?.put(hash, person, kind);
  }

  /** Who shares a key, in ascending order, key by key: two or more each. A shelf is let go once it is done. */
  forEachShared(each: (members: Int32Array, hash: number, kind: number) => void): void {
    this.shelves.forEach((shelf, at) => {
      if (!shelf) return;
      this.shelves[at] = null;
      const { count, hashes, people, kinds } = shelf;
      const numbers = new KeyNumbers(count);
      const numberAt = new Int32Array(count);
      const kindOf = new Uint8Array(count);
      const hashOf = new Float64Array(count);
      for (let i = 0; i < count; i++) {
        const number = numbers.of(hashes[i] ?? 0);
        numberAt[i] = number;
        hashOf[number] = hashes[i] ?? 0;
        kindOf[number] = (kindOf[number] ?? 0) | (kinds[i] ?? 0);
      }
      const { starts, items } = listed(numbers.count, numberAt, people, count);
      for (let key = 0; key < numbers.count; key++) {
        const [from, to] = [starts[key] ?? 0, starts[key + 1] ?? 0];
        if (to - from < 2) continue;
        const members = items.subarray(from, to).filter((one, n, list) => n === 0 || one !== list[n - 1]);
        if (members.length > 1) each(members, hashOf[key] ?? 0, kindOf[key] ?? 0);
      }
    });
  }
}
