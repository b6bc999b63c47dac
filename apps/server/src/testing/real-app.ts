import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdtempSync, openSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Cluster, ensureDatabase, freePort, removeData, startCluster } from '../../../../scripts/postgres';
import { connect } from '../db/connect';
import { migrateDatabase } from '../db/migrate';
import { createLogger } from '../log';
import { ensureAdministrator } from '../features/people/sign-in';
import { built } from './start-test-app';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const SIGN_IN = { email: 'ines@quillhaven.example', password: 'a good password' };
const UNSAFE = { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off', shared_buffers: '64MB' };

/** An answer that takes longer is none. */
const ANSWER_MS = 30_000;

export interface RawAnswer {
  status: number;
  text: string;
}

export type Victim = 'worker' | 'server' | 'database';

/** Where another server of the same database answers. */
export interface Beside {
  base: string;
}

async function answersAt(base: string): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (
      await fetch(`${base}/health`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error('the server does not answer');
}

/** Server, worker and database as processes of their own, each of which can be killed and comes back. */
export class RealApp {
  private readonly data = mkdtempSync(join(tmpdir(), 'gray-loom-killed-'));
  private readonly programs = new Map<'server' | 'worker', ChildProcess>();
  private readonly beside: ChildProcess[] = [];
  private readonly log = openSync(join(this.data, 'programs.log'), 'a');
  private port = 0;
  private cookie = '';

  private constructor(
    private cluster: Cluster | null,
    private readonly env: Record<string, string>,
  ) {}

  /** @param env what server and worker find in their surroundings besides */
  static async start(env: Record<string, string> = {}): Promise<RealApp> {
    const app = new RealApp(null, env);
    // The unprivileged user that the database runs as has to get in.
    chmodSync(app.data, 0o711);
    app.cluster = await startCluster(app.data, { settings: UNSAFE });
    app.port = await freePort();
    const { url } = app.cluster;
    await ensureDatabase(url);
    const database = connect(url, createLogger('test', 'silent'), 2);
    await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
    await ensureAdministrator(database, { ...SIGN_IN, name: 'Ines Carvalho' });
    await database.pool.end();
    app.run('server');
    app.run('worker');
    await app.answers();
    await app.signIn();
    return app;
  }

  /** What server and worker have logged. */
  get logged(): string {
    return readFileSync(join(this.data, 'programs.log'), 'utf8');
  }

  get url(): string {
    return this.cluster?.url ?? '';
  }

  private get base(): string {
    return `http://127.0.0.1:${this.port}/api`;
  }

  /** A second server and a second worker on the same database; both end with the app. */
  async startBeside(): Promise<Beside> {
    const port = await freePort();
    const server = this.spawn('server', port);
    const worker = this.spawn('worker', port);
    this.beside.push(server, worker);
    const base = `http://127.0.0.1:${port}/api`;
    await answersAt(base);
    return { base };
  }

  /** Where the first server answers, and what a browser that is signed in sends along. */
  get own(): Beside & { cookie: string } {
    return { base: this.base, cookie: this.cookie };
  }

  /** Kills one of the first two without warning, for good. */
  async killForGood(victim: 'server' | 'worker'): Promise<void> {
    const child = this.programs.get(victim);
    child?.kill('SIGKILL');
    if (child && child.exitCode === null && child.signalCode === null) await once(child, 'exit');
    this.programs.delete(victim);
  }

  private run(name: 'server' | 'worker'): void {
    this.programs.set(name, this.spawn(name, this.port));
  }

  private spawn(name: 'server' | 'worker', port: number): ChildProcess {
    return spawn(process.execPath, [built(name)], {
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        DATABASE_URL: this.url,
        PORT: String(port),
        GRAY_LOOM_LEASE_MS: '1500',
        GRAY_LOOM_LOG: 'debug',
        ...this.env,
      },
      stdio: ['ignore', this.log, this.log],
    });
  }

  private answers(): Promise<void> {
    return answersAt(this.base);
  }

  /**
   * Any request as the administrator, and its answer as text; status 0 where none came. After a request that ended the session
   * there is a new sign-in, after one that ended the server a new server.
   */
  async raw(path: string, init: RequestInit): Promise<RawAnswer> {
    const headers = init.headers as Record<string, string>;
    const send = async (): Promise<RawAnswer> => {
      const answer = await fetch(`${this.base}${path}`, {
        ...init,
        headers: { ...headers, Cookie: this.cookie },
        signal: AbortSignal.timeout(ANSWER_MS),
      });
      return { status: answer.status, text: await answer.text() };
    };
    try {
      const answer = await send();
      if (answer.status !== 401) return answer;
      await this.signIn();
      return await send();
    } catch (error) {
      // A process that ends closes its connections first.
      await new Promise((done) => setTimeout(done, 200));
      const server = this.programs.get('server');
      if (server?.exitCode === null && server.signalCode === null)
        return { status: 0, text: `no answer: ${String((error as Error).cause ?? error)}` };
      this.run('server');
      await this.answers();
      return { status: 0, text: 'the server ended' };
    }
  }

  private async signIn(): Promise<void> {
    const signedIn = await fetch(`${this.base}/session`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(SIGN_IN),
    });
    this.cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? '';
  }

  /** What an address gives; null while somebody is down. */
  async json<T>(path: string, method = 'GET', body?: unknown): Promise<T | null> {
    const answer = await fetch(`${this.base}${path}`, {
      method,
      headers: { Cookie: this.cookie, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    }).catch(() => null);
    return answer?.ok ? ((await answer.json()) as T) : null;
  }

  async upload(name: string, content: string): Promise<number> {
    const answer = await fetch(`${this.base}/intakes`, {
      method: 'POST',
      headers: { Cookie: this.cookie, 'X-File-Name': name, 'Content-Type': 'application/octet-stream' },
      body: content,
    });
    return ((await answer.json()) as { id: number }).id;
  }

  /** Kills one of them without warning and starts it again, as whoever watches over services would. */
  async kill(victim: Victim): Promise<void> {
    if (victim === 'database') {
      const pid = Number(readFileSync(join(this.data, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]);
      process.kill(pid, 'SIGKILL');
      const port = String(this.cluster?.port ?? 0);
      // Its other processes notice and leave; until then the folder is taken.
      for (let i = 0; ; i++) {
        await new Promise((done) => setTimeout(done, 300));
        try {
          this.cluster = await startCluster(this.data, { settings: { ...UNSAFE, port } });
          break;
        } catch (error) {
          if (i > 40) throw error;
        }
      }
      // Programs that ended with it are started again.
      for (const name of ['server', 'worker'] as const) if (this.programs.get(name)?.exitCode !== null) this.run(name);
      await this.answers();
      return;
    }
    const child = this.programs.get(victim);
    child?.kill('SIGKILL');
    if (child && child.exitCode === null && child.signalCode === null) await once(child, 'exit');
    this.run(victim);
    if (victim === 'server') await this.answers();
  }

  async end(): Promise<void> {
    for (const child of [...this.programs.values(), ...this.beside]) child.kill('SIGKILL');
    this.cluster?.stop();
    await new Promise((done) => setTimeout(done, 200));
    removeData(this.data);
  }
}
