import {
  openArchive,
  openEntry,
  messagesAsTable,
  splitMessages,
  textAsFile,
  textKindOf,
  Refusal as ServerRefusal,
  readSheets,
} from '@gray-loom/server';
import {
  closeSync,
  createReadStream,
  createWriteStream,
  mkdtempSync,
  openSync,
  readFileSync,
  readSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { looksLikeMessage, openDecoder, sniffEncoding, type MadeOf as TableMadeOf } from '@gray-loom/core/formats';
import { Refusal } from './refusal';

/** What a table was made of, where it did not come as one; null for one as it is. */
export type MadeOf = TableMadeOf | null;

/** Bytes of the beginning that are looked at. */
const LOOKED_AT = 16_000;
const LIMIT_BYTES = 1024 * 1024 * 1024;
/** What archives hold beside files. */
const BESIDE = /(?:^|\/)(?:__MACOSX\/|\.DS_Store$|Thumbs\.db$)|\/$/;

/**
 * Does something with a file as a table: what is packed is unpacked first, messages and the sheet of a spreadsheet that looks
 * most like contacts are made into one.
 */
export async function withTable<T>(path: string, work: (path: string, madeOf: MadeOf) => T): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'gray-loom-table-'));
  try {
    const table = await tableOf(path, folder);
    return work(table.path, table.madeOf);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The first bytes of a file, which tell what it is. */
function headOf(path: string): Buffer {
  const file = openSync(path, 'r');
  try {
    const head = Buffer.alloc(LOOKED_AT);
    return head.subarray(0, readSync(file, head, 0, head.length, 0));
  } finally {
    closeSync(file);
  }
}

async function tableOf(path: string, folder: string): Promise<{ path: string; madeOf: MadeOf }> {
  const head = headOf(path);
  if (head[0] === 0x1f && head[1] === 0x8b) {
    const plain = join(folder, 'plain');
    try {
      await pipeline(createReadStream(path), createGunzip(), createWriteStream(plain));
    } catch (error) {
      throw new Refusal(`${path}: The gzip archive cannot be opened: ${(error as Error).message}.`);
    }
    return tableOf(plain, folder);
  }
  if (head.length >= 4 && head.readUInt32LE(0) === 0x04034b50) return ofArchive(path, folder);
  const encoding = sniffEncoding(new Uint8Array(head));
  if (!encoding.ok) return { path, madeOf: null };
  const beginning = openDecoder(encoding.value.decoder).decode(head);
  if (looksLikeMessage(beginning)) {
    const raws = splitMessages(readFileSync(path).toString('latin1')).map((text) => Buffer.from(text, 'latin1'));
    return ofMessages(raws, folder);
  }
  return ofText(path, beginning, folder);
}

/** A text of records is made into a table; any other stays what it is. */
function ofText(path: string, beginning: string, folder: string): { path: string; madeOf: MadeOf } {
  try {
    const kind = textKindOf(beginning);
    if (!kind) return { path, madeOf: null };
    const bytes = readFileSync(path);
    const encoding = sniffEncoding(new Uint8Array(bytes.subarray(0, 1024 * 1024)));
    const decoder = openDecoder(encoding.ok ? encoding.value.decoder : 'utf-8');
    const table = join(folder, 'records.csv');
    const { text, madeOf } = textAsFile(kind, decoder.decode(bytes) + decoder.decode());
    writeFileSync(table, text);
    return { path: table, madeOf };
  } catch (error) {
    throw error instanceof ServerRefusal ? new Refusal(`${path}: ${error.words}`) : error;
  }
}

async function ofMessages(raws: readonly Buffer[], folder: string): Promise<{ path: string; madeOf: MadeOf }> {
  const table = join(folder, 'messages.csv');
  writeFileSync(table, await messagesAsTable(raws));
  return { path: table, madeOf: 'message' };
}

async function ofArchive(path: string, folder: string): Promise<{ path: string; madeOf: MadeOf }> {
  const archive = await openArchive(path);
  try {
    if (archive.entries.some(({ fileName }) => fileName === 'xl/workbook.xml')) {
      const [sheet] = await readSheets({ path, folder, limitBytes: LIMIT_BYTES });
      if (!sheet) throw new Refusal(`${path}: No sheet of this spreadsheet has rows below a heading.`);
      return { path: sheet.path, madeOf: 'spreadsheet' };
    }
    const entries = archive.entries.filter(({ fileName }) => !BESIDE.test(fileName));
    const areMessages = entries.length > 0 && entries.every(({ fileName }) => /\.eml$/i.test(fileName));
    if (!areMessages && entries.length !== 1)
      throw new Refusal(`${path}: There are ${entries.length} files in this archive; one is read at a time.`);
    const unfolds = entries.reduce((sum, entry) => sum + entry.uncompressedSize, 0);
    if (unfolds > LIMIT_BYTES) throw new Refusal(`${path}: This archive unfolds to more than a gigabyte.`);
    const unpacked: string[] = [];
    for (const [i, entry] of entries.entries()) {
      const to = join(folder, `${i}-${basename(entry.fileName)}`);
      await pipeline(await openEntry(archive, entry), createWriteStream(to));
      unpacked.push(to);
    }
    if (areMessages)
      return await ofMessages(
        unpacked.map((one) => readFileSync(one)),
        folder,
      );
    return await tableOf(unpacked[0] ?? '', folder);
  } finally {
    archive.zip.close();
  }
}
