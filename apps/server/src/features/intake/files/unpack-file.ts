import { createReadStream, createWriteStream } from 'node:fs';
import { basename, join } from 'node:path';
import { PassThrough, Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { eq } from 'drizzle-orm';
import type yauzl from 'yauzl';
import { looksLikeMessage, openDecoder, sniffEncoding, type TextKind } from '@gray-loom/core/formats';
import type { Database } from '../../../db/connect';
import { outOfRoom } from '../../../db/out-of-room';
import { intake } from '../../../db/schema';
import { tell } from '../../../feed/events';
import { SHEET_TOO_LARGE, type SheetFile } from './sheet-rows';
import type { SheetTask } from './sheet-thread';
import { Refusal, refuseIssue } from '../../../http/refusal';
import { refuseFile } from '../refusals';
import { broken, openArchive, openEntry, type Archive } from './archive';
import { messagesAsTable, splitMessages } from './read-messages';
import { takeFile, type IncomingFile } from './take-file';
import { textAsFile, textKindOf } from './text-table';
import { makeTempFolder } from '../../../runs/temp-folder';
import { outcomeOf, requestThread } from '../../../runs/threads';

const MB = 1024 * 1024;
/** No spreadsheet of what may come in unfolds to more; one that does is to be saved as delimited text. */
const SHEET_BYTES = 2048 * MB;
/** Bytes of the beginning that tell what a file is. */
const LOOKED_AT = 16_000;
/** A text of which a table is made is read whole. */
const TEXT_BYTES = 60 * MB;
/** Lists unfold to some ten times what they are packed; what unfolds to more than this is made to fill a disk. */
const MOST_TIMES = 300;
/** A package that unfolds to no more does no harm. */
const SMALL_BYTES = 20 * MB;
/** Packages within packages are opened so deep. */
const DEEPEST = 2;
/** Rows are read one by one; what needs more than this is no sheet of contacts. */
const SHEET_HEAP_MB = 256;
/** What archives hold beside files. */
const BESIDE = /(?:^|\/)(?:__MACOSX\/|\.DS_Store$|Thumbs\.db$)|\/$/;

/**
 * Takes a file in that may be packed: gzip, a zip with one file in it or with messages alone, messages, or a spreadsheet,
 * of which every sheet that has rows becomes a file; or records in a text of another kind. What is no package goes straight
 * on. Gives the id of the first. Errors: a refusal.
 */
export async function takePackedFile(database: Database, file: IncomingFile, depth = 0): Promise<number> {
  const reader = file.body[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
  const begin: Buffer[] = [];
  let size = 0;
  let failure: { error: unknown } | null = null;
  while (size < LOOKED_AT) {
    const next = await reader.next().catch((error: unknown) => {
      failure = { error };
      return { done: true as const, value: undefined };
    });
    if (next.done) break;
    begin.push(next.value);
    size += next.value.length;
  }
  const head = Buffer.concat(begin);
  const whole: IncomingFile = { ...file, body: Readable.from(rejoin(begin, reader, failure)) };
  if (depth < DEEPEST) {
    if (head[0] === 0x1f && head[1] === 0x8b) return takeGzip(database, whole, depth);
    if (head.length >= 4 && head.readUInt32LE(0) === 0x04034b50) return takeZip(database, whole, depth);
  }
  const encoding = sniffEncoding(new Uint8Array(head));
  if (!encoding.ok) return takeFile(database, whole);
  const beginning = openDecoder(encoding.value.decoder).decode(head).slice(0, LOOKED_AT);
  if (looksLikeMessage(beginning)) return takeMessages(database, whole);
  const kind = textKindOf(beginning);
  return kind ? takeText(database, whole, kind) : takeFile(database, whole);
}

/** All of a body, of which no more than `limitBytes` may come. */
async function wholeOf(file: IncomingFile, limitBytes: number): Promise<Buffer> {
  const body = file.body.pipe(gauge({ ...file, limitBytes }));
  const pieces: Buffer[] = [];
  file.body.on('error', (error) => body.destroy(error));
  for await (const piece of body as AsyncIterable<Buffer>) pieces.push(piece);
  return Buffer.concat(pieces);
}

/** A text of records becomes a table or cards, and goes the way of any file. */
async function takeText(database: Database, file: IncomingFile, kind: TextKind): Promise<number> {
  const bytes = await wholeOf(file, Math.min(file.limitBytes, TEXT_BYTES));
  const encoding = sniffEncoding(new Uint8Array(bytes.subarray(0, MB)));
  if (!encoding.ok) throw refuseIssue(encoding.error);
  const decoder = openDecoder(encoding.value.decoder);
  const made = textAsFile(kind, decoder.decode(bytes) + decoder.decode());
  return takeFile(database, {
    ...file,
    body: Readable.from([Buffer.from(made.text)]),
    declaredBytes: null,
    ...(made.madeOf ? { madeOf: made.madeOf } : {}),
  });
}

/** Messages become a table, a row for each, and go the way of any file. */
async function takeMessages(database: Database, file: IncomingFile): Promise<number> {
  // Bytes stay bytes: each part of a message says for itself how it is encoded.
  const raws = splitMessages((await wholeOf(file, file.limitBytes)).toString('latin1')).map((text) =>
    Buffer.from(text, 'latin1'),
  );
  return takeFile(database, {
    ...file,
    body: Readable.from([Buffer.from(await messagesAsTable(raws))]),
    declaredBytes: null,
    madeOf: 'message',
  });
}

async function* rejoin(
  begin: readonly Buffer[],
  rest: AsyncIterator<Buffer>,
  failure: { error: unknown } | null,
): AsyncGenerator<Buffer> {
  yield* begin;
  if (failure) throw failure.error;
  for (;;) {
    const next = await rest.next();
    if (next.done) return;
    yield next.value;
  }
}

/** Passes bytes on, counts them, and refuses more than a limit, or fewer than were announced. */
function gauge({ declaredBytes, limitBytes, signal }: IncomingFile): Transform & { bytes: number } {
  let bytes = 0;
  const gauged = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      gauged.bytes = bytes;
      if (signal?.aborted) done(signal.reason as Error);
      else if (bytes > limitBytes) done(refuseIssue({ code: 'fileTooLarge', bytes, limitBytes, path: {} }));
      else done(null, chunk);
    },
    flush(done) {
      if (declaredBytes !== null && bytes !== declaredBytes)
        done(refuseIssue({ code: 'uploadCutOff', receivedBytes: bytes, declaredBytes, path: {} }));
      else done();
    },
  }) as Transform & { bytes: number };
  gauged.bytes = 0;
  return gauged;
}

/** Passes on what a package unfolds to, and refuses one that unfolds to far more than lists do. */
function ratioGauge(packed: { bytes: number }): Transform {
  let bytes = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      done(unfoldsTooFar(bytes, packed.bytes) ? tooFar(bytes, packed.bytes) : null, chunk);
    },
  });
}

const unfoldsTooFar = (bytes: number, packedBytes: number) =>
  bytes > SMALL_BYTES && bytes > MOST_TIMES * Math.max(1, packedBytes);

const tooFar = (bytes: number, packedBytes: number) =>
  refuseFile.unfoldsTooFar({ times: Math.floor(bytes / Math.max(1, packedBytes)), limit: MOST_TIMES });

async function takeGzip(database: Database, file: IncomingFile, depth: number): Promise<number> {
  const plain = new PassThrough();
  let failure: unknown = null;
  const packed = gauge(file);
  const unpacking = pipeline(file.body, packed, createGunzip(), ratioGauge(packed), plain).catch((error: unknown) => {
    failure = error;
  });
  try {
    return await takePackedFile(
      database,
      { ...file, name: file.name.replace(/\.gz$/i, ''), body: plain, declaredBytes: null },
      depth + 1,
    );
  } catch (error) {
    // What went wrong first is what is told.
    plain.destroy();
    await unpacking;
    if (failure instanceof Refusal) throw failure;
    if (error instanceof Refusal && error.code !== 'uploadCutOff') throw error;
    // The archive is whole; what went wrong is ours.
    if (failure === null && !(error instanceof Refusal)) throw error;
    throw broken('gzip archive', failure instanceof Error ? failure.message : 'it breaks off');
  }
}

async function takeZip(database: Database, file: IncomingFile, depth: number): Promise<number> {
  const folder = makeTempFolder('zip');
  let archive: Archive | null = null;
  try {
    const path = join(folder.path, 'packed.zip');
    await pipeline(file.body, gauge(file), createWriteStream(path));
    archive = await openArchive(path);
    for (const { compressedSize, uncompressedSize } of archive.entries)
      if (unfoldsTooFar(uncompressedSize, compressedSize)) throw tooFar(uncompressedSize, compressedSize);
    if (archive.entries.some(({ fileName }) => fileName === 'xl/workbook.xml'))
      return await takeSheets(database, file, archive, path, folder.path);
    const files = archive.entries.filter(({ fileName }) => !BESIDE.test(fileName));
    const [only] = files;
    if (only && files.every(({ fileName }) => /\.eml$/i.test(fileName)))
      return await takeZippedMessages(database, file, archive, files);
    if (!only) throw refuseFile.emptyArchive();
    if (files.length > 1)
      throw refuseFile.severalFiles({ count: files.length, first: files.slice(0, 3).map(({ fileName }) => fileName) });
    if (only.isEncrypted()) throw refuseFile.locked();
    return await takePackedFile(
      database,
      { ...file, name: basename(only.fileName), body: await openEntry(archive, only), declaredBytes: null },
      depth + 1,
    ).catch((error: unknown) => {
      throw error instanceof Refusal && error.code === 'uploadCutOff'
        ? broken('zip archive', 'the file in it breaks off')
        : error;
    });
  } finally {
    archive?.zip.close();
    folder.drop();
  }
}

async function takeZippedMessages(
  database: Database,
  file: IncomingFile,
  archive: Archive,
  entries: readonly yauzl.Entry[],
): Promise<number> {
  const unfolds = entries.reduce((sum, entry) => sum + entry.uncompressedSize, 0);
  if (unfolds > file.limitBytes)
    throw refuseIssue({ code: 'fileTooLarge', bytes: unfolds, limitBytes: file.limitBytes, path: {} });
  const raws: Buffer[] = [];
  for (const entry of entries) {
    const pieces: Buffer[] = [];
    for await (const piece of (await openEntry(archive, entry)) as AsyncIterable<Buffer>) pieces.push(piece);
    raws.push(Buffer.concat(pieces));
  }
  return takeFile(database, {
    ...file,
    body: Readable.from([Buffer.from(await messagesAsTable(raws))]),
    declaredBytes: null,
    madeOf: 'message',
  });
}

/** Takes a file back out that came in with others of which one cannot. */
async function dropTaken({ db, pool }: Database, id: number): Promise<void> {
  await db.delete(intake).where(eq(intake.id, id));
  await tell(pool, { topic: 'intakes', id });
}

async function takeSheets(
  database: Database,
  file: IncomingFile,
  { entries }: Archive,
  path: string,
  folder: string,
): Promise<number> {
  const unfolds = entries.reduce((sum, entry) => sum + entry.uncompressedSize, 0);
  if (unfolds > SHEET_BYTES)
    throw refuseFile.sheetTooLarge({ unfoldsMb: Math.round(unfolds / MB), limitMb: SHEET_BYTES / MB });
  const task: SheetTask = { path, folder, limitBytes: file.limitBytes };
  const running = requestThread('sheet-thread', SHEET_HEAP_MB).run(task, { signal: file.signal });
  const sheets = await outcomeOf<SheetFile[]>(running).catch((error: unknown) => {
    if (error instanceof Error && error.message === SHEET_TOO_LARGE)
      throw refuseIssue({ code: 'fileTooLarge', bytes: unfolds, limitBytes: file.limitBytes, path: {} });
    if (outOfRoom(error)) throw error;
    throw broken('spreadsheet', error instanceof Error ? error.message : String(error));
  });
  // Whoever stopped it while it was read was told that nothing is taken in.
  file.signal?.throwIfAborted();
  if (!sheets.length) throw refuseIssue({ code: 'noDataRows', path: {} });
  const ids: number[] = [];
  // Every sheet is a file of its own; a sheet that is no table of contacts takes none of the others with it.
  const wrong: unknown[] = [];
  for (const sheet of sheets) {
    const name = sheets.length > 1 ? `${file.name}, ${sheet.name}` : file.name;
    const taken = takeFile(database, {
      ...file,
      name,
      body: createReadStream(sheet.path),
      declaredBytes: null,
      madeOf: 'spreadsheet',
    });
    try {
      ids.push(await taken);
    } catch (error) {
      if (error instanceof Refusal) wrong.push(error);
      else {
        // What went wrong is no fault of this sheet: all are to be sent again, so none stays.
        for (const id of ids) await dropTaken(database, id);
        throw error;
      }
    }
  }
  const [first] = ids;
  if (first === undefined) throw wrong[0];
  return first;
}
