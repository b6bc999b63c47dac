import { connect, type Database, migrateDatabase, createLogger, ensureAdministrator } from '@gray-loom/server';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NODE_FLAGS, WORKER_FLAGS } from '../scripts/node-flags';
import { ensureDatabase, freePort, removeData, startCluster } from '../scripts/postgres';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();

/** A claim that a bench checks: a ratio to something measured in the same run. */
export interface Claim {
  claim: string;
  value: number;
  limit: number;
  unit: string;
  holds: boolean;
}

export interface BenchResult {
  name: string;
  claims: Claim[];
  /** Figures for information, not checked. */
  figures: Record<string, number>;
}

export function atMost(claim: string, value: number, limit: number, unit: string): Claim {
  return { claim, value: Math.round(value * 100) / 100, limit, unit, holds: value <= limit };
}

export function atLeast(claim: string, value: number, limit: number, unit: string): Claim {
  return { claim, value: Math.round(value * 10000) / 10000, limit, unit, holds: value >= limit };
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? (sorted[middle] ?? 0) : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
}

/** Memory of a process in MB, and the most it has had. */
export function memoryMb(pid: number | undefined): number {
  if (!pid) return 0;
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
}

export const BENCH_SIGN_IN = { email: 'bench@quillhaven.example', password: 'bench-password' };

export interface BenchApp {
  database: Database;
  url: string;
  /** Address of the server. */
  base: string;
  server: ChildProcess;
  worker: ChildProcess;
  request(path: string, init?: RequestInit): Promise<Response>;
  end(): Promise<void>;
}

/** An app of its own: cluster, server and worker with default durability, on own ports and data. */
export async function startApp(): Promise<BenchApp> {
  const data = mkdtempSync(join(tmpdir(), 'gray-loom-bench-'));
  const cluster = await startCluster(data, {
    settings: { shared_buffers: '2GB', work_mem: '64MB', maintenance_work_mem: '1GB', max_wal_size: '8GB' },
  });
  await ensureDatabase(cluster.url);
  const database = connect(cluster.url, createLogger('bench', 'warn'), 4);
  await migrateDatabase(database, join(ROOT, 'apps/server/src/db/migrations'));
  await ensureAdministrator(database, { ...BENCH_SIGN_IN, name: 'Bench' });
  const port = await freePort();
  const env = {
    ...process.env,
    DATABASE_URL: cluster.url,
    PORT: String(port),
    GRAY_LOOM_LOG: 'warn',
    GRAY_LOOM_WEB: join(ROOT, 'apps/web/dist'),
  };
  const program = (name: string) =>
    // As ./start starts them.
    spawn(
      process.execPath,
      [...NODE_FLAGS, ...(name === 'worker' ? WORKER_FLAGS : []), join(ROOT, '.build', `${name}.js`)],
      {
        env,
        cwd: ROOT,
        stdio: ['ignore', 'inherit', 'inherit'],
      },
    );
  const server = program('server');
  const worker = program('worker');
  const base = `http://127.0.0.1:${port}`;
  for (let i = 0; ; i++) {
    if (
      await fetch(`${base}/api/health`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      break;
    if (i > 200) throw new Error('the server did not answer');
    await new Promise((done) => setTimeout(done, 50));
  }
  const signedIn = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(BENCH_SIGN_IN),
  });
  const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? '';
  return {
    database,
    url: cluster.url,
    base,
    server,
    worker,
    request: async (path, init = {}) => {
      const answer = await fetch(`${base}/api${path}`, {
        ...init,
        headers: { ...(init.headers as Record<string, string>), Cookie: cookie },
      });
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      return answer;
    },
    end: async () => {
      await database.pool.end();
      for (const child of [server, worker]) {
        const ended = new Promise((done) => child.once('exit', done));
        child.kill('SIGTERM');
        await Promise.race([ended, new Promise((done) => setTimeout(done, 5000))]);
        child.kill('SIGKILL');
      }
      cluster.stop();
      removeData(data);
    },
  };
}

/** Waits until every search text is under its index and its list of what is to be put in order is empty. */
export async function placed({ database }: BenchApp): Promise<void> {
  for (;;) {
    const { rows } = await database.pool.query<{ busy: boolean }>(
      `select exists (select 1 from contact_search_fresh)
         or exists (select 1 from pg_stat_activity where pid <> pg_backend_pid() and state = 'active' and query ~ 'gin_clean|analyze') as busy`,
    );
    if (!rows[0]?.busy) return;
    await new Promise((done) => setTimeout(done, 20));
  }
}
