import { randomUUID } from 'node:crypto';
import type { Database } from '../db/connect';
import { inTransaction } from '../db/connect';
import { codeOf } from '../db/error-code';
import { outOfRoom } from '../db/out-of-room';
import type { Logger } from '../log';
import type { RunKinds, RunSize, RunWork } from './kind';
import { keepAlive, takeLease, type Lease } from './lease';
import { isPassing, passingWords, pauseBefore } from './retry';
import type { RunHost } from './run-host';
import { failRun, finishRun, putBack, requireRun, stopIsAsked, waitForThread } from './runs';

const ASK_MS = 500;
/** A run that was told to stop has so long to come to its marker; then its thread is ended. */
const STOP_GRACE_MS = 1500;

/** Ends a thread whose run was told to stop and does not come to a marker at which it would hear it. */
class StopWatch {
  private readonly abort = new AbortController();
  private askedAt: number | null = null;
  private readonly timer: NodeJS.Timeout;
  isForced = false;

  constructor(database: Database, runId: number, stops: boolean) {
    this.timer = setInterval(() => {
      if (!stops || this.isForced) return;
      stopIsAsked(database, runId).then(
        (asked) => {
          if (!asked) return;
          this.askedAt ??= Date.now();
          if (Date.now() - this.askedAt < STOP_GRACE_MS) return;
          this.isForced = true;
          this.abort.abort();
        },
        // Asked again in a moment; the work itself tells when the database stays away.
        () => undefined,
      );
    }, ASK_MS);
  }

  get signal(): AbortSignal {
    return this.abort.signal;
  }

  end(): void {
    clearInterval(this.timer);
  }
}

interface Hosted {
  database: Database;
  kinds: RunKinds;
  host: RunHost;
  log: Logger;
  holder: string;
  leaseMs: number;
}

/** Works on a run: takes it, does its work in a thread, keeps the lease meanwhile, and says how it ended where the work did not. */
export async function workOnRun(hosted: Hosted, runId: number): Promise<void> {
  const { database, kinds, log, holder, leaseMs } = hosted;
  if (await waitsForThread(hosted, runId)) return;
  // A name of its own for each time: a run that was thought lost and taken up again has one holder, also in one worker.
  const lease = await takeLease(database, runId, `${holder}:${randomUUID()}`, leaseMs);
  if (!lease) return;
  const run = await requireRun(database, runId);
  const work = kinds.find(run.kind)?.work;
  if (!work) return failRun(database, runId, `This version does not know what a run of the kind '${run.kind}' does.`);
  const rest = keepAlive(database, lease, leaseMs, log);
  const watch = new StopWatch(database, runId, work.stops === 'anytime');
  try {
    const size = kinds.sizeOf(run);
    const end = await hosted.host.work(work, size, { lease, leaseMs, endStopped: false }, watch.signal);
    if (end === 'leaseLost') log.warn({ runId }, 'another worker took the run over');
  } catch (error) {
    if (watch.isForced) await endStopped(hosted, work, kinds.sizeOf(run), lease);
    else await endFailed(hosted, work, lease, run.attempts, error);
  } finally {
    watch.end();
    rest();
  }
}

/** Whether another run has the thread; then this one is looked at again in a moment, and its slot is free for others. */
async function waitsForThread({ database, kinds, host, leaseMs }: Hosted, runId: number): Promise<boolean> {
  const run = await requireRun(database, runId);
  const work = kinds.find(run.kind)?.work;
  const busy = work && run.state === 'queued' ? host.busyWith(work, kinds.sizeOf(run)) : null;
  if (busy === null || busy === runId) return false;
  await waitForThread(database, runId, busy, leaseMs);
  return true;
}

/** The thread was ended: what was under way is rolled back, what was written before stands. */
async function endStopped(
  { database, host, leaseMs, log }: Hosted,
  work: RunWork,
  size: RunSize,
  lease: Lease,
): Promise<void> {
  const { state, leaseBy, counts } = await requireRun(database, lease.runId);
  // Its last transaction may have come through just before its thread was ended.
  if (state !== 'running' || leaseBy !== lease.holder) return;
  log.info({ runId: lease.runId }, 'a run was stopped by ending its thread');
  if (work.endStopped) {
    await host.work(work, size, { lease, leaseMs, endStopped: true }, new AbortController().signal);
    return;
  }
  await inTransaction(database, (tx) => finishRun(tx, lease.runId, 'stopped', counts));
}

async function endFailed(
  { database, log }: Hosted,
  work: RunWork,
  lease: Lease,
  attempts: number,
  error: unknown,
): Promise<void> {
  const { runId } = lease;
  const code = codeOf(error);
  const stack = error instanceof Error ? error.stack?.split('\n').slice(1, 6).join('\n') : undefined;
  if (isPassing(error) && attempts < work.retries) {
    const waitMs = pauseBefore(attempts + 1);
    log.warn({ runId, code, waitMs }, 'a run failed for a passing reason and is taken up again');
    await putBack(database, lease, waitMs, passingWords(error));
    return;
  }
  log.error({ runId, code, stack }, 'a run failed');
  await failRun(database, runId, wordsFor(error, attempts));
}

function wordsFor(error: unknown, attempts: number): string {
  const stands = 'What was written before stands';
  const noRoom = outOfRoom(error);
  if (noRoom)
    return `${noRoom} ${stands}, and nothing is half done: make room, then undo the run or bring the file in once more.`;
  if (codeOf(error) === 'ERR_WORKER_OUT_OF_MEMORY')
    return `It took more memory than it may have. ${stands} and can be undone; try it in smaller parts.`;
  if (isPassing(error))
    return `It failed ${attempts + 1} times in a row, at last since ${passingWords(error)}. ${stands}; start it once more when that is mended.`;
  return `Something went wrong inside Gray Loom. ${stands} and can be undone; the log has the details.`;
}
