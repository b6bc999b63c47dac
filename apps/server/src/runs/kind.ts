import type { Config } from '../config';
import type { Database, Tx } from '../db/connect';
import type { run } from '../db/schema';
import type { Logger } from '../log';
import type { Lease } from './lease';
import type { Threads, ThreadLimits } from './threads';

export type RunRow = typeof run.$inferSelect;

/** What of a run a sentence about it is made of. */
export type ToldRun = Pick<RunRow, 'title' | 'counts' | 'state'>;

/** Everything that the work of a run is given. */
export interface RunContext {
  /** In the name of whoever started the run. */
  database: Database;
  config: Config;
  log: Logger;
  /** As it was when the work was taken up. */
  run: RunRow;
  lease: Lease;
  leaseMs: number;
  /** Further threads for its computing. */
  threads: Threads;
}

/** A run that is taken back, or whose undo is taken back (`kind` is then 'undo', and `undoOf` the run). */
export interface UndoTarget {
  id: number;
  kind: string;
  undoOf: number | null;
}

/** Short work has a slot of its own, so that it never waits behind long work. */
export type RunSize = 'short' | 'long';

/** Runs of each size that a worker has at work beside each other. */
export const SLOTS: Record<RunSize, number> = { short: 1, long: 2 };

/** Work that a worker does for a run, in a thread with a limit of memory. */
export interface RunWork {
  size(detail: Record<string, unknown>): RunSize;
  /** Kinds that share a thread do not work at once, save short ones beside long ones. It is kept warm for a while after its work. */
  thread: ThreadLimits & { name: string };
  /** Other threads whose memory it needs; they are let go when they are idle. */
  letsGo?: string;
  /** Whether it can wait at its marker and go on from there. */
  pauses: boolean;
  /**
   * Whether it may be stopped: whatever it computes (its thread is ended, and what is under way rolled back), only where it looks
   * by itself, or not at all.
   */
  stops: 'anytime' | 'atMarker' | 'never';
  /** How often work that failed for a passing reason (a lost connection, a timeout) is taken up again. */
  retries: number;
  /** Does the work from the run's marker on, and ends the run in its last transaction. */
  do(context: RunContext): Promise<void>;
  /** Ends a run whose thread was ended because it did not hear Stop; by default it is only marked as stopped. */
  endStopped?(context: RunContext): Promise<void>;
}

/** A kind of run: everything that the worker, the tape, the ledger, take-over after a crash and undo need to know of it. */
export interface RunKind {
  kind: string;
  /** What the ledger calls many of them. */
  name: string;
  /** What one did, in a sentence. */
  sentence(run: ToldRun): string;
  /** What is said before its title while it works. */
  doing?: string;
  /** Whether its values go back by their operations; what else hangs on it goes back by `also`. */
  undo: { also?(tx: Tx, target: UndoTarget): Promise<void> } | null;
  /** Writes nothing that anybody would want to see at the tape's end. */
  quiet?: boolean;
  /** Null where the run is over with the request that makes it. */
  work: RunWork | null;
}

/** Something that is done by the clock, by whichever worker comes first. */
export interface Timetable {
  name: string;
  /** As cron writes it, in UTC. */
  pattern: string;
  /** Takes minutes in a large book, so that it has a place of its own. */
  isLong?: boolean;
  work(database: Database): Promise<unknown>;
}

/** The kinds of run that there are. */
export class RunKinds {
  private readonly byKind: ReadonlyMap<string, RunKind>;

  constructor(readonly all: readonly RunKind[]) {
    this.byKind = new Map(all.map((one) => [one.kind, one]));
    if (this.byKind.size !== all.length) throw new Error('a kind of run is declared twice');
  }

  find(kind: string): RunKind | undefined {
    return this.byKind.get(kind);
  }

  sizeOf({ kind, detail }: { kind: string; detail: Record<string, unknown> }): RunSize {
    return this.find(kind)?.work?.size(detail) ?? 'short';
  }

  /** Those of which something is true, by name. */
  which(test: (kind: RunKind) => boolean): string[] {
    return this.all.filter(test).map(({ kind }) => kind);
  }

  sentence(run: ToldRun & { kind: string; error: string | null; progress: { done: number } }): string {
    const { title, state, error, progress } = run;
    if (state === 'queued') return `${title} waits its turn`;
    if (state === 'failed') return `${title} failed: ${error ?? 'no reason kept'}`;
    if (state === 'paused')
      return run.kind === 'sync'
        ? `${title} waits for a decision`
        : `${title} waits at row ${progress.done.toLocaleString('en')}`;
    return this.find(run.kind)?.sentence(run) ?? title;
  }
}

/** What is added to a sentence about a run that was stopped. */
export const ifStopped = ({ state }: ToldRun) => (state === 'stopped' ? ', stopped' : '');
