import type { Turn } from '../comparing/levels';

/** Two indexes of up to 67 million people make one number without loss. */
const CODE_STEP = 2 ** 26;

/** One number for two people, whichever comes first. */
export const pairCode = (a: number, b: number): number => (a < b ? a * CODE_STEP + b : b * CODE_STEP + a);

const FIRST = 1 << 16;

/** Pairs as they go from one thread to another. */
export interface PlainPairs {
  a: Int32Array<ArrayBuffer>;
  b: Int32Array<ArrayBuffer>;
  pattern: Int32Array<ArrayBuffer>;
  turned: Uint8Array<ArrayBuffer>;
}

/** The candidate pairs of a scan with their patterns, compared once and kept in typed arrays that grow; 13 bytes a pair. */
export class PairList {
  private kept: PlainPairs;
  count = 0;

  constructor(room = FIRST) {
    this.kept = plain(room);
  }

  /** One list of several, in their order. */
  static joined(lists: readonly PlainPairs[]): PairList {
    const joined = new PairList(lists.reduce((sum, { a }) => sum + a.length, 0));
    for (const list of lists) {
      copyInto(joined.kept, list, joined.count);
      joined.count += list.a.length;
    }
    return joined;
  }

  push(a: number, b: number, pattern: number, turn: Turn): void {
    if (this.count === this.kept.a.length) {
      const larger = plain(Math.max(FIRST, this.count * 2));
      copyInto(larger, this.kept, 0);
      this.kept = larger;
    }
    this.kept.a[this.count] = a;
    this.kept.b[this.count] = b;
    this.kept.pattern[this.count] = pattern;
    this.kept.turned[this.count] = turn;
    this.count++;
  }

  at(i: number): { a: number; b: number; pattern: number; turn: Turn } {
    const { a, b, pattern, turned } = this.kept;
    return { a: a[i] ?? 0, b: b[i] ?? 0, pattern: pattern[i] ?? 0, turn: (turned[i] ?? 0) as Turn };
  }

  /** How many pairs have each pattern. */
  counts(): Map<number, number> {
    const counts = new Map<number, number>();
    for (let i = 0; i < this.count; i++) {
      const pattern = this.kept.pattern[i] ?? 0;
      counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
    }
    return counts;
  }

  /** The pairs from one to before another, without what was kept free. */
  plain(from = 0, to = this.count): PlainPairs {
    const { a, b, pattern, turned } = this.kept;
    return {
      a: a.slice(from, to),
      b: b.slice(from, to),
      pattern: pattern.slice(from, to),
      turned: turned.slice(from, to),
    };
  }
}

function plain(room: number): PlainPairs {
  return {
    a: new Int32Array(room),
    b: new Int32Array(room),
    pattern: new Int32Array(room),
    turned: new Uint8Array(room),
  };
}

function copyInto(to: PlainPairs, from: PlainPairs, at: number): void {
  to.a.set(from.a, at);
  to.b.set(from.b, at);
  to.pattern.set(from.pattern, at);
  to.turned.set(from.turned, at);
}
