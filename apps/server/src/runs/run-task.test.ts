import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { RunSummary } from '@gray-loom/wire';
import { inTransaction } from '../db/connect';
import { createLogger } from '../log';
import { startTestApp, type TestApp } from '../testing/start-test-app';
import { RunKinds, type RunKind } from './kind';
import { RunHost } from './run-host';
import { workOnRun } from './run-task';
import { handThread, requestStop, requireRun, startRun } from './runs';

const LEASE_MS = 900;
let app: TestApp;
let folder: string;
beforeAll(async () => {
  app = await startTestApp();
  folder = mkdtempSync(join(tmpdir(), 'gray-loom-threads-'));
});
afterAll(async () => {
  await app.end();
  rmSync(folder, { recursive: true, force: true });
});

const kind = (stops: 'anytime' | 'never'): RunKind => ({
  kind: `works, stopped ${stops}`,
  name: 'works',
  sentence: ({ title }) => title,
  undo: null,
  work: {
    thread: { name: 'working', heapMb: 64, idleMs: 1000 },
    size: () => 'long',
    pauses: false,
    stops,
    retries: 1,
    do: () => Promise.reject(new Error('it works in the thread')),
  },
});
const kinds = new RunKinds([kind('anytime'), kind('never')]);

/** A worker whose threads do this. */
function workerOf(body: string) {
  const path = join(folder, `thread-${Math.random()}.mjs`);
  writeFileSync(
    path,
    `export default async () => {
      try { return { done: await (async () => { ${body} })() }; }
      catch ({ message, stack, code }) { return { failed: { message, stack, code } }; }
    };`,
  );
  const host = new RunHost(() => pathToFileURL(path).href);
  const log = createLogger('test', 'silent');
  return { database: app.database, kinds, host, log, holder: 'test', leaseMs: LEASE_MS };
}

const begin = (which: RunKind['kind']) =>
  inTransaction(app.database, async (tx) =>
    startRun(tx, { kind: which, state: 'queued', threadId: await handThread(tx), title: 'Work' }),
  );

async function until(holds: () => Promise<boolean>): Promise<void> {
  while (!(await holds())) await new Promise((done) => setTimeout(done, 30));
}

test('a run that computes without end keeps its lease, and is stopped all the same', async () => {
  const worker = workerOf('for (;;) Math.sqrt(2);');
  const runId = await begin('works, stopped anytime');
  const working = workOnRun(worker, runId);
  await until(async () => (await requireRun(app.database, runId)).state === 'running');
  const first = (await requireRun(app.database, runId)).leaseUntil?.getTime() ?? 0;
  await until(async () => ((await requireRun(app.database, runId)).leaseUntil?.getTime() ?? 0) > first);
  expect(await requestStop(app.database, kinds, runId)).toBe(true);
  await working;
  expect(await requireRun(app.database, runId)).toMatchObject({ state: 'stopped', leaseBy: null });
  await worker.host.close();
});

test('a run that may not be stopped is not asked to', async () => {
  const runId = await begin('works, stopped never');
  expect(await requestStop(app.database, kinds, runId)).toBe(false);
  expect((await requireRun(app.database, runId)).stopRequested).toBe(false);
});

test('what fails for a passing reason is taken up again, as often as its kind says; then it has failed', async () => {
  const worker = workerOf(`throw Object.assign(new Error('gone'), { code: 'ECONNRESET' });`);
  const runId = await begin('works, stopped anytime');
  await workOnRun(worker, runId);
  expect(await requireRun(app.database, runId)).toMatchObject({ state: 'queued', attempts: 1, error: null });
  await workOnRun(worker, runId);
  const failed = await requireRun(app.database, runId);
  expect(failed).toMatchObject({ state: 'failed', attempts: 1 });
  expect(failed.error).toContain('It failed 2 times in a row, at last since a connection was lost.');
  await worker.host.close();
});

test('a run whose thread another one has waits on the queue, says for which, and its slot is free', async () => {
  const worker = workerOf('await new Promise((done) => setTimeout(done, 60_000));');
  const first = await begin('works, stopped anytime');
  const working = workOnRun(worker, first);
  await until(async () => (await requireRun(app.database, first)).state === 'running');
  const second = await begin('works, stopped never');
  await workOnRun(worker, second);
  expect(await requireRun(app.database, second)).toMatchObject({ state: 'queued', waits: { forRun: first } });
  expect(await app.json<RunSummary>(`/runs/${second}`)).toMatchObject({ state: 'queued', waits: 'waits for Work' });
  await requestStop(app.database, kinds, first);
  await working;
  const { host } = workerOf('');
  await workOnRun({ ...worker, host }, second);
  expect(await requireRun(app.database, second)).toMatchObject({ waits: null });
  await Promise.all([worker.host.close(), host.close()]);
});

test('a run that is tried again says when, and why', async () => {
  const worker = workerOf(`throw Object.assign(new Error('gone'), { code: '57P01' });`);
  const runId = await begin('works, stopped anytime');
  await workOnRun(worker, runId);
  const { waits } = await app.json<RunSummary>(`/runs/${runId}`);
  expect(waits).toMatch(/^tries again in [12] s, since a connection was lost$/);
  await worker.host.close();
});

test('a run that another worker has by now is not put back', async () => {
  const worker = workerOf(`throw Object.assign(new Error('gone'), { code: 'ECONNRESET' });`);
  const runId = await begin('works, stopped anytime');
  const work = worker.host.work.bind(worker.host);
  worker.host.work = async (...asked) => {
    await app.database.pool.query(`update run set lease_by = 'another' where id = $1`, [runId]);
    return work(...asked);
  };
  await workOnRun(worker, runId);
  expect(await requireRun(app.database, runId)).toMatchObject({ state: 'running', leaseBy: 'another', attempts: 0 });
  await worker.host.close();
});

test('what fails for good says so at once, without a value of anybody', async () => {
  const worker = workerOf(`throw new Error('Maya Okafor is not a number');`);
  const runId = await begin('works, stopped anytime');
  await workOnRun(worker, runId);
  const run = await requireRun(app.database, runId);
  expect(run).toMatchObject({ state: 'failed', attempts: 0 });
  expect(run.error).toContain('Something went wrong');
  expect(run.error).not.toContain('Maya');
  await worker.host.close();
});

test('a thread that takes more memory than it may have fails its run and nothing else', async () => {
  const worker = workerOf('const all = []; for (;;) all.push(new Array(10_000).fill(all.length));');
  const runId = await begin('works, stopped anytime');
  await workOnRun(worker, runId);
  const run = await requireRun(app.database, runId);
  expect(run.state).toBe('failed');
  expect(run.error).toContain('more memory than it may have');
  await worker.host.close();
});
