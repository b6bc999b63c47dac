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
} from '@gray-loom/server';
import { startDialer } from '../apps/stand-ins/src/dialer/server';
import { randomBytes } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { ensureDatabase, removeData, startCluster } from '../scripts/postgres';
import { atLeast, BENCH_SIGN_IN, type BenchResult } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const PEOPLE = 2000;
const CALLS = Number(process.env.GRAY_LOOM_BENCH_CALLS ?? 100_000);
/** Calls that are taken in one by one, for comparison: the cost of each is the same however many they are. */
const ONE_BY_ONE = 2000;

const numberOf = (i: number) => `+447700${String(900_000 + i)}`;

/** What results of calls cost when they come by the thousand, and when each is written by itself. */
export async function callResults(): Promise<Pick<BenchResult, 'claims' | 'figures'>> {
  const data = mkdtempSync(join(tmpdir(), 'gray-loom-bench-calls-'));
  const cluster = await startCluster(data, { settings: { shared_buffers: '1GB', max_wal_size: '8GB' } });
  const dialer = await startDialer({ port: 0, file: null, key: 'secret' });
  dialer.setFaults({ perSecond: 0 });
  await ensureDatabase(cluster.url);
  const database = connect(cluster.url, createLogger('bench', 'warn'), 6);
  try {
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    await ensureAdministrator(database, { ...BENCH_SIGN_IN, name: 'Bench' });
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
        Array.from({ length: PEOPLE }, (_, i) => ({
          record: {
            n: 2,
            f: {
              givenName: [{ slot: 0, v: `Given ${i}`, run: runId }],
              tel: [{ slot: 1, v: numberOf(i), norm: numberOf(i), run: runId }],
            },
          },
        })),
      );
    });
    const secretKey = randomBytes(32);
    const standIns = [`http://127.0.0.1:${dialer.port}`];
    const settings = { databaseUrl: cluster.url, secretKey, standIns };
    const { id } = await makeConnection(
      { database, secretKey, standIns },
      {
        kind: 'dialer',
        name: 'Phone bank',
        settings: { address: dialer.url, key: 'secret' },
        from: null,
        despite: false,
      },
    );
    const { setup } = await requireConnection(database, id);
    await database.db
      .update(connection)
      .set({ setup: { ...setup, newThere: true } })
      .where(eq(connection.id, id));
    for (const trial of [true, false]) {
      const { runId } = await runConnection(database, id, { trial, only: null, onlyThere: [] });
      await workRun(database, runId, settings);
    }
    const people = dialer.store.list();
    if (people.length !== PEOPLE) throw new Error(`${people.length} of ${PEOPLE} people are at the dialer`);
    const call = (i: number) =>
      dialer.store.addCall({
        direction: 'out',
        number: numberOf(i % PEOPLE),
        dialled: '',
        outcome: i % 3 ? 'reached' : 'noAnswer',
        minutes: i % 9,
        at: new Date(Date.UTC(2026, 0, 1) + i * 60_000).toISOString(),
        caller: '',
        personId: people[i % PEOPLE]?.id ?? null,
      });
    for (let i = 0; i < CALLS; i++) call(i);
    const { runId } = await takeResultsNow(database, id);
    const startedMs = performance.now();
    const done = await workRun(database, runId, settings);
    const togetherMs = performance.now() - startedMs;
    const taken = await database.pool.query<{ n: number }>(
      `select count(*)::int as n from activity where kind = 'call'`,
    );
    if (taken.rows[0]?.n !== CALLS)
      throw new Error(`${taken.rows[0]?.n} of ${CALLS} calls were taken in, ${JSON.stringify(done?.counts)}`);

    const place = `p${CALLS}`;
    for (let i = CALLS; i < CALLS + ONE_BY_ONE; i++) call(i);
    const row = await requireConnection(database, id);
    const tool = connectorsFor(standIns).dialer.open(row.place, settingsOf(row, secretKey));
    const singleMs = performance.now();
    let single = 0;
    const context = await resultsContext(database, row, { runId, country: 'GB' });
    for (let cursor = place, more = true; more;) {
      const page = await tool.results?.(cursor);
      if (!page) throw new Error('a dialer has results');
      for (const result of page.entries) {
        await inTransaction(database, (tx) => writeResults(tx, context, [result], noResults()));
        single++;
      }
      ({ cursor, more } = page);
    }
    const oneByOneMs = performance.now() - singleMs;
    if (single !== ONE_BY_ONE) throw new Error(`${single} of ${ONE_BY_ONE} calls came one by one`);
    const ratio = oneByOneMs / ONE_BY_ONE / (togetherMs / CALLS);
    return {
      claims: [atLeast(`results of ${CALLS} calls, one by one over in pages`, ratio, 5, 'x')],
      figures: {
        [`results of ${CALLS} calls in pages, s`]: togetherMs / 1000,
        [`results of ${ONE_BY_ONE} calls one by one, s`]: oneByOneMs / 1000,
      },
    };
  } finally {
    await database.pool.end();
    await dialer.stop();
    cluster.stop();
    removeData(data);
  }
}
