import { readConfig } from './config';
import { actingAs, connect, type Database } from './db/connect';
import { createLogger } from './log';
import { runKinds } from './run-kinds';
import { LeaseLost } from './runs/lease';
import type { RunEnd, RunTask } from './runs/run-host';
import { actorOf, requireRun } from './runs/runs';
import { inThread, Threads } from './runs/threads';

let database: Database | null = null;
/** Kept, with the code that has run in them, for as long as this thread is. */
let kept: Threads | null = null;

/** A thread that does the work of one run at a time; its connections stay for the next. */
async function workOn({ lease, leaseMs, endStopped, threads }: RunTask): Promise<RunEnd> {
  const config = readConfig(process.env);
  const log = createLogger('run', config.logLevel);
  const unnamed = (database ??= connect(config.databaseUrl, log, 6));
  const run = await requireRun(unnamed, lease.runId);
  const work = runKinds.find(run.kind)?.work;
  if (!work) throw new Error(`a run of the kind '${run.kind}' has no work`);
  const context = {
    database: actingAs(unnamed, await actorOf(unnamed, run)),
    config,
    log,
    run,
    lease,
    leaseMs,
    threads: (kept ??= new Threads((name) => new URL(`./${name}.js`, threads).href)),
  };
  try {
    await (endStopped && work.endStopped ? work.endStopped(context) : work.do(context));
    return 'ended';
  } catch (error) {
    if (error instanceof LeaseLost) return 'leaseLost';
    throw error;
  }
}

export default inThread(workOn);
