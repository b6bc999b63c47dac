import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import type { IntakeDetail, RunSummary } from '@gray-loom/wire';
import { bringFile } from '../../testing/run-import';
import { built, startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const ROWS = 12_000;
/** Every thousandth row repeats an earlier one. */
const FOLDED = ROWS / 1000;

function startWorkerProcess(): ChildProcess {
  return spawn(process.execPath, [built('worker')], {
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      DATABASE_URL: app.url,
      GRAY_LOOM_LEASE_MS: '1500',
      GRAY_LOOM_LOG: 'silent',
    },
    stdio: 'ignore',
  });
}

async function until<T>(look: () => Promise<T>, holds: (value: T) => boolean): Promise<T> {
  for (;;) {
    const value = await look();
    if (holds(value)) return value;
    await new Promise((done) => setTimeout(done, 40));
  }
}

/** Tags everybody, with a worker that is killed on the way: each has the tag once, by one operation, and one undo takes it back. */
async function aBatchGoesOn() {
  const { runId } = await app.json<{ runId: number }>('/batch', 'POST', {
    what: { filter: {} },
    change: { kind: 'tags', add: ['walked'] },
  });
  const look = (id: number) => app.json<RunSummary>(`/runs/${id}`);
  const isOver = (run: RunSummary) => run.state !== 'running' && run.state !== 'queued';
  const first = startWorkerProcess();
  const midway = await until(
    () => look(runId),
    (run) => run.progress.done >= 2000,
  );
  expect(midway.state).toBe('running');
  first.kill('SIGKILL');
  await once(first, 'exit');
  const second = startWorkerProcess();
  const ended = await until(() => look(runId), isOver);
  expect([ended.state, ended.counts.changed]).toEqual(['done', ROWS - FOLDED]);
  const counted = await app.database.pool.query<{ operations: number; tagged: number }>(
    `select (select count(*)::int from operation where run_id = $1) as operations,
       (select count(*)::int from contact where tags = array['walked']) as tagged`,
    [runId],
  );
  expect(counted.rows[0]).toEqual({ operations: ROWS - FOLDED, tagged: ROWS - FOLDED });
  const { undoRunId } = await app.json<{ undoRunId: number }>(`/runs/${runId}/undo`, 'POST');
  const undone = await until(() => look(undoRunId), isOver);
  expect(undone.counts).toMatchObject({ restored: ROWS - FOLDED, left: 0 });
  second.kill('SIGTERM');
  await once(second, 'exit');
}

test('a worker killed in the middle leaves an import, and a change of many, that go on: each row in exactly once, each contact changed once', async () => {
  const lines = ['First name,Last name,Email,Mobile'];
  for (let i = 0; i < ROWS; i++)
    lines.push(
      i % 1000 === 999
        ? `Given${i - 500},Family${i - 500},p${i - 500}@example.org,`
        : `Given${i},Family${i},p${i}@example.org,`,
    );
  const intakeId = await bringFile(app, 'long.csv', lines.join('\n'));
  const { runId } = await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST');
  const look = () => app.json<RunSummary>(`/runs/${runId}`);

  const first = startWorkerProcess();
  const midway = await until(look, (run) => run.progress.done >= 2000);
  expect(midway.state).toBe('running');
  first.kill('SIGKILL');
  await once(first, 'exit');
  const marker = await look();
  expect(marker.progress.done).toBeLessThan(ROWS);

  const second = startWorkerProcess();
  const ended = await until(look, (run) => run.state !== 'running' && run.state !== 'queued');
  second.kill('SIGTERM');
  await once(second, 'exit');
  expect(ended.state).toBe('done');
  expect(ended.counts).toMatchObject({ new: ROWS - FOLDED, fold: FOLDED, held: 0 });
  const rows = await app.database.pool.query<{ n: number; people: number; twice: number }>(
    `select (select count(*)::int from import_row where run_id = $1) as n, (select count(*)::int from contact) as people,
       (select count(*)::int from (select email from contact group by email having count(*) > 1) d) as twice`,
    [runId],
  );
  expect(rows.rows[0]).toEqual({ n: ROWS, people: ROWS - FOLDED, twice: 0 });
  expect((await app.json<IntakeDetail>(`/intakes/${intakeId}`)).state).toBe('done');

  await aBatchGoesOn();

  // Undoing that many is a job of its own.
  const third = startWorkerProcess();
  const { undoRunId, finished } = await app.json<{ undoRunId: number; finished: boolean }>(
    `/runs/${runId}/undo`,
    'POST',
  );
  expect(finished).toBe(false);
  const undone = await until(
    () => app.json<RunSummary>(`/runs/${undoRunId}`),
    (run) => run.state !== 'running' && run.state !== 'queued',
  );
  third.kill('SIGTERM');
  await once(third, 'exit');
  expect(undone.counts).toMatchObject({ removed: ROWS - FOLDED, left: 0 });
  expect((await app.json<{ total: number }>('/contacts?limit=1')).total).toBe(0);
});
