import {
  AddressBookTool,
  GuardedRequester,
  connect,
  inTransaction,
  type Database,
  migrateDatabase,
  selectRecords,
  connection,
  run,
  createLogger,
  makeConnection,
  requireConnection,
  loadCatalogue,
  PickLists,
  handThread,
  startRun,
  ensureAdministrator,
  DatabaseSyncStore,
  itemCodec,
  applyChanges,
  insertContacts,
} from '@gray-loom/server';
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import {
  itemsOf,
  outsideField,
  project,
  SyncPass,
  type PairWrite,
  type SyncContext,
  type WriteResult,
} from '@gray-loom/core/syncing';
import type { ContactRecord } from '@gray-loom/core/model';
import { ensureDatabase, freePort, removeData, startCluster } from '../scripts/postgres';
import { callResults } from './call-results';
import { atLeast, atMost, BENCH_SIGN_IN, median, memoryMb, type BenchResult } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
/** The largest first: what a process has held once it does not give back, and its first sync is looked at for memory. */
const SIZES = (process.env.GRAY_LOOM_BENCH_SYNC ?? '80000,20000').split(',').map(Number);
const CHANGES = 1000;
// What a service elsewhere takes to answer.
const LATENCY_MS = 50;
const PER_SECOND = 150;
const credentials = { user: 'office', password: 'bench' };

const person = (i: number, runId: number): ContactRecord => {
  const letters = [...String(i)].map((digit) => 'abcdefghij'[Number(digit)]).join('');
  const value = (slot: number, v: string, more: object = {}) => ({ slot, v, run: runId, ...more });
  return {
    n: 3,
    f: {
      givenName: [value(0, `Given${letters}`)],
      familyName: [value(0, `Family${letters}`)],
      email: [value(1, `${letters}@example.org`, { label: 'home' })],
      tel: [
        value(2, `+44 1632 ${String(960_000 + (i % 1000))}`, { norm: `+441632${960_000 + (i % 1000)}`, label: 'work' }),
      ],
      organization: [value(0, 'Tern Joinery')],
    },
  };
};

class Bench {
  private constructor(
    readonly database: Database,
    readonly origin: string,
    private readonly standIn: ChildProcess,
    readonly connectionId: number,
    private readonly stopAll: () => Promise<void>,
  ) {}

  static async start(people: number): Promise<Bench> {
    const data = mkdtempSync(join(tmpdir(), 'gray-loom-bench-sync-'));
    const cluster = await startCluster(data, {
      settings: { shared_buffers: '2GB', work_mem: '64MB', maintenance_work_mem: '1GB', max_wal_size: '8GB' },
    });
    await ensureDatabase(cluster.url);
    const database = connect(cluster.url, createLogger('bench', 'warn'), 6);
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    await ensureAdministrator(database, { ...BENCH_SIGN_IN, name: 'Bench' });
    const port = await freePort();
    const standIn = spawn(process.execPath, [join(ROOT, '.build/stand-ins.js')], {
      env: {
        ...process.env,
        STAND_INS_DATA: join(data, 'stand-ins'),
        STAND_INS_PORT: String(port),
        STAND_INS_USER: credentials.user,
        STAND_INS_PASSWORD: credentials.password,
        STAND_INS_EMPTY: '1',
      },
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    const origin = `http://127.0.0.1:${port}`;
    for (let i = 0; i < 200; i++) {
      if (
        await fetch(`${origin}/counts`).then(
          ({ ok }) => ok,
          () => false,
        )
      )
        break;
      await new Promise((done) => setTimeout(done, 50));
    }
    const runId = await inTransaction(database, async (tx) =>
      startRun(tx, { kind: 'import', state: 'done', threadId: await handThread(tx), title: 'bench' }),
    );
    for (let from = 0; from < people; from += 5000)
      await inTransaction(database, (tx) =>
        insertContacts(
          tx,
          runId,
          Array.from({ length: Math.min(5000, people - from) }, (_, i) => ({ record: person(from + i, runId) })),
        ),
      );
    await database.pool.query('analyze');
    const { id } = await makeConnection(
      { database, secretKey: randomBytes(32), standIns: [origin] },
      {
        kind: 'addressBook',
        name: 'Office',
        settings: { address: `${origin}/dav/books/office/`, ...credentials },
        from: null,
        despite: false,
      },
    );
    const row = await requireConnection(database, id);
    await database.db
      .update(connection)
      .set({ setup: { ...row.setup, newThere: true } })
      .where(eq(connection.id, id));
    return new Bench(database, origin, standIn, id, async () => {
      standIn.kill('SIGKILL');
      await database.pool.end();
      cluster.stop();
      removeData(data);
    });
  }

  end(): Promise<void> {
    return this.stopAll();
  }

  get standInMb(): number {
    return memoryMb(this.standIn.pid);
  }

  async faults(asked: Record<string, number>): Promise<void> {
    await fetch(`${this.origin}/faults`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(asked),
    });
  }

  tool(): AddressBookTool {
    return new AddressBookTool(new GuardedRequester([this.origin]), `${this.origin}/dav/books/office/`, credentials);
  }

  /** One pass as a worker makes it. With `single` every pair is a transaction of its own. */
  async pass(
    single = false,
  ): Promise<{ ms: number; requests: number; totals: Record<string, number>; planMs: number }> {
    const { database } = this;
    const row = await requireConnection(database, this.connectionId);
    const tool = this.tool();
    const catalogue = await loadCatalogue(database.db);
    const picks = await PickLists.load(database.db);
    const context: SyncContext = { catalogue, country: 'GB', settle: (kind, text) => picks.settle(kind, text) };
    const lease = await inTransaction(database, async (tx) => {
      const runId = await startRun(tx, {
        kind: 'sync',
        state: 'running',
        threadId: row.threadId,
        title: 'bench',
      });
      await tx.db.update(run).set({ leaseBy: 'bench' }).where(eq(run.id, runId));
      return { runId, holder: 'bench' };
    });
    const startedMs = performance.now();
    const capabilities = await tool.capabilities();
    const store = new DatabaseSyncStore(database, {
      connectionId: row.id,
      connectionName: row.name,
      threadId: row.threadId,
      setup: row.setup,
      capabilities,
      catalogue,
      picks,
      context,
      runId: lease.runId,
      lease,
    });
    if (single) {
      const save = store.save.bind(store);
      store.save = async (writes: readonly PairWrite[]) => {
        const results: WriteResult[] = [];
        for (const write of writes) results.push(...(await save([write])));
        return results;
      };
    }
    const pass = new SyncPass(store, tool, row.setup, {
      run: lease.runId,
      capabilities,
      context,
      nonce: randomBytes(4).toString('hex'),
      codec: itemCodec,
    });
    const plan = await pass.plan();
    const planMs = performance.now() - startedMs;
    const end = await pass.apply(plan);
    if (end.left) throw new Error(`${end.left} records did not come to rest`);
    return { ms: performance.now() - startedMs, requests: tool.requests, totals: { ...end.totals }, planMs };
  }

  /** Changes the note of so many cards over there, as other programs would. */
  async changeThere(n: number, mark: string): Promise<void> {
    const tool = this.tool();
    const { changed } = await tool.changes(null);
    const ids = changed.slice(0, n).map(({ id }) => id);
    const records = await tool.read(ids);
    const written = await tool.write(
      records.map((seen) => ({
        kind: 'update' as const,
        id: seen.id,
        version: seen.version,
        fields: { note: [{ v: `Said ${mark}` }] },
        labels: null,
        stop: [],
        seen,
      })),
    );
    if (written.some(({ ok }) => !ok)) throw new Error('a card was not changed');
  }

  /** Changes the organization of so many contacts here. */
  async changeHere(n: number, mark: string): Promise<void> {
    const rows = await selectRecords<{ id: number; record: ContactRecord }>(
      this.database.pool,
      'select id, record from contact order by id desc limit $1',
      [n],
    );
    await inTransaction(this.database, async (tx) => {
      const runId = await startRun(tx, {
        kind: 'edit',
        state: 'done',
        threadId: await handThread(tx),
        title: mark,
      });
      await applyChanges(
        tx,
        runId,
        rows.map(({ id, record }) => {
          const before = record.f.organization?.[0] ?? null;
          const after = { slot: 0, v: `Joinery ${mark}`, run: runId };
          return { contactId: id, operations: [{ target: id, field: 'organization', slot: 0, before, after }] };
        }),
      );
    });
  }

  /** Reads both sides in bulk and hashes every pair by what is mapped: what a comparison without memory would cost. */
  async hashBoth(): Promise<number> {
    const startedMs = performance.now();
    const row = await requireConnection(this.database, this.connectionId);
    const catalogue = await loadCatalogue(this.database.db);
    const context: SyncContext = { catalogue, country: 'GB' };
    const fields = row.capabilities.fields;
    const lines = row.setup.lines.filter(({ outside }) => outside !== 'labels');
    const tool = this.tool();
    const { changed } = await tool.changes(null);
    const records = await tool.read(changed.map(({ id }) => id));
    const hash = (parts: unknown) => createHash('sha1').update(JSON.stringify(parts)).digest('base64');
    const there = new Set(
      records.map((record) =>
        hash(
          lines.map((line) =>
            itemsOf(record.fields[line.outside] ?? [], line, outsideField(line, fields), context).map(({ key }) => key),
          ),
        ),
      ),
    );
    const contacts = await selectRecords<{ id: number; record: ContactRecord }>(
      this.database.pool,
      `select id, record from contact where state = 'live'`,
      [],
    );
    let same = 0;
    for (const { record } of contacts)
      if (
        there.has(
          hash(lines.map((line) => project(record, line, outsideField(line, fields), context).map(({ key }) => key))),
        )
      )
        same++;
    if (same < contacts.length * 0.9) throw new Error(`only ${same} of ${contacts.length} pairs agree`);
    return performance.now() - startedMs;
  }
}

const times = async (n: number, work: () => Promise<{ ms: number }>): Promise<number> => {
  const all: number[] = [];
  for (let i = 0; i < n; i++) all.push((await work()).ms);
  return median(all);
};

/** What a sync costs by what changed, at two sizes of the book. */
export async function benchSync(): Promise<BenchResult> {
  const figures: Record<string, number> = {};
  const quiet: number[] = [];
  const claims: BenchResult['claims'] = [];
  for (const size of SIZES) {
    const bench = await Bench.start(size);
    try {
      const say = (what: string, n: number) => (figures[`${what}, ${size}`] = n);
      const first = await bench.pass();
      say('first sync, s', first.ms / 1000);
      say('first sync, requests', first.requests);
      say('peak memory of the first sync, MB', memoryMb(process.pid));
      if (size === SIZES[0])
        claims.push(atMost(`peak memory of the first sync of ${size}`, memoryMb(process.pid), 600, 'MB'));
      await bench.pass();
      await bench.database.pool.query('vacuum analyze');
      const pass = await times(7, () => bench.pass());
      quiet.push(pass);
      say('pass without changes, ms', pass);
      say('pass without changes, requests', (await bench.pass()).requests);

      const reconcile = await times(3, async () => {
        await bench.database.db
          .update(connection)
          .set({ theirCursor: null })
          .where(eq(connection.id, bench.connectionId));
        return bench.pass();
      });
      const hashed = await times(3, async () => ({ ms: await bench.hashBoth() }));
      say('full reconcile, s', reconcile / 1000);
      say('hashing both sides in bulk, s', hashed / 1000);
      claims.push(atMost(`full reconcile of ${size} over hashing both sides in bulk`, reconcile / hashed, 0.5, 'x'));

      const inward: number[] = [];
      const oneByOne: number[] = [];
      for (let i = 0; i < 3; i++) {
        await bench.changeThere(CHANGES, `a${i}`);
        inward.push((await bench.pass()).ms);
        await bench.changeThere(CHANGES, `b${i}`);
        oneByOne.push((await bench.pass(true)).ms);
      }
      say(`${CHANGES} changes in, ms`, median(inward));
      say(`${CHANGES} changes in one by one, ms`, median(oneByOne));
      claims.push(
        atLeast(
          `${CHANGES} changes in of ${size}, one by one over in batches`,
          median(oneByOne) / median(inward),
          5,
          'x',
        ),
      );

      const outward = async (mark: string) => {
        await bench.changeHere(CHANGES, mark);
        const done = await bench.pass();
        if (done.totals.changedThere !== CHANGES) throw new Error(`${done.totals.changedThere} of ${CHANGES} went out`);
        return done;
      };
      await bench.faults({ latencyMs: LATENCY_MS });
      const slow = await outward('slow');
      // Eight at a time, each a write; the cards are read a hundred at a time before.
      const leastSlow = (CHANGES / 8 + CHANGES / 100 + 2) * LATENCY_MS;
      say(`${CHANGES} changes out at ${LATENCY_MS} ms, s`, slow.ms / 1000);
      claims.push(
        atLeast(
          `${CHANGES} changes out of ${size}, share of what ${LATENCY_MS} ms latency allows`,
          leastSlow / slow.ms,
          0.8,
          '',
        ),
      );
      await bench.faults({ latencyMs: 0, perSecond: PER_SECOND });
      const limited = await outward('limited');
      const leastLimited = (limited.requests / PER_SECOND) * 1000;
      say(`${CHANGES} changes out at ${PER_SECOND} a second, s`, limited.ms / 1000);
      claims.push(
        atLeast(
          `${CHANGES} changes out of ${size}, share of what ${PER_SECOND} requests a second allow`,
          Math.min(1, leastLimited / limited.ms),
          0.8,
          '',
        ),
      );
      await bench.faults({ perSecond: 0 });
      say('peak memory, MB', memoryMb(process.pid));
      say('peak memory of the stand-in, MB', bench.standInMb);
    } finally {
      await bench.end();
    }
  }
  const [large = 1, small = 1] = quiet;
  if (SIZES.length > 1)
    claims.unshift(atMost(`pass without changes, ${SIZES[0]} over ${SIZES[1]} people`, large / small, 1.2, 'x'));
  const calls = await callResults();
  claims.push(...calls.claims);
  Object.assign(figures, calls.figures);
  return { name: 'sync', claims, figures };
}
