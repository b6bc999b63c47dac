import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { eq } from 'drizzle-orm';
import { isOwnTable, PERMISSIONS } from '@gray-loom/core/mapping';
import { inTransaction, wholeBook, type Database, type Tx } from '../../db/connect';
import { copyBytes } from '../../db/copy';
import { intake } from '../../db/schema';
import { tell } from '../../feed/events';
import { countsOfSaid, keepSaid, type RowSaid } from '../contacts';
import { keepConsent } from './file-consent';
import { loadWords } from './rows/row-choices';
import {
  addCounts,
  countsOf,
  writeOpportunities,
  type OpportunityPlanner,
  type RowOpportunity,
} from '../opportunities';
import { ownedByWhoBrings, RowRemit } from './rows/row-remit';
import { RowValues } from './rows/row-values';
import { savePicks } from '../../book/picks';
import { keepImportSegment } from '../segments';
import { writeActivities } from '../activity';
import type { RowActivity } from '../../book/row-activity';
import { canGive, startGiving } from '../setup';
import { settleBroughtBack } from './rows/mended-file';
import { finishRun, restRun } from '../../runs/runs';
import { writeBlocks } from '../../book/render-contacts';
import { makePeople, makePeopleAlone } from '../../book/statements/locks';
import { ImportPlanner } from './rows/import-plan';
import { ROW_COLUMNS, RowsUnderLock, type SettledRow } from './rows/rows-under-lock';
import type { ImportTask, ReadyChunk } from './import-thread';
import { outcomeOf } from '../../runs/threads';
import type { RunContext } from '../../runs/kind';
import { markProgress, type Lease } from '../../runs/lease';
import { dontWaitForDisk, othersImport } from './statements/import-file';

/** Texts of a smaller file are found by the index at once. */
const FEW_ROWS = 1000;
// Rows in planning live for one batch of 250. With 24, 48 and 128 MB an import took the same; 48 leaves room for matching.
const PLANNING = { heapMb: 2048, youngMb: 48, idleMs: 300_000 };
/** A chunk that the database ends, since two transactions waited for each other, is written anew so often. */
const TRIES = 4;
/** Rows for which it pays to plan ahead again once the others who brought people in are through. */
const WORTH_BEGINNING_ANEW = 20_000;

interface Writing {
  underLock: RowsUnderLock;
  opportunities: OpportunityPlanner;
  counts: Record<string, number>;
  /** Whether the table was taken out here. */
  isOwn: boolean;
  /** The last row that is written. */
  done: number;
  total: number;
  lease: Lease;
  leaseMs: number;
}

/** Chunks as the planning thread posts them, until it says that the file has ended. */
async function* chunksFrom(port: MessagePort, thread: Promise<void>): AsyncGenerator<ReadyChunk> {
  const arrived: (ReadyChunk | 'end')[] = [];
  let wake: (() => void) | null = null;
  let failure: { error: unknown } | null = null;
  port.on('message', (message: ReadyChunk | 'end') => {
    arrived.push(message);
    wake?.();
  });
  thread.catch((error: unknown) => {
    failure = { error };
    wake?.();
  });
  for (;;) {
    const next = arrived.shift();
    if (next === 'end') return;
    if (next) yield next;
    else if (failure) throw (failure as { error: unknown }).error;
    else await new Promise<void>((done) => (wake = done));
  }
}

/**
 * Brings a file in: planned by a thread, written here in chunks that are each one transaction with a durable marker.
 * Killed at any moment, it goes on after the last whole chunk, so each row is in exactly once.
 */
export async function importFile(context: RunContext): Promise<void> {
  const { run: job, lease, leaseMs } = context;
  // Who is here already is asked of everybody; what may be written is decided row by row.
  const database = wholeBook(context.database);
  const { db } = database;
  const [file] = await db
    .select()
    .from(intake)
    .where(eq(intake.id, Number((job.detail as { intakeId?: number }).intakeId ?? 0)));
  if (!file) throw new Error(`run ${lease.runId} has no file`);
  file.mapping = ownedByWhoBrings(file.mapping, database);
  const remit = await RowRemit.load(database);
  const words = await loadWords(database, file);
  const values = await RowValues.load(database, file.mapping, lease.runId, words);
  const writing: Writing = {
    underLock: new RowsUnderLock({
      runId: lease.runId,
      rows: file.rowCount,
      values,
      plannerIn: (tx) =>
        ImportPlanner.load({ db: tx.db, pool: tx.client }, file, lease.runId, words, { few: true, remit }),
      textsLater: file.rowCount > FEW_ROWS,
    }),
    opportunities: values.opportunityPlanner(),
    counts: { ...countsOf(file.mapping), ...job.counts },
    isOwn: isOwnTable(file.shape.headers),
    done: job.progress.done,
    total: file.rowCount,
    lease,
    leaseMs,
  };
  // One that was told to stop while it waited only ends.
  const ended = job.stopRequested ? 'stopped' : await writeRest({ ...context, database }, writing, file.id);
  if (ended === 'paused') return inTransaction(database, (tx) => restRun(tx, lease.runId));
  const state = ended === 'stopped' ? 'stopped' : 'done';
  await inTransaction(database, async (tx) => {
    await settleBroughtBack(database, tx, file, lease.runId);
    await keepConsent(tx, lease.runId, file.mapping.wholeFile.consent);
    await finishRun(tx, lease.runId, state, writing.counts);
    const { give } = file.mapping.wholeFile;
    // Where nobody is left to be given any, they stay without an owner.
    if (give && (await canGive(tx, give)))
      await startGiving(tx, { by: give, ofRun: lease.runId, ids: [] }, `People of ${file.name} given out`);
    const { segment } = file.mapping.wholeFile;
    if (segment && state === 'done') await keepImportSegment(tx, segment, lease.runId);
    await tx.db.update(intake).set({ state }).where(eq(intake.id, file.id));
    await tell(tx.client, { topic: 'intakes', id: file.id });
    await tell(tx.client, { topic: 'held' });
  });
}

/** Why writing ended: the file did, a person said so, or others began or ceased to bring people in. */
type Ended = 'whole' | 'stopped' | 'paused' | 'othersCameOrWent';

/**
 * Writes all that is left of a file. Who is new is decided ahead while nobody else brings people in; while somebody does, it is
 * decided under lock, so that two imports of one person make one contact.
 */
async function writeRest(context: RunContext, writing: Writing, intakeId: number): Promise<Ended> {
  for (;;) {
    const guarded = await othersImport(context.database.pool, writing.lease.runId);
    const ended = await writeAll(context, writing, intakeId, guarded);
    if (ended !== 'othersCameOrWent') return ended;
  }
}

/** Writes chunk after chunk from the marker on, as the planning thread makes them ready, until the end or a word to stop or wait. */
async function writeAll(
  { database, config, threads }: RunContext,
  writing: Writing,
  intakeId: number,
  guarded: boolean,
): Promise<Ended> {
  const { port1, port2 } = new MessageChannel();
  const task: ImportTask = {
    databaseUrl: config.databaseUrl,
    runId: writing.lease.runId,
    intakeId,
    marker: writing.done,
    guarded,
    port: port2,
  };
  const running = threads.get('import-thread', PLANNING).run(task, { transferList: [port2], name: 'default' });
  const thread = outcomeOf<void>(running);
  try {
    for await (const chunk of chunksFrom(port1, thread)) {
      const { stopRequested, pauseRequested, others } = await writeChunk(database, writing, chunk);
      port1.postMessage('written');
      if (stopRequested) return 'stopped';
      if (pauseRequested && chunk.lastRow < writing.total) return 'paused';
      if (guarded && !others && writing.total - chunk.lastRow > WORTH_BEGINNING_ANEW) return 'othersCameOrWent';
    }
    return 'whole';
  } catch (error) {
    if (error instanceof NotAlone) return 'othersCameOrWent';
    throw error;
  } finally {
    port1.postMessage('stop');
    port1.close();
  }
}

/** Somebody else makes people meanwhile, which the plan of a chunk does not reckon with. */
class NotAlone extends Error {}

/** Writes a chunk with its marker in one transaction. Tells whether the run was asked to stop or to wait. */
async function writeChunk(
  database: Database,
  writing: Writing,
  chunk: ReadyChunk,
): Promise<{ stopRequested: boolean; pauseRequested: boolean; others: boolean }> {
  const { lease, leaseMs, total } = writing;
  const { asked, counts, underLock } = await inTransaction(
    database,
    async (tx) => {
      // Need not be on the disk before the next is begun: what a crash loses is lost with its marker, and done again. The end of
      // the run waits for the disk, and with it for all of this.
      await dontWaitForDisk(tx.client);
      writing.opportunities.begin();
      await (chunk.guarded ? makePeopleAlone : makePeople)(tx.client);
      const others = await othersImport(tx.client, lease.runId);
      if (others && !chunk.guarded) throw new NotAlone();
      // Who is here is locked first; what becomes of them is worked out while the database writes those who are new.
      const rows = await writing.underLock.lock(tx, chunk.touching);
      const settled = await rows.write(writeNew(tx, writing, chunk));
      const sum = { ...writing.counts };
      addCounts(sum, chunk.counts);
      for (const { outcome } of settled) addCounts(sum, { [outcome]: 1 });
      const brought = [...chunk.opportunities, ...settled.flatMap(broughtBy)];
      const said = [...chunk.said, ...settled.flatMap(saidBy)];
      for (const { candidate } of said) addCounts(sum, countsOfSaid(candidate));
      await keepSaid(tx, lease.runId, said, writing.isOwn);
      addCounts(sum, await writeOpportunities(tx, lease.runId, writing.opportunities, brought));
      const told = [...chunk.activities, ...settled.flatMap(toldBy)];
      if (told.length) addCounts(sum, await writeActivities(tx, lease.runId, told));
      await savePicks(tx, chunk.picks);
      const word = await markProgress(tx, lease, { done: chunk.lastRow, total }, sum, leaseMs);
      return { asked: { ...word, others }, counts: sum, underLock: rows };
    },
    { tries: TRIES },
  );
  writing.counts = counts;
  writing.done = chunk.lastRow;
  writing.underLock.keep(underLock);
  writing.opportunities.keep();
  return asked;
}

/** The opportunity that a row under lock brings, where the row is in. */
function broughtBy({ row: { row, intoRow, opportunity }, contactId }: SettledRow): RowOpportunity[] {
  if (!opportunity || contactId === null) return [];
  return [{ row, contactId, contactRow: intoRow ?? row, candidate: opportunity }];
}

/** The activities that a row under lock tells, where the row is in. */
function toldBy({ row: { row, intoRow, activities }, contactId }: SettledRow): RowActivity[] {
  return contactId === null ? [] : activities.map((told) => ({ ...told, row, contactId, contactRow: intoRow ?? row }));
}

/** What a row under lock says of permissions, where the row is in. */
function saidBy({ row: { candidate }, contactId }: SettledRow): RowSaid[] {
  return contactId === null || !candidate[PERMISSIONS] ? [] : [{ contactId, candidate }];
}

/** Writes what a chunk makes that is new. */
async function writeNew(tx: Tx, { total, lease }: Writing, { blocks, rowLines }: ReadyChunk): Promise<void> {
  await writeBlocks(tx, lease.runId, blocks, { textsLater: total > FEW_ROWS });
  await copyBytes(tx.client, 'import_row', ROW_COLUMNS, rowLines);
}
