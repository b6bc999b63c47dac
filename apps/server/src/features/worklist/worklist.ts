import { byWeek } from '../duplicates';
import { lateStops, sayLate } from '../syncs';
import { wordBrake } from '@gray-loom/core/syncing';
import { FRESH_DAYS, FRESH_WITHIN, type Worklist } from '@gray-loom/wire';
import { accountIdOf, seesPart } from '../../db/actor';
import type { Database } from '../../db/connect';
import { countLivePeople } from '../../book/statements/contact-records';
import {
  bookStates,
  countOpenGroups,
  heldByImport,
  filesNotIn,
  failedRuns,
  handedTo,
  contactsByWeek,
  completenessBands,
  countSyncQuestions,
  connectionsInTrouble,
  contactsNotTaken,
  WEEKS,
} from './statements/worklist';

/** What needs a person today, and how the whole stands. */
export async function worklist(database: Database): Promise<Worklist> {
  const { pool, actor } = database;
  const [contacts, groups, held, unfinished, failed, weeks, quality, syncs, handed, kept] = await Promise.all([
    countLivePeople(pool),
    countOpenGroups(pool),
    heldByImport(pool),
    filesNotIn(pool),
    failedRuns(pool),
    contactsByWeek(pool),
    completenessBands(pool),
    syncsWaiting(database),
    handedTo(pool, accountIdOf(actor) ?? 0),
    bookStates(pool, TREND_DAYS),
  ]);
  const band = (name: string) => groups.rows.find((row) => row.band === name)?.n ?? 0;
  const total = quality.rows.reduce((sum, row) => sum + row.n, 0);
  const freshness = freshBands(quality.rows, total);
  const mean = total ? quality.rows.reduce((sum, row) => sum + row.mean * row.n, 0) / total : 0;
  const freshDays = FRESH_DAYS.findIndex((days) => days === FRESH_WITHIN) + 1;
  const today = {
    day: new Date().toISOString().slice(0, 10),
    people: total,
    completeness: mean,
    fresh: freshness.slice(0, freshDays).reduce((sum, n) => sum + n, 0),
  };
  return {
    syncs,
    contacts: contacts.rows[0]?.n ?? 0,
    certain: band('certain'),
    likely: band('likely'),
    possible: band('possible'),
    proposed: groups.rows.reduce((sum, row) => sum + row.proposed, 0),
    held: {
      total: held.rows.reduce((sum, row) => sum + row.n, 0),
      files: held.rows.map((row) => ({ runId: row.run_id, intakeId: row.intake_id, name: row.name, count: row.n })),
    },
    unfinished: unfinished.rows.map((row) => ({
      intakeId: row.id,
      name: row.name,
      rowCount: row.row_count,
      createdAt: row.created_at.toISOString(),
    })),
    handed: handed.rows.map(({ contactId, contactName, ...row }) => ({
      ...row,
      contact: contactId === null ? null : { id: contactId, name: contactName ?? '' },
    })),
    failed: failed.rows.map((row) => ({ runId: row.id, title: row.title })),
    weeks: byWeek(weeks.rows, WEEKS),
    completeness: {
      mean: Math.round(mean),
      bands: [0, 1, 2, 3, 4].map((index) => quality.rows.find((row) => row.band === index)?.n ?? 0),
    },
    freshness,
    trend: seesPart(actor) ? [] : trendOf([...kept.rows.filter(({ day }) => day !== today.day), today]),
  };
}

/** Until then a stop is on its way. */
const LATE_MS = 120_000;

/** Days that the state of the book is shown over. */
const TREND_DAYS = 180;

/** How many changed within each stretch of days and not within the one before; the last is whoever changed longer ago. */
function freshBands(rows: readonly { fresh: number[] }[], total: number): number[] {
  const within = FRESH_DAYS.map((_, i) => rows.reduce((sum, { fresh }) => sum + (fresh[i] ?? 0), 0));
  return [...within, total].map((n, i) => n - (i ? (within[i - 1] ?? 0) : 0));
}

const trendOf = (rows: readonly { day: string; people: number; completeness: number; fresh: number }[]) =>
  rows.map(({ day, people, completeness, fresh }) => ({
    day,
    people,
    complete: Math.round(completeness),
    fresh: people ? Math.round((fresh / people) * 100) : 0,
  }));

/** What waits of the connections: questions, runs that the brake holds, and tools that do not answer as they should. */
async function syncsWaiting(database: Database): Promise<Worklist['syncs']> {
  const { pool, actor } = database;
  // Connections are for those who see everybody.
  const late = (seesPart(actor) ? [] : await lateStops(database)).filter(
    ({ since }) => Date.now() - since.getTime() > LATE_MS,
  );
  const [conflicts, rows, notTaken] = await Promise.all([
    countSyncQuestions(pool),
    connectionsInTrouble(
      pool,
      late.map(({ connectionId }) => connectionId),
    ),
    contactsNotTaken(pool),
  ]);
  return {
    conflicts: conflicts.rows[0]?.n ?? 0,
    braked: rows.rows.flatMap(({ id, name, reasons }) =>
      reasons?.[0] ? [{ connectionId: id, name, reason: wordBrake(reasons[0]) }] : [],
    ),
    notTaken: notTaken.rows.map(({ id, name, n, contact_id: contactId, why, unreadable: isUnreadable }) => ({
      connectionId: id,
      name,
      count: n,
      contactId,
      why,
      isUnreadable,
    })),
    lateStops: rows.rows.flatMap(({ id, name, trouble, reasons, is_tried: isTried }) => {
      const [first, ...others] = late.filter(({ connectionId }) => connectionId === id);
      if (!first) return [];
      const { contactId, since } = first;
      const why = sayLate({ trouble, reasons, isTried });
      return [{ connectionId: id, name, count: others.length + 1, contactId, since: since.toISOString(), why }];
    }),
    troubled: rows.rows.flatMap(({ id, name, trouble }) => (trouble ? [{ connectionId: id, name, trouble }] : [])),
  };
}
