import { byWeek } from '../duplicates';
import { wordBrake, type BrakeReason } from '@gray-loom/core/syncing';
import type { Worklist } from '@gray-loom/wire';
import type { Database } from '../../db/connect';

const WEEKS = 12;

/** What needs a person today, and how the whole stands. */
export async function worklist({ pool }: Database): Promise<Worklist> {
  const [contacts, groups, held, unfinished, failed, weeks, quality, syncs] = await Promise.all([
    pool.query<{ n: number }>(`select coalesce(sum(n), 0)::int as n from tally where kind = 'live' and who = 'person'`),
    pool.query<{ band: 'certain' | 'likely' | 'possible'; n: number }>(
      `select band, count(*)::int as n from match_group where state = 'open' group by band`,
    ),
    pool.query<{ run_id: number; intake_id: number; name: string; n: number }>(
      `select i.run_id, f.id as intake_id, f.name, count(*)::int as n from import_row i join run r on r.id = i.run_id join intake f on f.import_run = r.id
       where i.outcome = 'held' and i.settled is null and r.undone_by is null group by 1, 2, 3 order by i.run_id desc`,
    ),
    pool.query<{ id: number; name: string; row_count: number; created_at: Date }>(
      `select id, name, row_count, created_at from intake where state in ('read', 'trying', 'tried') order by id desc limit 10`,
    ),
    pool.query<{ id: number; title: string }>(
      `select id, title from run where state = 'failed' and kind <> 'sync' and undone_by is null
         and created_at > now() - interval '14 days' order by id desc limit 10`,
    ),
    pool.query<{ start: Date; kind: string; n: number }>(
      `select date_trunc('week', c.created_at) as start, t.kind, count(*)::int as n
         from contact c join run r on r.id = c.created_run join thread t on t.id = r.thread_id
       where c.created_at > date_trunc('week', now()) - make_interval(weeks => ${WEEKS - 1}) and c.state <> 'deleted' and c.kind = 'person' group by 1, 2`,
    ),
    pool.query<{ mean: number; band: number; n: number; fresh: number }>(
      `select least(completeness / 20, 4) as band, avg(completeness)::float as mean, count(*)::int as n,
         count(*) filter (where touched_at > now() - interval '1 year')::int as fresh
       from contact where state = 'live' and kind = 'person' group by 1`,
    ),
    syncsWaiting(pool),
  ]);
  const band = (name: string) => groups.rows.find((row) => row.band === name)?.n ?? 0;
  const total = quality.rows.reduce((sum, row) => sum + row.n, 0);
  return {
    syncs,
    contacts: contacts.rows[0]?.n ?? 0,
    certain: band('certain'),
    likely: band('likely'),
    possible: band('possible'),
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
    failed: failed.rows.map((row) => ({ runId: row.id, title: row.title })),
    weeks: byWeek(weeks.rows, WEEKS),
    completeness: {
      mean: total ? Math.round(quality.rows.reduce((sum, row) => sum + row.mean * row.n, 0) / total) : 0,
      bands: [0, 1, 2, 3, 4].map((index) => quality.rows.find((row) => row.band === index)?.n ?? 0),
    },
    freshness: {
      withinYear: quality.rows.reduce((sum, row) => sum + row.fresh, 0),
      older: total - quality.rows.reduce((sum, row) => sum + row.fresh, 0),
    },
  };
}

/** What waits of the connections: questions, runs that the brake holds, and tools that do not answer as they should. */
async function syncsWaiting(pool: Database['pool']): Promise<Worklist['syncs']> {
  const [conflicts, rows] = await Promise.all([
    pool.query<{ n: number }>(
      `select (select count(*) from sync_conflict)::int + (select count(*) from sync_link where state = 'asking')::int as n`,
    ),
    pool.query<{ id: number; name: string; trouble: string | null; reasons: BrakeReason[] | null }>(
      `select c.id, c.name, c.trouble, r.detail->'reasons' as reasons from connection c left join run r on r.id = c.braked_run and r.state = 'paused'
       where c.state <> 'stopped' and (c.trouble is not null or r.id is not null)`,
    ),
  ]);
  return {
    conflicts: conflicts.rows[0]?.n ?? 0,
    braked: rows.rows.flatMap(({ id, name, reasons }) =>
      reasons?.[0] ? [{ connectionId: id, name, reason: wordBrake(reasons[0]) }] : [],
    ),
    troubled: rows.rows.flatMap(({ id, name, trouble }) => (trouble ? [{ connectionId: id, name, trouble }] : [])),
  };
}
