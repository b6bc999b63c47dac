import { accountIdOf } from '../../../db/actor';
import type { Readable } from 'node:stream';
import { eq } from 'drizzle-orm';
import { awaitedLater } from '@gray-loom/core/model';
import { FileReading, guessesOf } from '@gray-loom/core/mapping';
import {
  headingAt,
  openDecoder,
  TableReader,
  type DelimitedShape,
  type DelimitedSniff,
  type MadeOf,
} from '@gray-loom/core/formats';
import { inTransaction, type Database, type Tx } from '../../../db/connect';
import { intake } from '../../../db/schema';
import { tell } from '../../../feed/events';
import { Refusal, refuseIssue } from '../../../http/refusal';
import { refuse, refuseFile } from '../refusals';
import { mappingFor } from '../saved-mappings';
import { takeCards } from './take-cards';
import { pieceOfFile } from './statements/file-pieces';
import { insertPiece } from './statements/file-pieces';
import { insertIntake, firstPiece } from './statements/take-file';

const PIECE = 1024 * 1024;

export interface IncomingFile {
  name: string;
  body: Readable;
  declaredBytes: number | null;
  limitBytes: number;
  country: string;
  /** What the table was made of, where it was no table as it came. */
  madeOf?: MadeOf;
  /** Aborted when whoever sends it has gone away. */
  signal?: AbortSignal;
}

/** Stores the body in pieces, each handed to `look` as it passes, without holding more than a piece. */
async function storePieces(
  tx: Tx,
  intakeId: number,
  { body, declaredBytes, limitBytes, signal }: IncomingFile,
  look: (piece: Buffer) => void,
): Promise<number> {
  let seq = 0;
  let bytes = 0;
  let held: Buffer[] = [];
  let heldBytes = 0;
  const flush = async () => {
    signal?.throwIfAborted();
    const piece = Buffer.concat(held);
    held = [];
    heldBytes = 0;
    if (!piece.length) return;
    // While the database stores it, it is looked at.
    const stored = awaitedLater(insertPiece(tx.client, intakeId, seq++, piece));
    look(piece);
    await stored;
  };
  const cutOff = () =>
    refuseIssue({ code: 'uploadCutOff', receivedBytes: bytes, declaredBytes: declaredBytes ?? bytes, path: {} });
  for await (const chunk of arriving(body, cutOff)) {
    bytes += chunk.length;
    if (bytes > limitBytes)
      throw refuseIssue({ code: 'fileTooLarge', bytes: Math.max(bytes, declaredBytes ?? 0), limitBytes, path: {} });
    held.push(chunk);
    heldBytes += chunk.length;
    if (heldBytes >= PIECE) await flush();
  }
  await flush();
  if (declaredBytes !== null && bytes !== declaredBytes)
    throw refuseIssue({ code: 'uploadCutOff', receivedBytes: bytes, declaredBytes, path: {} });
  return bytes;
}

/** A body as it arrives; one that breaks off is refused as that, and not for what becomes of it here. */
async function* arriving(body: Readable, cutOff: () => Refusal): AsyncGenerator<Buffer> {
  try {
    yield* body as AsyncIterable<Buffer>;
  } catch (error) {
    throw error instanceof Refusal ? error : cutOff();
  }
}

/** Counts data rows of a stream of pieces. */
class RowCounter {
  private readonly reader: TableReader;
  private records = 0;

  constructor(private readonly shape: DelimitedShape) {
    this.reader = new TableReader(shape);
  }

  push(piece?: Buffer): void {
    this.records += this.reader.push(piece).length;
  }

  end(): number {
    this.push();
    const rows = this.records - (this.shape.headerRow ?? 0);
    if (rows <= 0) throw refuseIssue({ code: 'noDataRows', path: {} });
    return rows;
  }
}

/**
 * Takes a file in: stores it, decides how it reads, counts its rows, guesses what its columns mean. All of it or
 * nothing: a file that cannot be read, is too large or was cut off leaves no trace. Errors: a refusal with what and why.
 */
export async function takeFile(database: Database, file: IncomingFile): Promise<number> {
  if (file.declaredBytes !== null && file.declaredBytes > file.limitBytes) {
    throw refuseIssue({ code: 'fileTooLarge', bytes: file.declaredBytes, limitBytes: file.limitBytes, path: {} });
  }
  return inTransaction(database, async (tx) => {
    const made = await insertIntake(tx.client, file.name, accountIdOf(tx.actor));
    const id = made.rows[0]?.id ?? 0;
    const reading = new FileReading();
    const bytes = await storePieces(tx, id, file, (piece) => {
      const issue = reading.push(piece);
      if (issue) throw refuseIssue(issue);
    });
    const read = reading.end();
    if (!read.ok) throw refuseIssue(read.error);
    if (read.value.kind === 'table') {
      const { sniff, rowCount } = read.value;
      const shape = file.madeOf ? { ...sniff.shape, madeOf: file.madeOf } : sniff.shape;
      await describe(tx, id, bytes, { ...sniff, shape }, rowCount, file.country);
    } else {
      const taken = await takeCards(tx, id, file.country, read.value.encoding);
      await tx.db
        .update(intake)
        .set({ bytes, ...taken, state: 'read', trialRun: null })
        .where(eq(intake.id, id));
    }
    await tell(tx.client, { topic: 'intakes', id });
    return id;
  });
}

async function describe(
  tx: Tx,
  id: number,
  bytes: number,
  sniff: DelimitedSniff,
  rowCount: number,
  country: string,
): Promise<void> {
  const { shape, issues } = sniff;
  await tx.db
    .update(intake)
    .set({
      bytes,
      shape,
      ...(await mappingFor(tx, shape.headers, guessesOf(sniff), country)),
      issues,
      rowCount,
      state: 'read',
      trialRun: null,
    })
    .where(eq(intake.id, id));
}

/** Counts the rows of a stored file anew. */
async function countRows(tx: Tx, intakeId: number, shape: DelimitedShape): Promise<number> {
  const counter = new RowCounter(shape);
  for (let seq = 0; ; seq++) {
    const { rows } = await pieceOfFile(tx.client, intakeId, seq);
    if (!rows[0]) return counter.end();
    counter.push(rows[0].bytes);
  }
}

/** Reads a file anew with another encoding, delimiter or heading row, as a person says. */
export async function rereadFile(
  database: Database,
  id: number,
  wanted: { encoding: string | null; delimiter: string | null; headerRow: number | null },
  country: string,
): Promise<void> {
  await inTransaction(database, async (tx) => {
    const [file] = await tx.db.select().from(intake).where(eq(intake.id, id)).for('update');
    if (!file) throw refuse.noSuchFile();
    if (file.state !== 'read' && file.state !== 'tried') throw refuse.readingTooLate();
    if (file.shape.cards) throw refuseFile.cards();
    const encoding = wanted.encoding ? encodingNamed(wanted.encoding) : file.shape.encoding;
    const delimiter = wanted.delimiter ?? file.shape.delimiter;
    const headerRow =
      wanted.headerRow === null ? file.shape.headerRow : wanted.headerRow === 0 ? null : wanted.headerRow;
    const piece = await firstPiece(tx.client, id);
    const { quote, escape, mixedLines, madeOf } = file.shape;
    const reader = new TableReader({ encoding, delimiter, quote, escape, mixedLines });
    const records = [...reader.push(piece.rows[0]?.bytes ?? Buffer.alloc(0)), ...reader.push()].map(
      (record) => record.cells,
    );
    const heading = headerRow === null ? null : headingAt(records, headerRow);
    if (headerRow !== null && !heading) throw refuseFile.noSuchRow({ row: headerRow });
    const columnCount = heading?.length ?? Math.max(1, ...records.slice(0, 200).map((cells) => cells.length));
    const shape: DelimitedShape = {
      encoding,
      delimiter,
      quote,
      ...(escape ? { escape } : {}),
      ...(mixedLines ? { mixedLines } : {}),
      ...(madeOf ? { madeOf } : {}),
      headerRow,
      columnCount,
      headers: heading ?? Array.from({ length: columnCount }, () => null),
    };
    await describe(
      tx,
      id,
      file.bytes,
      { shape, sample: records.slice(headerRow ?? 0, (headerRow ?? 0) + 1000), issues: [] },
      await countRows(tx, id, shape),
      country,
    );
  });
}

function encodingNamed(name: string): DelimitedShape['encoding'] {
  const decoder = name === 'utf-8-bom' ? 'utf-8' : name;
  try {
    openDecoder(decoder);
  } catch {
    throw refuseFile.unknownEncoding({ name });
  }
  return { name, decoder, bomBytes: 0 };
}
