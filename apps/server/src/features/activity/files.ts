import { createHash } from 'node:crypto';
import { fileTypeFromBuffer } from 'file-type';
import sharp from 'sharp';
import {
  activityOf,
  FILE_LIMIT_BYTES,
  faultOfFile,
  nameOfFile,
  shownAs,
  typeInWords,
  type FileContent,
} from '@gray-loom/core/activity';
import { addActivities } from '../../book/activities';
import { requireLive } from '../../book/require-live';
import { accountIdOf } from '../../db/actor';
import { inTransaction, type Database } from '../../db/connect';
import type { FileAnswer } from '../../http/declare';
import { readWhole } from '../../http/read-whole';
import { handThread, startRun } from '../../runs/runs';
import { entriesOf } from './activities';
import { refuse } from './refusals';
import { fileBytes, fileHere, keepFile } from './statements/files';

/** Bytes at the beginning of a text that are looked at. */
const LOOKED_AT = 65_536;

/** What a content without a mark of its kind is: a text of some sort, or bytes of which nothing can be said. */
function typeOfText(bytes: Buffer): string {
  const start = bytes.subarray(0, LOOKED_AT);
  if (start.includes(0)) return 'application/octet-stream';
  const text = start.toString('latin1').trimStart().toLowerCase();
  if (text.startsWith('#!')) return 'text/x-script';
  if (/^(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*(?:<!doctype svg[^>]*>\s*)?<svg[\s>]/.test(text))
    return 'image/svg+xml';
  return /^(?:<!doctype html|<html|<head|<body|<script)/.test(text) ? 'text/html' : 'text/plain';
}

/** What a file is by its content; its name is not asked. */
export async function typeOfContent(bytes: Buffer): Promise<string> {
  const found = await fileTypeFromBuffer(bytes);
  if (!found || found.mime === 'application/xml') return typeOfText(bytes);
  return found.mime;
}

/** Keeps a file on a contact. One that is there already, whatever its name, is refused. */
export async function addFile(
  database: Database,
  contactId: number,
  given: string,
  stream: ReadableStream<Uint8Array> | null,
): Promise<{ id: number; runId: number }> {
  const bytes = await readWhole(stream, FILE_LIMIT_BYTES);
  const name = nameOfFile(given);
  const mediaType = await typeOfContent(bytes);
  const fault = faultOfFile({ name, mediaType, bytes: bytes.length });
  if (fault) throw (fault.code === 'tooLarge' ? refuse.fileTooLarge : refuse.file)({ field: 'file', fault });
  const file: FileContent = {
    hash: createHash('sha256').update(bytes).digest('hex'),
    mediaType,
    bytes: bytes.length,
  };
  return inTransaction(database, async (tx) => {
    await requireLive(tx, contactId);
    const [here] = (await fileHere(tx.client, contactId, file.hash)).rows;
    if (here) throw refuse.fileHere({ field: 'file', name, as: here.name });
    await keepFile(tx.client, file, bytes);
    const runId = await startRun(tx, {
      kind: 'activity',
      state: 'done',
      threadId: await handThread(tx),
      title: `File: ${name}`,
      contactId,
    });
    const activity = activityOf('file', { at: new Date().toISOString(), who: accountIdOf(tx.actor), what: name, file });
    const [id = 0] = await addActivities(tx, runId, [{ contactId, activity }]);
    return { id, runId };
  });
}

/** A file that whoever asks may see, with its name. */
async function requireFile(
  database: Database,
  id: number,
): Promise<{ name: string; file: FileContent; bytes: Buffer }> {
  const [entry] = await entriesOf(database, [id]);
  const { file = null, what: name = '', gone = true } = entry?.activity ?? {};
  const [found] = file && !gone ? (await fileBytes(database.pool, file.hash)).rows : [];
  if (!file || !found) throw refuse.noSuchFile();
  return { name, file, bytes: found.bytes };
}

/** A PDF is shown by the browser, which may run nothing of it; it stands in a page of ours alone. */
const PDF_POLICY = "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'";
/** Nothing of it is run or fetched, wherever it is opened. */
const SHUT = "default-src 'none'; sandbox; frame-ancestors 'none'";

/** The file as it was put here. Only a PDF is shown in its place; everything else is saved. */
export async function fileAsKept(database: Database, id: number, isShown: boolean): Promise<FileAnswer> {
  const { name, file, bytes } = await requireFile(database, id);
  const isPdf = isShown && shownAs(file.mediaType) === 'pdf';
  return {
    name,
    mediaType: isPdf ? file.mediaType : 'application/octet-stream',
    body: new Uint8Array(bytes),
    cache: 'private, no-store',
    policy: isPdf ? PDF_POLICY : SHUT,
    isShown: isPdf,
  };
}

/** Points of the largest picture that is drawn. */
const MOST_POINTS = 120_000_000;

/** A picture drawn anew at most so large, turned upright: what is shown is never the bytes that came. */
export async function fileAsPicture(database: Database, id: number, edge: number): Promise<FileAnswer> {
  const { name, file, bytes } = await requireFile(database, id);
  if (shownAs(file.mediaType) !== 'picture') throw refuse.notDrawn({ name, is: typeInWords(file.mediaType) });
  try {
    const drawn = await sharp(bytes, { limitInputPixels: MOST_POINTS, failOn: 'error' })
      .rotate()
      .resize(edge, edge, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 82 })
      .toBuffer();
    return { mediaType: 'image/webp', body: new Uint8Array(drawn), cache: 'private, max-age=86400' };
  } catch {
    throw refuse.notDrawn({ name, is: `a damaged or too large ${typeInWords(file.mediaType)}` });
  }
}
