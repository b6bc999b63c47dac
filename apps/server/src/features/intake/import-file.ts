import { setImmediate } from 'node:timers/promises';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { eq } from 'drizzle-orm';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { copyBytes, copyCell, copyLines } from '../../db/copy';
import { intake, type RowOutcome } from '../../db/schema';
import { tell } from '../../feed/events';
import { keepConsent } from './file-consent';
import { loadWords } from './rows/row-choices';
import {
  addCounts,
  countsOf,
  writeOpportunities,
  type OpportunityPlanner,
  type RowOpportunity,
} from '../opportunities';
import { RowValues } from './rows/row-values';
import { savePicks } from '../../book/picks';
import { settleBroughtBack } from './rows/mended-file';
import { finishRun, restRun } from '../../runs/runs';
import { writeBlocks } from '../../book/render-contacts';
import { applyChanges, lockContacts, type ContactChange, type LoadedContact } from '../../book/write-contacts';
import type { ImportTask, ReadyChunk, TouchingRow } from './import-thread';
import type { RunContext } from '../../runs/kind';
import { markProgress, type Lease } from '../../runs/lease';
import { dontWaitForDisk } from './statements/import-file';

/** Texts of a smaller file are found by the index at once. */
const FEW_ROWS = 1000;
// Rows in planning live for one batch of 250. With 24, 48 and 128 MB an import took the same; 48 leaves room for matching.
const PLANNING = { heapMb: 2048, youngMb: 48, idleMs: 300_000 };
const ROW_COLUMNS = 'run_id, row, outcome, contact_id, issues, cells';

interface Writing {
  values: RowValues;
  opportunities: OpportunityPlanner;
  counts: Record<string, number>;
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
  const { database, run: job, lease, leaseMs } = context;
  const { db } = database;
  const [file] = await db
    .select()
    .from(intake)
    .where(eq(intake.id, Number((job.detail as { intakeId?: number }).intakeId ?? 0)));
  if (!file) throw new Error(`run ${lease.runId} has no file`);
  const values = await RowValues.load(database, file.mapping, lease.runId, await loadWords(database, file));
  const writing: Writing = {
    values,
    opportunities: values.opportunityPlanner(),
    counts: { ...countsOf(file.mapping), ...job.counts },
    total: file.rowCount,
    lease,
    leaseMs,
  };
  // One that was told to stop while it waited only ends.
  const { stopped, paused } = job.stopRequested
    ? { stopped: true, paused: false }
    : await writeAll(context, writing, file.id, job.progress.done);
  if (paused) return inTransaction(database, (tx) => restRun(tx, lease.runId));
  await inTransaction(database, async (tx) => {
    await settleBroughtBack(database, tx, file, lease.runId);
    await keepConsent(tx, lease.runId, file.mapping.wholeFile.consent);
    await finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', writing.counts);
    await tx.db
      .update(intake)
      .set({ state: stopped ? 'stopped' : 'done' })
      .where(eq(intake.id, file.id));
    await tell(tx.client, { topic: 'intakes', id: file.id });
    await tell(tx.client, { topic: 'held' });
  });
}

/** Writes chunk after chunk from a marker on, as the planning thread makes them ready, until the end or a word to stop or wait. */
async function writeAll(
  { database, config, threads }: RunContext,
  writing: Writing,
  intakeId: number,
  marker: number,
): Promise<{ stopped: boolean; paused: boolean }> {
  const { port1, port2 } = new MessageChannel();
  const task: ImportTask = {
    databaseUrl: config.databaseUrl,
    runId: writing.lease.runId,
    intakeId,
    marker,
    port: port2,
  };
  const thread = threads
    .get('import-thread', PLANNING)
    .run(task, { transferList: [port2], name: 'default' }) as Promise<void>;
  try {
    for await (const chunk of chunksFrom(port1, thread)) {
      const { stopRequested, pauseRequested } = await writeChunk(database, writing, chunk);
      port1.postMessage('written');
      if (stopRequested) return { stopped: true, paused: false };
      if (pauseRequested && chunk.lastRow < writing.total) return { stopped: false, paused: true };
    }
    return { stopped: false, paused: false };
  } finally {
    port1.postMessage('stop');
    port1.close();
  }
}

/** Writes a chunk with its marker in one transaction. Tells whether the run was asked to stop or to wait. */
async function writeChunk(
  database: Database,
  writing: Writing,
  chunk: ReadyChunk,
): Promise<{ stopRequested: boolean; pauseRequested: boolean }> {
  const counts = { ...writing.counts };
  const asked = await inTransaction(database, async (tx) => {
    // Need not be on the disk before the next is begun: what a crash loses is lost with its marker, and done again. The end of
    // the run waits for the disk, and with it for all of this.
    await dontWaitForDisk(tx.client);
    // Who is here is locked first; what becomes of them is worked out while the database writes those who are new.
    const locked = await lockContacts(
      tx,
      chunk.touching.map(({ contactId }) => contactId),
    );
    const writingNew = writeNew(tx, writing, chunk);
    addCounts(counts, chunk.counts);
    const touched = await writeTouching(tx, writing, chunk.touching, locked, writingNew);
    for (const outcome of touched) addCounts(counts, { [outcome]: 1 });
    const brought = [
      ...chunk.opportunities,
      ...chunk.touching.flatMap(({ row, contactId, opportunity }, i): RowOpportunity[] =>
        opportunity && touched[i] !== 'held' ? [{ row, contactId, contactRow: row, candidate: opportunity }] : [],
      ),
    ];
    addCounts(counts, await writeOpportunities(tx, writing.lease.runId, writing.opportunities, brought));
    await savePicks(tx, chunk.picks);
    return markProgress(tx, writing.lease, { done: chunk.lastRow, total: writing.total }, counts, writing.leaseMs);
  });
  writing.counts = counts;
  return asked;
}

/** Writes what a chunk makes that is new. */
async function writeNew(tx: Tx, { total, lease }: Writing, { blocks, rowLines }: ReadyChunk): Promise<void> {
  await writeBlocks(tx, lease.runId, blocks, { textsLater: total > FEW_ROWS });
  await copyBytes(tx.client, 'import_row', ROW_COLUMNS, rowLines);
}

/** Rows planned before others get a turn. */
const AT_ONCE = 100;

/**
 * Rows for people who are here: what they write is worked out against the record under lock, so that nothing written meanwhile is lost.
 * Who is not `locked` yet is new in this chunk, and there once `writingNew` is done. Outcomes in the order of the rows.
 */
async function writeTouching(
  tx: Tx,
  { values, lease, total }: Writing,
  rows: readonly TouchingRow[],
  locked: Map<number, LoadedContact>,
  writingNew: Promise<void>,
): Promise<RowOutcome[]> {
  const before = new Map(locked);
  const changes: ContactChange[] = [];
  const lines: string[] = [];
  const outcomes = new Map<number, RowOutcome>();
  const plan = ({ contactId, row, candidate, issues, folded, cells }: TouchingRow) => {
    const contact = locked.get(contactId);
    if (!contact) throw new Error(`contact ${contactId} is gone`);
    const planned = values.into(contactId, contact.record, candidate, row, { folded });
    if (planned.operations.length) {
      const { operations, record } = planned;
      changes.push({ contactId, operations, sourceRow: row, record });
      locked.set(contactId, { id: contactId, version: contact.version, record });
    }
    const outcome = folded ? 'fold' : planned.outcome;
    outcomes.set(row, outcome);
    const told = [...issues, ...planned.issues];
    const held = outcome === 'held';
    lines.push(
      [
        lease.runId,
        row,
        outcome,
        held ? null : contactId,
        told.length ? JSON.stringify(told) : null,
        held ? JSON.stringify(cells) : null,
      ]
        .map(copyCell)
        .join('\t'),
    );
  };
  try {
    const here = rows.filter(({ contactId }) => before.has(contactId));
    for (const [i, row] of here.entries()) {
      plan(row);
      if (i % AT_ONCE === AT_ONCE - 1) await setImmediate();
    }
  } finally {
    // Nothing may be under way when the transaction ends, whichever way it does.
    await writingNew.catch(() => undefined);
  }
  await writingNew;
  const since = rows.filter(({ contactId }) => !before.has(contactId));
  const made = await lockContacts(
    tx,
    since.map(({ contactId }) => contactId),
  );
  for (const [id, contact] of made) {
    before.set(id, contact);
    locked.set(id, contact);
  }
  for (const row of since) plan(row);
  await applyChanges(tx, lease.runId, changes, { locked: before, textsLater: total > FEW_ROWS });
  await copyLines(tx.client, 'import_row', ROW_COLUMNS, lines);
  return rows.map(({ row }) => outcomes.get(row) ?? 'same');
}
