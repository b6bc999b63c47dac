import {
  connect,
  connection,
  connectorsFor,
  createLogger,
  ensureAdministrator,
  handThread,
  inTransaction,
  insertContacts,
  makeConnection,
  migrateDatabase,
  noResults,
  requireConnection,
  resultsContext,
  runConnection,
  settingsOf,
  startRun,
  takeResultsNow,
  workRun,
  writeResults,
  type Database,
} from '@gray-loom/server';
import { randomBytes } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { startMailer, type Mailer } from '../apps/stand-ins/src/mailer/server';
import { ensureDatabase, removeData, startCluster } from '../scripts/postgres';
import { atLeast, atMost, BENCH_SIGN_IN, type BenchResult } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const PEOPLE = Number(process.env.GRAY_LOOM_BENCH_MAILER ?? 80_000);
const SEGMENTS = [5, 75];
const CHANGES = 1000;
const OPENINGS = Number(process.env.GRAY_LOOM_BENCH_OPENINGS ?? 100_000);
const ONE_BY_ONE = 2000;
/** Entries that one job takes, and the requests that one needs at least: it is begun, and asked after. */
const IN_A_JOB = 500;
const REQUESTS_OF_JOB = 2;

const addressOf = (i: number) => `p${i}@example.org`;

class MailerBench {
  private constructor(
    readonly database: Database,
    readonly mailer: Mailer,
    readonly connectionId: number,
    private readonly settings: { databaseUrl: string; secretKey: Buffer; standIns: string[] },
    private readonly stopAll: () => Promise<void>,
  ) {}

  static async start(): Promise<MailerBench> {
    const data = mkdtempSync(join(tmpdir(), 'gray-loom-bench-mailer-'));
    const cluster = await startCluster(data, {
      settings: { shared_buffers: '2GB', work_mem: '64MB', max_wal_size: '8GB' },
    });
    const client = { id: 'gray-loom', secret: 'secret' };
    const mailer = await startMailer({ port: 0, file: null, client });
    await ensureDatabase(cluster.url);
    const database = connect(cluster.url, createLogger('bench', 'warn'), 6);
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    await ensureAdministrator(database, { ...BENCH_SIGN_IN, name: 'Bench' });
    for (let from = 0; from < PEOPLE; from += 5000)
      await inTransaction(database, async (tx) => {
        const runId = await startRun(tx, {
          kind: 'import',
          state: 'done',
          threadId: await handThread(tx),
          title: 'bench',
        });
        await insertContacts(
          tx,
          runId,
          Array.from({ length: Math.min(5000, PEOPLE - from) }, (_, i) => ({
            record: {
              n: 2,
              f: {
                givenName: [{ slot: 0, v: `Given ${from + i}`, run: runId }],
                email: [{ slot: 1, v: addressOf(from + i), run: runId }],
              },
            },
          })),
        );
      });
    // Segments are put in their place by hand: what is measured is what becomes of them at the mailer.
    await database.pool.query(
      `insert into segment (name, condition, reviewed_at)
         select 'Segment ' || n, '{"join":"none","of":[]}', now() from generate_series(1, $1::int) n`,
      [Math.max(...SEGMENTS)],
    );
    const standIns = [`http://127.0.0.1:${mailer.port}`];
    const secretKey = randomBytes(32);
    const { id } = await makeConnection(
      { database, secretKey, standIns },
      {
        kind: 'mailer',
        name: 'Mail room',
        settings: { address: `${mailer.url}/`, client: client.id, secret: client.secret },
        from: null,
        despite: false,
      },
    );
    await database.pool.query('analyze');
    return new MailerBench(database, mailer, id, { databaseUrl: cluster.url, secretKey, standIns }, async () => {
      await database.pool.end();
      await mailer.stop();
      cluster.stop();
      removeData(data);
    });
  }

  end(): Promise<void> {
    return this.stopAll();
  }

  get requests(): number {
    const { GET = 0, POST = 0, PATCH = 0, DELETE = 0 } = this.mailer.counts;
    return GET + POST + PATCH + DELETE;
  }

  /** Keeps so many segments as lists, with everybody in one of them. */
  async keep(segments: number): Promise<void> {
    const { database } = this;
    await database.pool.query('delete from segment_member');
    await database.pool.query(
      'insert into segment_member (segment_id, contact_id) select 1 + id % $1, id from contact',
      [segments],
    );
    const { setup } = await requireConnection(database, this.connectionId);
    const lists = Array.from({ length: segments }, (_, i) => ({
      id: `l${i + 1}`,
      direction: 'out' as const,
      segment: i + 1,
      tag: '',
      label: `Letters / ${i + 1}`,
      byHand: 'putRight' as const,
    }));
    const limits = { removals: 1_000_000, overwrites: 1_000_000 };
    await database.db
      .update(connection)
      .set({ setup: { ...setup, newThere: true, lists, limits } })
      .where(eq(connection.id, this.connectionId));
    await this.touchAll();
  }

  /** Has everybody looked at by the next pass. */
  private async touchAll(): Promise<void> {
    await this.database.pool.query('update sync_link set dirty = true where connection_id = $1', [this.connectionId]);
  }

  /** Moves so many people from their segment to the next one. */
  async move(n: number, segments: number): Promise<void> {
    const { pool } = this.database;
    await pool.query(
      `with one as (select m.contact_id, m.segment_id as was, 1 + m.segment_id % $2 as now from segment_member m order by m.contact_id limit $1),
         moved as (update segment_member m set segment_id = o.now from one o where m.contact_id = o.contact_id)
       insert into segment_event (segment_id, contact_id, entered, cause)
         select was, contact_id, false, 'change' from one union all select now, contact_id, true, 'change' from one`,
      [n, segments],
    );
  }

  async run(trial = false): Promise<{ ms: number; requests: number; counts: Record<string, number> }> {
    const { runId } = await runConnection(this.database, this.connectionId, { trial, only: null, onlyThere: [] });
    const [startedMs, before] = [performance.now(), this.requests];
    const done = await workRun(this.database, runId, this.settings);
    return { ms: performance.now() - startedMs, requests: this.requests - before, counts: done?.counts ?? {} };
  }

  /** Takes openings in by pages, and so many one by one; gives how often faster the pages are. */
  async openings(): Promise<{ ratio: number; togetherMs: number; oneByOneMs: number }> {
    const { database, mailer, connectionId } = this;
    const { id: mailing } = mailer.store.send('Letter', -1, '2026-05-01T10:00:00.000Z');
    const open = (i: number) =>
      mailer.store.happen({
        mailing,
        address: addressOf(i % PEOPLE),
        event: 'opened',
        link: '',
        at: new Date(Date.UTC(2026, 4, 1, 11) + i * 1000).toISOString(),
      });
    for (let i = 0; i < OPENINGS; i++) open(i);
    const { runId } = await takeResultsNow(database, connectionId);
    const startedMs = performance.now();
    const done = await workRun(database, runId, this.settings);
    const togetherMs = performance.now() - startedMs;
    if (done?.counts.entries !== OPENINGS) throw new Error(`taken in: ${JSON.stringify(done?.counts)}`);
    for (let i = OPENINGS; i < OPENINGS + ONE_BY_ONE; i++) open(i);
    const row = await requireConnection(database, connectionId);
    const { standIns, secretKey } = this.settings;
    const tool = connectorsFor(standIns).mailer.open(row.place, settingsOf(row, secretKey));
    const context = await resultsContext(database, row, { runId, country: 'GB' });
    const { rows } = await database.pool.query<{ cursor: string }>(
      'select cursor from result_feed where connection_id = $1',
      [connectionId],
    );
    const singleMs = performance.now();
    let single = 0;
    for (let cursor = rows[0]?.cursor ?? '', more = true; more;) {
      const page = await tool.results?.(cursor);
      if (!page) throw new Error('a mailer has results');
      for (const result of page.entries) {
        await inTransaction(database, (tx) => writeResults(tx, context, [result], noResults()));
        single++;
      }
      ({ cursor, more } = page);
    }
    const oneByOneMs = performance.now() - singleMs;
    if (single !== ONE_BY_ONE) throw new Error(`${single} of ${ONE_BY_ONE} openings came one by one`);
    return { ratio: oneByOneMs / ONE_BY_ONE / (togetherMs / OPENINGS), togetherMs, oneByOneMs };
  }
}

/** What a mailer in step costs: the first load by jobs, many segments as lists, and what comes back. */
export async function benchMailer(): Promise<BenchResult> {
  const bench = await MailerBench.start();
  const figures: Record<string, number> = {};
  try {
    const { setup } = await requireConnection(bench.database, bench.connectionId);
    await bench.database.db
      .update(connection)
      .set({ setup: { ...setup, newThere: true } })
      .where(eq(connection.id, bench.connectionId));
    await bench.run(true);
    const load = await bench.run();
    if (load.counts.madeThere !== PEOPLE) throw new Error(`the first load: ${JSON.stringify(load.counts)}`);
    const least = Math.ceil(PEOPLE / IN_A_JOB) * REQUESTS_OF_JOB;
    figures['first load, s'] = load.ms / 1000;
    figures['first load, requests'] = load.requests;
    figures['first load, fewest requests'] = least;
    const moved: number[] = [];
    for (const segments of SEGMENTS) {
      await bench.keep(segments);
      await bench.run(true);
      await bench.run();
      await bench.run();
      const times: number[] = [];
      for (let i = 0; i < 3; i++) {
        await bench.move(CHANGES, segments);
        const { ms, requests, counts } = await bench.run();
        if (counts.changedThere !== CHANGES) throw new Error(`${segments} segments: ${JSON.stringify(counts)}`);
        times.push(ms);
        figures[`${CHANGES} changes with ${segments} segments, requests`] = requests;
      }
      const ms = [...times].sort((a, b) => a - b)[1] ?? 0;
      figures[`${CHANGES} changes with ${segments} segments, s`] = ms / 1000;
      moved.push(ms);
    }
    const openings = await bench.openings();
    figures[`${OPENINGS} openings in pages, s`] = openings.togetherMs / 1000;
    figures[`${ONE_BY_ONE} openings one by one, s`] = openings.oneByOneMs / 1000;
    const [few = 1, many = 0] = moved;
    return {
      name: 'mailer',
      claims: [
        atMost(
          `requests of a first load of ${PEOPLE} over the fewest that jobs allow`,
          load.requests / least,
          1.3,
          'x',
        ),
        atMost(`${CHANGES} changes among ${PEOPLE} with 75 segments over 5`, many / few, 2, 'x'),
        atLeast(`results of ${OPENINGS} openings, one by one over in pages`, openings.ratio, 5, 'x'),
      ],
      figures,
    };
  } finally {
    await bench.end();
  }
}
