/** Numbers keys in the order in which they come: open addressing over their 53-bit hashes, 12 bytes a place. */
export class KeyNumbers {
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

  /** The number of a key, from 0 on; a key that is new gets the next one. */
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

  /** The number of a key; -1 for one that has none. */
  find(hash: number): number {
    return (this.numbers[this.placeOf(hash)] ?? 0) - 1;
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

/** The same numbers with twice the room. */
export function grown(from: Int32Array): Int32Array<ArrayBuffer> {
  const to = new Int32Array(from.length * 2);
  to.set(from);
  return to;
}
