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
  const order = Uint32Array.from(firsts.keys()).sort((a, b) => (firsts[a] ?? 0) - (firsts[b] ?? 0));
  const head = BINARY_HEAD.length;
  const bytes = Buffer.alloc(head + count * PAIR_BYTES + 2);
  BINARY_HEAD.copy(bytes);
  let at = head;
  const put = (value: number) => {
    bytes.writeInt32BE(8, at);
    bytes.writeInt32BE(Math.floor(value / 4294967296), at + 4);
    bytes.writeUInt32BE(value % 4294967296, at + 8);
    at += 12;
  };
  for (const i of order) {
    bytes.writeInt16BE(2, at);
    at += 2;
    put(firsts[i] ?? 0);
    put(seconds[i] ?? 0);
  }
  bytes.writeInt16BE(-1, at);
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
