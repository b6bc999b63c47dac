import { randomUUID } from 'node:crypto';
import { Logger as QueueLogger, parseCronItems, run as runWorker, type Runner, type TaskList } from 'graphile-worker';
import type { Config } from './config';
import { fillFacts } from './book/fill-facts';
import { consumers } from './consumers';
import { connect, inTransaction, type Database } from './db/connect';
import { FeedReaders } from './feed/consumer';
import { EventHub } from './feed/events';
import { createLogger, type Logger } from './log';
import { runKinds } from './run-kinds';
import { SLOTS, type RunKinds } from './runs/kind';
import { RunHost } from './runs/run-host';
import { workOnRun } from './runs/run-task';
import { enqueueRun, requireRun } from './runs/runs';
import { signLife } from './runs/worker-sign';
import { timetables } from './timetables';

export interface WorkerHandle {
  stop(): Promise<void>;
}

/** The feed is read when something is told, and now and then for what was still being written then. */
const FEED_MS = 1000;

function queueLogger(log: Logger): QueueLogger {
  return new QueueLogger(() => (level, message) => {
    if (level === 'error') log.error({ queue: true }, message);
    else if (level === 'warning') log.warn({ queue: true }, message);
  });
}

/** Puts runs back on the queue whose worker gave no sign of life, or whose job was lost with one. */
async function takeUpLostRuns(database: Database, kinds: RunKinds, leaseMs: number, log: Logger): Promise<void> {
  const withWork = kinds.which(({ work }) => work !== null);
  await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ id: number }>(
      `update run set lease_until = now() + $1::interval, lease_by = null
       where kind = any($2::text[]) and ((state = 'running' and lease_until < now())
         or (state = 'queued' and coalesce(lease_until, created_at + $1::interval) < now()))
       returning id`,
      [`${leaseMs} milliseconds`, withWork],
    );
    for (const { id } of rows) {
      log.warn({ runId: id }, 'a run without a worker goes on');
      await enqueueRun(tx, id);
    }
  });
}

const runIdOf = (payload: unknown) => Number((payload as { runId: number }).runId);

/** Looks at what a run is and puts it before the slot of its size. */
async function dispatch(database: Database, kinds: RunKinds, runId: number): Promise<void> {
  const size = kinds.sizeOf(await requireRun(database, runId));
  await database.pool.query(
    `select graphile_worker.add_job($1, payload := $2::json, max_attempts := 3, job_key := $3)`,
    [size, JSON.stringify({ runId }), `${size}:${runId}`],
  );
}

/** Calls work again and again until it is told to end; one turn at a time. */
function everyNow(work: () => Promise<unknown>, everyMs: number, log: Logger, what: string) {
  let isEnded = false;
  let wake = () => undefined as void;
  const loop = (async () => {
    while (!isEnded) {
      try {
        await work();
      } catch (error) {
        log.warn({ code: (error as { code?: string }).code }, `${what} failed; it is tried again`);
      }
      await new Promise<void>((done) => {
        const timer = setTimeout(done, everyMs);
        wake = () => {
          clearTimeout(timer);
          done();
        };
      });
    }
  })();
  return {
    wake: () => wake(),
    end: async () => {
      isEnded = true;
      wake();
      await loop;
    },
  };
}

/** Starts a worker on a database; several may share one. */
export async function startWorker(config: Config, threadFile: (name: string) => string): Promise<WorkerHandle> {
  const log = createLogger('worker', config.logLevel);
  const database = connect(config.databaseUrl, log, 14);
  const host = new RunHost(threadFile);
  const id = randomUUID();
  const hosted = { database, kinds: runKinds, host, log, holder: id, leaseMs: config.leaseMs };
  const workOn = (payload: unknown) => workOnRun(hosted, runIdOf(payload));
  const slot = (concurrency: number, taskList: TaskList, cron = false): Promise<Runner> =>
    runWorker({
      pgPool: database.pool,
      concurrency,
      noHandleSignals: true,
      parsedCronItems: cron
        ? parseCronItems(timetables.map(({ name, pattern }) => ({ task: name, match: pattern })))
        : [],
      logger: queueLogger(log),
      pollInterval: 1000,
      taskList,
    });
  const clocked = (isLong: boolean): TaskList =>
    Object.fromEntries(
      timetables
        .filter((one) => (one.isLong === true) === isLong)
        .map(({ name, work }) => [name, async () => void (await work(database))]),
    );
  const runners = await Promise.all([
    slot(1, { dispatch: (payload) => dispatch(database, runKinds, runIdOf(payload)), ...clocked(false) }, true),
    // What takes long by the clock keeps no run waiting.
    slot(1, clocked(true)),
    slot(SLOTS.short, { short: workOn }),
    slot(SLOTS.long, { long: workOn }),
  ]);
  await fillFacts(database);
  const readers = new FeedReaders(database, consumers, log);
  await readers.open();
  const reading = everyNow(() => readers.readAll(), FEED_MS, log, 'reading the feed');
  const events = new EventHub(database, log);
  await events.open();
  events.subscribe(({ topic }) => {
    if (topic === 'contacts') reading.wake();
  });
  const sweeping = everyNow(
    () => takeUpLostRuns(database, runKinds, config.leaseMs, log),
    config.leaseMs / 2,
    log,
    'looking for lost runs',
  );
  const endSigns = await signLife(database, id, log);
  log.info('ready');
  return {
    stop: async () => {
      events.close();
      await endSigns();
      await Promise.all([reading.end(), sweeping.end()]);
      await Promise.all(runners.map((runner) => runner.stop()));
      await host.close();
      await database.pool.end();
    },
  };
}
