import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ContactEdit, RunSummary } from '@gray-loom/wire';
import { Readable } from 'node:stream';
import { copyCluster, type Cluster, ensureDatabase, removeData, startCluster } from '../../../../scripts/postgres';
import { recountRemits } from '../book/statements/remits';
import type { RemitParts, Role } from '../db/actor';
import { createApp } from '../app';
import { readConfig, type Config } from '../config';
import { connect, type Database } from '../db/connect';
import { migrateDatabase } from '../db/migrate';
import { consumers } from '../consumers';
import { FeedReaders } from '../feed/consumer';
import { EventHub } from '../feed/events';
import { runKinds } from '../run-kinds';
import { workRun } from '../work-run';
import { createLogger } from '../log';
import { ensureAdministrator } from '../features/people/sign-in';
import { routeName, type Route } from '../http/declare';
import { requireAsDeclared } from './as-declared';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();

/** A server on a PostgreSQL cluster of its own, with durability off; requests go in without a network. */
export type EditParts = Partial<ContactEdit> & Pick<ContactEdit, 'field'>;

export interface TestApp {
  config: Config;
  database: Database;
  url: string;
  /** Sends a request as the signed-in administrator. */
  request(path: string, init?: RequestInit): Promise<Response>;
  json<T>(path: string, method?: string, body?: unknown): Promise<T>;
  /** The same without a session. */
  anonymous(path: string, init?: RequestInit): Promise<Response>;
  /** The same from an address of the network. */
  from(address: string): TestApp['anonymous'];
  /** Makes an account and sends a request in its name. */
  signedInAs(role: Role, name: string, remit?: Partial<RemitParts>): Promise<TestApp['request']>;
  /** Every JSON route that has answered so far, by name. */
  answered: Set<string>;
  /** Edits values of a contact. */
  edit(id: number, ...edits: EditParts[]): Promise<{ runId: number }>;
  /** Enters a contact by hand: what was typed, by field. */
  enter(values: Record<string, string>, more?: Record<string, unknown>): Promise<{ contactId: number; runId: number }>;
  /** Does what a worker would do with a run that waits. */
  work(runId: number): Promise<RunSummary>;
  /** Lets everybody read the feed of changes who would in a worker, and follow it up. */
  readFeed(): Promise<void>;
  upload(name: string, content: string | Buffer): Promise<Response>;
  end(): Promise<void>;
}

const UNSAFE = { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off', shared_buffers: '64MB' };
const MIGRATIONS = join(ROOT, 'apps/server/src/db/migrations');

/** What the name of the pattern depends on: every migration. */
function shapeOfDatabase(): string {
  const all = createHash('sha256');
  for (const name of readdirSync(MIGRATIONS).sort())
    if (name.endsWith('.sql')) all.update(name).update(readFileSync(join(MIGRATIONS, name)));
  all.update(readFileSync(join(ROOT, 'apps/server/src/db/statements/remit-views.ts')));
  return all.digest('hex').slice(0, 12);
}

const PATTERNS = join(ROOT, '.build');
const PATTERN = 'test-database-';
/** Whoever was killed while making a pattern leaves it half done; after this time somebody else makes it. */
const MAKING_MS = 120_000;

/** Makes a cluster below a data folder that has the current shape and nothing in it: a copy of one that is made once for all tests. */
async function freshCluster(data: string): Promise<Cluster> {
  const pattern = join(PATTERNS, PATTERN + shapeOfDatabase());
  if (existsSync(join(pattern, 'whole'))) {
    copyCluster(pattern, data);
    return startCluster(data, { settings: UNSAFE });
  }
  const cluster = await startCluster(data, { settings: UNSAFE });
  await ensureDatabase(cluster.url);
  const database = connect(cluster.url, createLogger('test', 'silent'), 2);
  await migrateDatabase(database, MIGRATIONS);
  await database.pool.end();
  if (!claims(pattern)) return cluster;
  cluster.stop();
  copyCluster(data, pattern);
  writeFileSync(join(pattern, 'whole'), '');
  return startCluster(data, { settings: UNSAFE });
}

/** Whether this process is the one that makes the pattern; patterns of other shapes go. */
function claims(pattern: string): boolean {
  mkdirSync(PATTERNS, { recursive: true });
  for (const name of readdirSync(PATTERNS).filter((one) => one.startsWith(PATTERN))) {
    const path = join(PATTERNS, name);
    const isHalf = path === pattern && Date.now() - statSync(path).mtimeMs > MAKING_MS;
    if (isHalf || path !== pattern) removeData(path);
  }
  try {
    mkdirSync(pattern);
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    return false;
  }
}

export async function startTestApp(settings: Record<string, string> = {}): Promise<TestApp> {
  const data = mkdtempSync(join(tmpdir(), 'gray-loom-test-'));
  const cluster = await freshCluster(data);
  const log = createLogger('test', process.env.GRAY_LOOM_LOG ?? 'silent');
  // The key is asked of the process, here and in its threads.
  if (settings.GRAY_LOOM_KEY) process.env.GRAY_LOOM_KEY = settings.GRAY_LOOM_KEY;
  const config = readConfig({ DATABASE_URL: cluster.url, PORT: '0', GRAY_LOOM_LOG: 'silent', ...settings });
  const database = connect(cluster.url, log, 8);
  await ensureAdministrator(database, {
    email: 'ines@quillhaven.example',
    name: 'Ines Carvalho',
    password: 'a good password',
  });
  await database.pool.query(
    `insert into pick (kind, label, fold_key, ordinal) values ('stage', 'Enquiry', 'enquiry', 0), ('stage', 'Donor', 'donor', 1)`,
  );
  const answered = new Set<string>();
  // Consumers have their place from the beginning, as where a worker runs.
  await new FeedReaders(database, consumers, log).open();
  const events = new EventHub(database, log);
  await events.open();
  const app = createApp({
    config,
    database,
    events,
    log,
    kinds: runKinds,
    consumers,
    answered: (route: Route, body) => {
      requireAsDeclared(route, body);
      answered.add(routeName(route));
    },
  });
  const anonymous = async (path: string, init?: RequestInit) => app.request(`/api${path}`, init);
  const signIn = async (email: string): Promise<TestApp['request']> => {
    const signedIn = await anonymous('/session', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email, password: 'a good password' }),
    });
    const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? '';
    return (path, init = {}) =>
      anonymous(path, { ...init, headers: { ...(init.headers as Record<string, string>), Cookie: cookie } });
  };
  const request = await signIn('ines@quillhaven.example');
  const json = async <T>(path: string, method = 'GET', body?: unknown): Promise<T> => {
    const answer = await request(path, {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const text = await answer.text();
    if (!answer.ok)
      throw Object.assign(new Error(text), { status: answer.status, problem: JSON.parse(text) as unknown });
    return (text ? JSON.parse(text) : undefined) as T;
  };
  return {
    config,
    database,
    url: cluster.url,
    anonymous,
    from: (address) => async (path, init) =>
      app.request(`/api${path}`, init, { incoming: { socket: { remoteAddress: address } } }),
    request,
    json,
    answered,
    signedInAs: async (role, name, remit) => {
      const email = `${name.toLowerCase().replace(/\W+/g, '.')}@quillhaven.example`;
      await database.pool.query(
        `insert into account (email, name, role, password_hash) select $1, $2, $3, password_hash from account limit 1`,
        [email, name, role],
      );
      if (remit)
        await database.pool.query(`insert into account_remit select id, $2, $3, $4, $5 from account where email = $1`, [
          email,
          remit.owners ?? [],
          remit.sources ?? [],
          remit.tags ?? [],
          remit.areas ?? [],
        ]);
      if (remit) await recountRemits(database.pool, null);
      return signIn(email);
    },
    edit: (id, ...edits) => json(`/contacts/${id}`, 'PATCH', { edits }),
    enter: (values, more = {}) =>
      json('/contacts', 'POST', {
        ...more,
        values: Object.entries(values).map(([field, text]) => ({ field, text })),
      }),
    work: async (runId) => {
      if (!(await workRun(database, runId, { ...config, leaseMs: 60_000 })))
        throw new Error(`run ${runId} is not to be had`);
      return json<RunSummary>(`/runs/${runId}`);
    },
    readFeed: async () => {
      const readers = new FeedReaders(database, consumers, log);
      await readers.open();
      await readers.readAll();
      // Many that are to be checked are a run of their own.
      const { rows } = await database.pool.query<{ id: number }>(
        `select id from run where kind = 'check' and state = 'queued'`,
      );
      for (const { id } of rows) await workRun(database, id, { ...config, leaseMs: 60_000 });
    },
    upload: (name, content) => {
      const bytes = Buffer.from(content);
      return request('/intakes', {
        method: 'POST',
        headers: {
          'X-File-Name': encodeURIComponent(name),
          'X-File-Size': String(bytes.length),
          'Content-Type': 'application/octet-stream',
        },
        body: Readable.toWeb(Readable.from([bytes])) as unknown as BodyInit,
        duplex: 'half',
      } as RequestInit);
    },
    end: async () => {
      events.close();
      await database.pool.end();
      cluster.stop();
      removeData(data);
    },
  };
}

/** Where the built threads and programs lie; ./test builds them first. */
export function built(name: string): string {
  const path = join(ROOT, '.build', `${name}.js`);
  if (!existsSync(path)) throw new Error(`${path} is not built; run the tests by ./test`);
  return path;
}
