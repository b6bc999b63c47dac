import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { from as copyFrom } from 'pg-copy-streams';
import type pg from 'pg';

const ESCAPES: Record<string, string> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' };

/** One cell of COPY's text format. */
export function copyCell(value: string | number | bigint | null | undefined): string {
  if (value === null || value === undefined) return '\\N';
  if (typeof value !== 'string') return String(value);
  return /[\\\n\r\t]/.test(value) ? value.replace(/[\\\n\r\t]/g, (c) => ESCAPES[c] ?? c) : value;
}

/** Texts as cells side by side. */
export function copyCells(values: readonly string[]): string {
  const line = values.join('\u0001');
  return /[\\\n\r\t]/.test(line) ? values.map(copyCell).join('\t') : values.join('\t');
}

/** JSON text as a cell: what it escapes leaves only backslashes to double. */
export function copyJson(json: string): string {
  return json.includes('\\') ? json.replaceAll('\\', '\\\\') : json;
}

/** A text array as PostgreSQL writes it, ready for copyCell. */
export function copyArray(values: readonly string[]): string {
  if (values.length === 0) return '{}';
  return `{${values.map((value) => `"${/["\\]/.test(value) ? value.replace(/(["\\])/g, '\\$1') : value}"`).join(',')}}`;
}

/** Lines in COPY's text format as bytes in memory of their own, which goes from thread to thread without being copied. */
export class CopyLines {
  private bytes: Buffer<ArrayBuffer>;
  private used = 0;

  /** Room for so many bytes to begin with. */
  constructor(room = 1 << 12) {
    this.bytes = Buffer.from(new ArrayBuffer(room));
  }

  add(line: string): void {
    // A UTF-16 unit takes at most three bytes.
    const most = this.used + line.length * 3 + 1;
    if (most > this.bytes.length) {
      const larger = Buffer.from(new ArrayBuffer(Math.max(this.bytes.length * 2, most)));
      this.bytes.copy(larger, 0, 0, this.used);
      this.bytes = larger;
    }
    this.used += this.bytes.write(line, this.used);
    this.bytes[this.used++] = 10;
  }

  taken(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(this.bytes.buffer, 0, this.used);
  }
}

/** Sends bytes in COPY's text format into a table. */
export async function copyBytes(
  client: pg.PoolClient,
  table: string,
  columns: string,
  bytes: Uint8Array,
): Promise<void> {
  if (bytes.length === 0) return;
  const stream = client.query(copyFrom(`copy ${table} (${columns}) from stdin`));
  await pipeline(
    Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)], { objectMode: false }),
    stream,
  );
}

const PAIR_BYTES = 26;
const BINARY_HEAD = Buffer.concat([Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1'), Buffer.alloc(8)]);
const WORD = 2 ** 32;
/** Bits of the numbers that are sorted, which are those of keys. */
const KEY_BITS = 53;
const MOST_PLACES = 2 ** 16;

/**
 * The places of numbers (0 to 2^53) in their order; of equal ones the earlier first. Numbers of keys lie evenly, so each is put
 * near its place by its first bits, and few steps are left: a tenth of what sorting by comparing costs.
 */
export function orderOf(numbers: Float64Array): Uint32Array {
  const { length } = numbers;
  let places = 2;
  while (places < length && places < MOST_PLACES) places *= 2;
  const width = 2 ** KEY_BITS / places;
  const from = new Uint32Array(places + 1);
  const placeOf = (i: number) => Math.floor((numbers[i] ?? 0) / width);
  for (let i = 0; i < length; i++) from[placeOf(i) + 1]!++;
  for (let place = 1; place <= places; place++) from[place]! += from[place - 1] ?? 0;
  const order = new Uint32Array(length);
  for (let i = 0; i < length; i++) order[from[placeOf(i)]!++] = i;
  for (let k = 1; k < length; k++) {
    const i = order[k] ?? 0;
    const number = numbers[i] ?? 0;
    let before = k - 1;
    for (; before >= 0 && (numbers[order[before] ?? 0] ?? 0) > number; before--) order[before + 1] = order[before] ?? 0;
    order[before + 1] = i;
  }
  return order;
}

/**
 * Pairs of whole numbers into a table of two bigint columns, in COPY's binary format and in order of the first: what
 * stands side by side in the index is then written side by side, which spares a quarter of its cost.
 */
export async function copyPairs(
  client: pg.PoolClient,
  table: string,
  columns: string,
  firsts: Float64Array,
  seconds: Float64Array,
): Promise<void> {
  const count = firsts.length;
  if (count === 0) return;
  const bytes = Buffer.alloc(BINARY_HEAD.length + count * PAIR_BYTES + 2);
  BINARY_HEAD.copy(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let at = BINARY_HEAD.length;
  const put = (value: number) => {
    const high = Math.floor(value / WORD);
    view.setInt32(at, 8);
    view.setInt32(at + 4, high);
    view.setUint32(at + 8, value - high * WORD);
    at += 12;
  };
  for (const i of orderOf(firsts)) {
    view.setInt16(at, 2);
    at += 2;
    put(firsts[i] ?? 0);
    put(seconds[i] ?? 0);
  }
  view.setInt16(at, -1);
  const stream = client.query(copyFrom(`copy ${table} (${columns}) from stdin (format binary)`));
  await pipeline(Readable.from([bytes], { objectMode: false }), stream);
}

/** Streams lines made with copyCell into a table. */
export async function copyLines(
  client: pg.PoolClient,
  table: string,
  columns: string,
  lines: readonly string[],
): Promise<void> {
  if (lines.length === 0) return;
  const stream = client.query(copyFrom(`copy ${table} (${columns}) from stdin`));
  const pieces: string[] = [];
  for (let i = 0; i < lines.length; i += 500) pieces.push(`${lines.slice(i, i + 500).join('\n')}\n`);
  await pipeline(Readable.from(pieces), stream);
}
