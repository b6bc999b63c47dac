import { sayOutcome } from '@gray-loom/core/syncing';
import { RESULT_DAYS, type OpenResult, type Results, type ResultsChange, type SettleResult } from '@gray-loom/wire';
import { inTransaction, type Database } from '../../../db/connect';
import { refuseContact } from '../../../book/refusals';
import { requireContact } from '../../../book/require-live';
import { tell } from '../../../feed/events';
import { startRun } from '../../../runs/runs';
import { requireConnection } from '../connections';
import { refuse } from '../refusals';
import {
  callsByDay,
  countsOfResults,
  insertResults,
  mailingsOf,
  minutesByCaller,
  numbersReached,
  openResult,
  openResults,
} from '../statements/results';
import { feedOf, keepFeed } from './result-feed';
import { noResults, resultIn, resultsContext, writeResults } from './take-results';

/** Open results that are shown; the rest follows as these are settled. */
const SHOWN = 100;
/** Mailings whose course is shown. */
const MAILINGS = 24;

/** What came back from a connection, and what of it a person has to settle. */
export async function lookAtResults(database: Database, id: number): Promise<Results> {
  await requireConnection(database, id);
  const { pool } = database;
  const [feed, counts, open, numbers, days, callers, mailings] = await Promise.all([
    feedOf(database.db, id),
    countsOfResults(pool, id),
    openResults(pool, id, SHOWN),
    numbersReached(pool, id),
    callsByDay(pool, id, RESULT_DAYS),
    minutesByCaller(pool, id, RESULT_DAYS),
    mailingsOf(pool, id, MAILINGS),
  ]);
  const named = new Set(numbers.rows.map(({ number }) => number));
  const others = Object.keys(feed.sources).filter((number) => !named.has(number));
  return {
    everyMinutes: feed.everyMinutes,
    nextAt: feed.nextAt?.toISOString() ?? null,
    trouble: feed.trouble,
    ...(counts.rows[0] ?? { taken: 0, waits: 0, asks: 0 }),
    open: open.rows.map(({ outside_id, kind, at, outcome, minutes, by, incoming, number, reached, state, names }) => ({
      id: outside_id,
      kind: kind as OpenResult['kind'],
      at,
      outcome: sayOutcome(outcome),
      minutes,
      by,
      incoming,
      number,
      reached,
      waits: state === 'waits',
      candidates: names,
    })),
    numbers: [...numbers.rows, ...others.map((number) => ({ number, calls: 0 }))].map((one) => ({
      ...one,
      source: feed.sources[one.number] ?? '',
    })),
    days: days.rows.map(({ day, outcome, n }) => ({ day, outcome: sayOutcome(outcome), n })),
    callers: callers.rows,
    mailings: mailings.rows.map((one) => ({ ...one, at: one.at.toISOString() })),
  };
}

/** Says how often results are asked for, and which source a published number stands for. */
export async function changeResults(database: Database, id: number, change: ResultsChange): Promise<void> {
  await inTransaction(database, async (tx) => {
    const row = await requireConnection(tx, id);
    if (!row.capabilities.results?.length) throw refuse.noResults({ name: row.name });
    const { everyMinutes } = change;
    const next = everyMinutes ? new Date(Date.now() + everyMinutes * 60_000) : null;
    const { sources } = await feedOf(tx.db, id);
    const merged = Object.entries({ ...sources, ...change.sources }).filter(([, source]) => source !== '');
    await keepFeed(tx.db, id, {
      sources: Object.fromEntries(merged),
      ...(everyMinutes === undefined ? {} : { everyMinutes, nextAt: next }),
    });
    await tell(tx.client, { topic: 'syncs' });
  });
}

/** A person says whose a result is: of a contact, of somebody new, or of nobody who matters. */
export async function settleResult(
  database: Database,
  id: number,
  { id: outsideId, take, contactId }: SettleResult,
  country: string,
): Promise<void> {
  const row = await requireConnection(database, id);
  await inTransaction(database, async (tx) => {
    const { rows } = await openResult(tx.client, id, outsideId);
    const [open] = rows;
    if (!open) throw refuse.noSuchResult();
    const runId = await startRun(tx, {
      kind: 'results',
      state: 'done',
      threadId: row.threadId,
      title: `Whose a result of ${row.name} is`,
      detail: { connectionId: id },
    });
    if (take === 'drop') {
      const gone = { ...open, record_id: null, number: '', state: 'letGo', candidates: [] };
      await insertResults(tx.client, id, runId, JSON.stringify([gone]));
    } else {
      if (take === 'contact' && contactId === null) throw refuseContact.noSuchContact();
      if (contactId !== null) await requireContact(tx, contactId);
      const context = await resultsContext(database, row, { runId, country });
      const decided = new Map([[outsideId, take === 'new' ? ('new' as const) : (contactId ?? 0)]]);
      await writeResults(tx, context, [resultIn(open)], noResults(), decided);
    }
    await tell(tx.client, { topic: 'syncs' });
  });
}
