import type { Config } from '../config';
import { actingAs, type Database } from '../db/connect';
import type { Logger } from '../log';
import type { RunKinds, RunRow } from './kind';
import { takeLease } from './lease';
import { actorOf, requireRun } from './runs';
import { Threads } from './threads';

export interface Here {
  database: Database;
  config: Config;
  log: Logger;
  kinds: RunKinds;
  threadFile(name: string): string;
}

/**
 * Does the work of a run in this process, for commands, the making of demo data and tests. Null where somebody else has it; throws
 * what the work threw, and leaves the run as the work left it.
 */
export async function workHere(
  { database: unnamed, config, log, kinds, threadFile }: Here,
  runId: number,
  leaseMs = config.leaseMs,
): Promise<RunRow | null> {
  const lease = await takeLease(unnamed, runId, `here:${process.pid}`, leaseMs);
  if (!lease) return null;
  const run = await requireRun(unnamed, runId);
  const work = kinds.find(run.kind)?.work;
  if (!work) throw new Error(`a run of the kind '${run.kind}' has no work`);
  const threads = new Threads(threadFile);
  const database = actingAs(unnamed, await actorOf(unnamed, run));
  try {
    await work.do({ database, config, log, run, lease, leaseMs, threads });
  } finally {
    await threads.close();
  }
  return requireRun(unnamed, runId);
}
