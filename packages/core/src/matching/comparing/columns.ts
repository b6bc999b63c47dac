/** Memory that threads share where there are threads to share it with. */
const memory = (bytes: number): ArrayBufferLike =>
  typeof SharedArrayBuffer === 'undefined' ? new ArrayBuffer(bytes) : new SharedArrayBuffer(bytes);

/** The same numbers where other threads can read them. */
export function sharedInts(numbers: Int32Array): Int32Array {
  const shared = new Int32Array(memory(numbers.byteLength));
  shared.set(numbers);
  return shared;
}

type Numbers = Int32Array | Float64Array | Uint16Array;

/** A column of numbers that grows by half as it is filled; other threads may read it once nothing is added any more. */
class Column<T extends Numbers> {
  length = 0;

  constructor(
    public items: T,
    private readonly make: (bytes: ArrayBufferLike) => T,
  ) {}

  push(number: number): void {
    if (this.length === this.items.length) this.grow(this.length + 1);
    this.items[this.length++] = number;
  }

  /** Adds all of another one's. */
  pushAll(numbers: T): void {
    this.reserve(numbers.length);
    this.items.set(numbers as never, this.length);
    this.length += numbers.length;
  }

  /** Room for so many more. */
  reserve(more: number): void {
    if (this.length + more > this.items.length) this.grow(this.length + more);
  }

  private grow(least: number): void {
    const size = Math.max(least, Math.ceil(this.items.length * 1.5));
    const larger = this.make(memory(size * this.items.BYTES_PER_ELEMENT));
    larger.set(this.items.subarray(0, this.length));
    this.items = larger;
  }
}

const FIRST = 64;

export type IntColumn = Column<Int32Array>;
export type FloatColumn = Column<Float64Array>;

export const intColumn = (items?: Int32Array): IntColumn =>
  columnOf((bytes) => new Int32Array(bytes), items ?? new Int32Array(memory(FIRST * 4)), items?.length);

export const floatColumn = (items?: Float64Array): FloatColumn =>
  columnOf((bytes) => new Float64Array(bytes), items ?? new Float64Array(memory(FIRST * 8)), items?.length);

function columnOf<T extends Numbers>(make: (bytes: ArrayBufferLike) => T, items: T, length = 0): Column<T> {
  const column = new Column(items, make);
  column.length = length;
  return column;
}

const unitColumn = (items?: Uint16Array): Column<Uint16Array> =>
  columnOf((bytes) => new Uint16Array(bytes), items ?? new Uint16Array(memory(FIRST * 2)), items?.length);

/** Texts one after the other as UTF-16 code units, by number: for what is each person's own. */
export class TextColumn {
  private readonly units: Column<Uint16Array>;
  private readonly starts: IntColumn;

  constructor(filled?: { units: Uint16Array; starts: Int32Array }) {
    this.units = unitColumn(filled?.units);
    this.starts = intColumn(filled?.starts);
    if (!filled) this.starts.push(0);
  }

  push(text: string): void {
    this.units.reserve(text.length);
    const { items } = this.units;
    let at = this.units.length;
    for (let i = 0; i < text.length; i++) items[at++] = text.charCodeAt(i);
    this.units.length = at;
    this.starts.push(at);
  }

  /** Adds all texts of another column. */
  pushAll({ units, starts }: { units: Uint16Array; starts: Int32Array }): void {
    const before = this.units.length;
    this.units.pushAll(units);
    this.starts.pushAll(starts.subarray(1).map((start) => start + before));
  }

  at(i: number): string {
    const from = this.starts.items[i] ?? 0;
    const to = this.starts.items[i + 1] ?? from;
    return from === to ? '' : (String.fromCharCode.apply(null, this.units.items.subarray(from, to) as never) as string);
  }

  /** Where a text begins. */
  startOf(i: number): number {
    return this.starts.items[i] ?? 0;
  }

  /** The code units of all texts. */
  get all(): Uint16Array {
    return this.units.items;
  }

  /** The memory, for another thread. */
  shared(): { units: Uint16Array; starts: Int32Array } {
    return {
      units: this.units.items.subarray(0, this.units.length),
      starts: this.starts.items.subarray(0, this.starts.length),
    };
  }
}

/** Texts that many share, each once and known by its number; 0 is the empty text. */
export class Texts {
  private numbers: Map<string, number> | null;

  constructor(private readonly texts: string[] = ['']) {
    this.numbers = texts.length === 1 ? new Map([['', 0]]) : null;
  }

  get count(): number {
    return this.texts.length;
  }

  numberOf(text: string): number {
    if (text === '') return 0;
    this.numbers ??= new Map(this.texts.map((known, i) => [known, i]));
    const known = this.numbers.get(text);
    if (known !== undefined) return known;
    this.numbers.set(text, this.texts.length);
    this.texts.push(text);
    return this.texts.length - 1;
  }

  at(number: number): string {
    return this.texts[number] ?? '';
  }

  /** Lets go what only adding needs. */
  seal(): void {
    this.numbers = null;
  }

  shared(): string[] {
    return this.texts;
  }
}
