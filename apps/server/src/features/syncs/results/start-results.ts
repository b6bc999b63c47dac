import { and, eq, lte, sql } from 'drizzle-orm';
import { inTransaction, type Database, type Tx } from '../../../db/connect';
import { connection, resultFeed } from '../../../db/schema';
import { enqueueRun, startRun } from '../../../runs/runs';
import { requireConnection, type ConnectionRow } from '../connections';
import { refuse } from '../refusals';
import { lockConnection, noteCall } from '../statements/start-sync';
import { openResultsRun, waitedFor } from '../statements/results';
import { keepFeed } from './result-feed';

/** Puts the taking in of results on the queue; where it is under way another one follows it. */
export async function startResults(tx: Tx, row: ConnectionRow): Promise<number> {
  if (!row.capabilities.results?.length) throw refuse.noResults({ name: row.name });
  if (row.state === 'stopped') throw refuse.stopped({ name: row.name });
  await lockConnection(tx.client, row.id);
  const { rows } = await openResultsRun(tx.client, row.id);
  const [open] = rows;
  if (open) {
    await noteCall(tx.client, open.id);
    return open.id;
  }
  const runId = await startRun(tx, {
    kind: 'results',
    state: 'queued',
    threadId: row.threadId,
    title: `Results of ${row.name}`,
    detail: { connectionId: row.id },
  });
  await enqueueRun(tx, runId);
  return runId;
}

export async function takeResultsNow(database: Database, connectionId: number): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => ({
    runId: await startResults(tx, await requireConnection(tx, connectionId)),
  }));
}

/** After a pass: what waited for somebody who is in step by now. */
export async function startIfWaited(tx: Tx, row: ConnectionRow): Promise<void> {
  if (!row.capabilities.results?.length) return;
  const { rows } = await waitedFor(tx.client, row.id, 1);
  if (rows.length) await startResults(tx, row);
}

/** Starts what is due by its timetable. */
export async function startDueResults(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const due = await tx.db
      .select({ row: connection, feed: resultFeed })
      .from(resultFeed)
      .innerJoin(connection, eq(connection.id, resultFeed.connectionId))
      .where(and(eq(connection.state, 'on'), lte(resultFeed.nextAt, sql`now()`)))
      .for('update', { of: resultFeed, skipLocked: true });
    for (const { row, feed } of due) {
      const every = feed.everyMinutes;
      const nextAt = every === null ? null : new Date(Date.now() + every * 60_000 * (1 + Math.random() * 0.1));
      await keepFeed(tx.db, row.id, { nextAt });
      await startResults(tx, row);
    }
  });
}
