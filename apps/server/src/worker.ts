import { randomUUID } from 'node:crypto';
import { Logger as QueueLogger, run as runWorker, type Runner, type Task } from 'graphile-worker';
import { Piscina } from 'piscina';
import type { Config } from './config';
import { connect, inTransaction, type Database } from './db/connect';
import { changeMany } from './features/setup/change-many';
import { importFile } from './features/intake/import-file';
import { keepAlive, LeaseLost, takeLease, type Lease } from './runs/lease';
import { mergeCertain } from './features/duplicates/merge-certain';
import { checkDuplicates, scanDuplicates } from './features/duplicates/scan-duplicates';
import { syncConnection } from './features/syncs/sync-connection';
import { tryImport } from './features/intake/try-import';
import { undoLargeRun } from './features/ledger/undo-large-run';
import { createLogger, type Logger } from './log';
import { outOfRoom } from './http/problem';
import { startDueSyncs } from './features/syncs/connections';
import { placeLeftTexts } from './book/place-texts';
import { enqueueRun, failRun } from './runs/runs';

type RunJob = (database: Database, lease: Lease, leaseMs: number) => Promise<void>;

export interface WorkerHandle {
  stop(): Promise<void>;
}

// Rows in planning live for one batch of 250. With 24, 48 and 128 MB an import took the same; 48 leaves room for matching.
const YOUNG_MB = 48;

const TASK_OF_KIND: Record<string, string> = {
  import: 'importFile',
  trial: 'tryImport',
  undo: 'undoRun',
  pickMerge: 'changeMany',
  convert: 'changeMany',
  recompute: 'changeMany',
  merge: 'mergeCertain',
  sync: 'syncConnection',
};

/** Wraps the work of a run: lease, signs of life, and a failure that the ledger tells. */
function runTask(database: Database, holder: string, leaseMs: number, log: Logger, work: RunJob): Task {
  return async (payload) => {
    const runId = Number((payload as { runId: number }).runId);
    // A name of its own for each time: a run that was thought lost and taken up again has one holder, also in one worker.
    const lease = await takeLease(database, runId, `${holder}:${randomUUID()}`, leaseMs);
    if (!lease) return;
    const rest = keepAlive(database, lease, leaseMs);
    try {
      await work(database, lease, leaseMs);
    } catch (error) {
      if (error instanceof LeaseLost) {
        log.warn({ runId }, 'another worker took the run over');
        return;
      }
      log.error({ runId, err: error }, 'a run failed');
      const noRoom = outOfRoom(error);
      await failRun(
        database,
        runId,
        noRoom
          ? `${noRoom} What was written before stands, and nothing is half done: make room, then undo the run or bring the file in once more.`
          : 'Something went wrong inside Gray Loom. What was written before stands and can be undone; the log has the details.',
      );
    } finally {
      rest();
    }
  };
}

function queueLogger(log: Logger): QueueLogger {
  return new QueueLogger(() => (level, message) => {
    if (level === 'error') log.error({ queue: true }, message);
    else if (level === 'warning') log.warn({ queue: true }, message);
  });
}

/** Puts runs back on the queue whose worker gave no sign of life, or whose job was lost with one. */
async function takeUpLostRuns(database: Database, leaseMs: number, log: Logger): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ id: number; kind: string; detail: { ofRun?: number } }>(
      `update run set lease_until = now() + $1::interval, lease_by = null
       where (state = 'running' and lease_until < now()) or (state = 'queued' and coalesce(lease_until, created_at + $1::interval) < now())
       returning id, kind, detail`,
      [`${leaseMs} milliseconds`],
    );
    for (const { id, kind, detail } of rows) {
      const task = kind === 'scan' ? (detail.ofRun ? 'checkDuplicates' : 'scanDuplicates') : TASK_OF_KIND[kind];
      if (!task) continue;
      log.warn({ runId: id, task }, 'a run without a worker goes on');
      await enqueueRun(tx, task, id);
    }
  });
}

/** Sums up the kept counts: what many transactions added becomes one row for each label again. */
async function sumUpTallies(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ ours: boolean }>('select pg_try_advisory_xact_lock(4311) as ours');
    if (!rows[0]?.ours) return;
    await tx.client.query(
      `with many as (select 1 from tally group by kind, label, who having count(*) > 1 limit 1),
            gone as (delete from tally where exists (select 1 from many) returning kind, label, who, n)
       insert into tally (kind, label, who, n) select kind, label, who, sum(n)::int from gone group by 1, 2, 3 having sum(n) <> 0`,
    );
  });
}

/** Starts a worker on a database; several may share one. */
export async function startWorker(
  config: Config,
  threadFile: (name: 'match-thread' | 'import-thread') => string,
): Promise<WorkerHandle> {
  const log = createLogger('worker', config.logLevel);
  const database = connect(config.databaseUrl, log, 8);
  const holder = randomUUID();
  const pool = (name: 'match-thread' | 'import-thread', idleTimeout: number) =>
    new Piscina({
      filename: threadFile(name),
      minThreads: 0,
      maxThreads: 1,
      idleTimeout,
      resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MB },
    });
  const matching = pool('match-thread', 10_000);
  // Who brings a file in often brings the next; a thread whose code has run before does it in three quarters of the time.
  let importing = pool('import-thread', 300_000);
  let imports = 0;
  /** Lets the kept thread go, whose memory a scan needs, unless it is at work. */
  const letImportingGo = async () => {
    if (imports > 0) return;
    const kept = importing;
    importing = pool('import-thread', 300_000);
    await kept.destroy();
  };
  const task = (work: RunJob) => runTask(database, holder, config.leaseMs, log, work);
  const importTask = task((db, lease, leaseMs) => {
    imports++;
    return importFile(db, importing, config.databaseUrl, lease, leaseMs).finally(() => imports--);
  });
  const placeTextsLeft = () =>
    placeLeftTexts(database).catch((error: unknown) => log.warn({ err: error }, 'placing search texts failed'));
  const runner: Runner = await runWorker({
    pgPool: database.pool,
    concurrency: 2,
    noHandleSignals: true,
    parsedCronItems: [],
    logger: queueLogger(log),
    pollInterval: 1000,
    taskList: {
      importFile: async (payload, helpers) => {
        await importTask(payload, helpers);
        await placeTextsLeft();
      },
      tryImport: task(tryImport),
      undoRun: task(undoLargeRun),
      changeMany: task(changeMany),
      mergeCertain: task(mergeCertain),
      syncConnection: task((db, lease, leaseMs) => syncConnection(config, db, lease, leaseMs)),
      checkDuplicates: task(checkDuplicates),
      scanDuplicates: task(async (db, lease, leaseMs) => {
        await letImportingGo();
        await scanDuplicates(db, matching, config.databaseUrl, lease, leaseMs);
      }),
    },
  });
  const sweep = () =>
    takeUpLostRuns(database, config.leaseMs, log)
      .then(() => sumUpTallies(database))
      .then(() => startDueSyncs(database))
      .then(placeTextsLeft)
      .catch((error: unknown) => log.warn({ err: error }, 'looking for lost runs failed'));
  await sweep();
  const timer = setInterval(() => void sweep(), config.leaseMs / 2);
  log.info('ready');
  return {
    stop: async () => {
      clearInterval(timer);
      await runner.stop();
      await Promise.all([matching.destroy(), importing.destroy()]);
      await database.pool.end();
    },
  };
}
