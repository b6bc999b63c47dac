import { requireConnection, type ConnectionRow } from './connections';
import { asc, desc, sql } from 'drizzle-orm';
import { NO_TOTALS, sayLine, wordBrake, type BrakeReason, type PassTotals } from '@gray-loom/core/syncing';
import type { ConnectionDetail, ConnectionSummary, Crossed, Span, SyncTrial } from '@gray-loom/wire';
import { type Database } from '../../db/connect';
import { connection, run } from '../../db/schema';
import { loadCatalogue } from '../../book/picks';
import { nameThere } from './sync-changes';
import { fightsOf, limitWords } from './sync-setup';
import { countLivePeople } from '../../book/statements/contact-records';
import {
  countLinks,
  countConflicts,
  recordsCrossed,
  latestRuns,
  openRuns,
  changesByDay,
  recordsKeptOut,
  recordsNotTaken,
} from './statements/connection-list';

const reasonWords = (detail: Record<string, unknown>) =>
  ((detail.reasons ?? []) as BrakeReason[]).map((reason) => wordBrake(reason));

async function summaries(database: Database, rows: readonly ConnectionRow[]): Promise<ConnectionSummary[]> {
  if (!rows.length) return [];
  const ids = rows.map(({ id }) => id);
  const [links, asked, crossed, runs, people] = await Promise.all([
    countLinks(database.pool, ids),
    countConflicts(database.pool, ids),
    recordsCrossed(database.pool, ids),
    latestRuns(database.pool, ids),
    countLivePeople(database.pool),
  ]);
  const active = await openRuns(database.pool);
  const by = <T extends { id: number }>(list: readonly T[], id: number) => list.find((one) => one.id === id);
  return rows.map((row): ConnectionSummary => {
    const last = by(runs.rows, row.id);
    const link = by(links.rows, row.id);
    const wayOf = (span: Span, side: 'here' | 'there') => {
      const one = crossed.rows.find((way) => way.id === row.id && way.span === span && way.side === side);
      return { made: one?.made ?? 0, changed: one?.changed ?? 0, removed: one?.removed ?? 0 };
    };
    const crossedIn = (span: Span): Crossed => ({ here: wayOf(span, 'here'), there: wayOf(span, 'there') });
    return {
      id: row.id,
      name: row.name,
      kind: row.kind,
      look: row.look,
      state: row.state,
      address: row.settings.address ?? '',
      here: people.rows[0]?.n ?? 0,
      there: row.capabilities.records ?? link?.known ?? null,
      inStep: link?.in_step ?? 0,
      waiting: (link?.asking ?? 0) + (by(asked.rows, row.id)?.n ?? 0),
      unsent: link?.unsent ?? 0,
      crossed: { day: crossedIn('day'), week: crossedIn('week'), month: crossedIn('month') },
      lastRun: last ? { id: last.run_id, state: last.state, at: last.at.toISOString(), error: last.error } : null,
      nextRunAt: row.nextRunAt?.toISOString() ?? null,
      running: by(active.rows, row.id)?.run_id ?? null,
      trouble: row.trouble,
      braked:
        last?.state === 'paused' && (last.detail.reasons as unknown[] | undefined)?.length
          ? { runId: last.run_id, reasons: reasonWords(last.detail) }
          : null,
      needsTrial: row.triedVersion < row.setupVersion,
    };
  });
}

export async function listConnections(database: Database): Promise<ConnectionSummary[]> {
  return summaries(database, await database.db.select().from(connection).orderBy(asc(connection.id)));
}

/** One connection in full: how it is set up, what it does in words, what it did. */
export async function connectionDetail(database: Database, id: number): Promise<ConnectionDetail> {
  const row = await requireConnection(database, id);
  const [summary] = await summaries(database, [row]);
  const catalogue = await loadCatalogue(database.db);
  const days = await changesByDay(database.pool, id);
  const notTaken = await recordsNotTaken(database.pool, id);
  const runs = await database.db
    .select()
    .from(run)
    .where(sql`${run.kind} = 'sync' and (${run.detail}->>'connectionId')::int = ${id}`)
    .orderBy(desc(run.id))
    .limit(20);
  const tried = runs.find(({ detail, state }) => detail.trial && state === 'done');
  const trial: SyncTrial | null = tried
    ? {
        runId: tried.id,
        at: tried.createdAt.toISOString(),
        totals: { ...NO_TOTALS, ...(tried.counts as Partial<PassTotals>) },
        reasons: reasonWords(tried.detail),
        isCurrent: tried.detail.setupVersion === row.setupVersion,
      }
    : null;
  return {
    ...(summary as ConnectionSummary),
    settings: row.settings,
    setup: row.setup,
    everyMinutes: row.everyMinutes,
    capabilities: row.capabilities,
    hook: `/api/hooks/${row.hook}`,
    words: Object.fromEntries(row.setup.lines.map((line) => [line.id, sayLine(line, catalogue, row.capabilities)])),
    limits: limitWords(row.setup, row.capabilities, catalogue),
    fights: await fightsOf(database.db, { id, lines: row.setup.lines }, catalogue),
    days: days.rows,
    runs: runs.map((one) => ({
      id: one.id,
      title: one.title,
      state: one.state,
      at: one.createdAt.toISOString(),
      counts: one.counts,
      trial: one.detail.trial === true,
      error: one.error,
    })),
    trial,
    notTaken: {
      total: notTaken.rows[0]?.total ?? 0,
      records: notTaken.rows.map((one) => ({
        outsideId: one.outside_id,
        contactId: one.contact_id,
        name: one.display_name ?? nameThere(one.seen, catalogue),
        why: one.why,
        isUnreadable: one.unreadable,
      })),
    },
    keptOut: (await recordsKeptOut(database.pool, id)).rows.map((one) => one.outside_id),
  };
}
