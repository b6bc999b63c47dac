import { requireConnection, type ConnectionRow } from './connections';
import { asc, desc, sql } from 'drizzle-orm';
import { NO_TOTALS, sayLine, wordBrake, type BrakeReason, type PassTotals } from '@gray-loom/core/syncing';
import type { ConnectionDetail, ConnectionSummary, SyncTrial } from '@gray-loom/wire';
import { type Database } from '../../db/connect';
import { connection, run } from '../../db/schema';
import { loadCatalogue } from '../../book/picks';
import { fightsOf, limitWords } from './sync-setup';

const reasonWords = (detail: Record<string, unknown>) =>
  ((detail.reasons ?? []) as BrakeReason[]).map((reason) => wordBrake(reason));

async function summaries(database: Database, rows: readonly ConnectionRow[]): Promise<ConnectionSummary[]> {
  if (!rows.length) return [];
  const ids = rows.map(({ id }) => id);
  const [links, asked, today, runs, people] = await Promise.all([
    database.pool.query<{ id: number; in_step: number; asking: number; known: number }>(
      `select connection_id as id, count(*) filter (where state = 'linked')::int as in_step,
         count(*) filter (where state = 'asking')::int as asking, count(*)::int as known
       from sync_link where connection_id = any($1::int[]) group by 1`,
      [ids],
    ),
    database.pool.query<{ id: number; n: number }>(
      `select connection_id as id, count(*)::int as n from sync_conflict where connection_id = any($1::int[]) group by 1`,
      [ids],
    ),
    database.pool.query<{
      id: number;
      made_here: number;
      made_there: number;
      changed_here: number;
      changed_there: number;
    }>(
      `select s.connection_id as id,
         count(distinct s.outside_id) filter (where s.kind = 'madeHere')::int as made_here,
         count(distinct s.outside_id) filter (where s.kind = 'madeThere')::int as made_there,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'here')::int as changed_here,
         count(distinct s.outside_id) filter (where s.field <> '' and s.side = 'there')::int as changed_there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = any($1::int[]) and s.at >= date_trunc('day', now()) group by 1`,
      [ids],
    ),
    database.pool.query<{
      id: number;
      run_id: number;
      state: string;
      at: Date;
      error: string | null;
      detail: Record<string, unknown>;
    }>(
      `select w.id, r.id as run_id, r.state, r.created_at as at, r.error, r.detail from unnest($1::int[]) as w(id) cross join lateral
         (select * from run where kind = 'sync' and (detail->>'connectionId')::int = w.id
            and not coalesce((detail->>'trial')::boolean, false) order by id desc limit 1) r`,
      [ids],
    ),
    database.pool.query<{ n: number }>(
      `select coalesce(sum(n), 0)::int as n from tally where kind = 'live' and who = 'person'`,
    ),
  ]);
  const active = await database.pool.query<{ id: number; run_id: number }>(
    `select (detail->>'connectionId')::int as id, id as run_id from run where kind = 'sync' and state in ('queued', 'running')`,
  );
  const by = <T extends { id: number }>(list: readonly T[], id: number) => list.find((one) => one.id === id);
  return rows.map((row): ConnectionSummary => {
    const last = by(runs.rows, row.id);
    const link = by(links.rows, row.id);
    const day = by(today.rows, row.id);
    return {
      id: row.id,
      name: row.name,
      kind: row.kind,
      look: row.look,
      state: row.state,
      address: row.address,
      here: people.rows[0]?.n ?? 0,
      there: row.capabilities.records ?? link?.known ?? null,
      inStep: link?.in_step ?? 0,
      waiting: (link?.asking ?? 0) + (by(asked.rows, row.id)?.n ?? 0),
      today: {
        madeHere: day?.made_here ?? 0,
        changedHere: day?.changed_here ?? 0,
        madeThere: day?.made_there ?? 0,
        changedThere: day?.changed_there ?? 0,
      },
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
  const days = await database.pool.query<{ day: string; here: number; there: number }>(
    `select to_char(d.day, 'YYYY-MM-DD') as day, coalesce(c.here, 0)::int as here, coalesce(c.there, 0)::int as there
     from generate_series(date_trunc('day', now()) - interval '13 days', date_trunc('day', now()), interval '1 day') as d(day)
     left join (select date_trunc('day', s.at) as day, count(*) filter (where s.side = 'here') as here, count(*) filter (where s.side = 'there') as there
       from sync_change s join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = $1 group by 1) c on c.day = d.day order by d.day`,
    [id],
  );
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
    user: row.userName,
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
  };
}
