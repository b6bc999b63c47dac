const FIRST_SIZE = 1 << 14;
const MOST_SIZE = 1 << 22;

/**
 * Levels by pair of numbers, whichever comes first: names meet again and again in a scan. Open addressing in typed arrays;
 * 9 bytes a place, and forgotten whole when it would grow beyond 38 MB.
 */
export class LevelCache {
  private size = FIRST_SIZE;
  private used = 0;
  private first = new Int32Array(FIRST_SIZE);
  private second = new Int32Array(FIRST_SIZE);
  private level = new Uint8Array(FIRST_SIZE);

  private placeOf(a: number, b: number): number {
    const mask = this.size - 1;
    let at = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) & mask;
    while (this.first[at] !== 0 && (this.first[at] !== a || this.second[at] !== b)) at = (at + 1) & mask;
    return at;
  }

  /** The level of a pair, made by `make` where it is not kept. Numbers are from 1 on. */
  of(x: number, y: number, make: () => number): number {
    const a = x < y ? x : y;
    const b = x < y ? y : x;
    const at = this.placeOf(a, b);
    if (this.first[at] !== 0) return this.level[at] ?? 0;
    const made = make();
    if (this.used * 2 >= this.size) this.grow();
    const place = this.placeOf(a, b);
    this.first[place] = a;
    this.second[place] = b;
    this.level[place] = made;
    this.used++;
    return made;
  }

  private grow(): void {
    const { first, second, level } = this;
    const keep = this.size < MOST_SIZE;
    if (keep) this.size *= 2;
    this.first = new Int32Array(this.size);
    this.second = new Int32Array(this.size);
    this.level = new Uint8Array(this.size);
    this.used = 0;
    if (!keep) return;
    for (let i = 0; i < first.length; i++) {
      const a = first[i] ?? 0;
      if (a === 0) continue;
      const at = this.placeOf(a, second[i] ?? 0);
      this.first[at] = a;
      this.second[at] = second[i] ?? 0;
      this.level[at] = level[i] ?? 0;
      this.used++;
    }
  }
}
