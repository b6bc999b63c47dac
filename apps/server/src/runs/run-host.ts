import type { RunSize, RunWork } from './kind';
import type { Lease } from './lease';
import { outcomeOf, Threads } from './threads';

export interface RunTask {
  lease: Lease;
  leaseMs: number;
  /** Only ends the run, which did not hear that it was to stop. */
  endStopped: boolean;
  /** Folder of the built threads. */
  threads: string;
}

export type RunEnd = 'ended' | 'leaseLost';

/** Short work has a thread of its own. */
const threadName = ({ thread }: Pick<RunWork, 'thread'>, size: RunSize) =>
  size === 'short' ? `${thread.name}, short` : thread.name;

/** The threads of a worker that do the work of runs, one for each name that kinds of run give. */
export class RunHost {
  private readonly threads: Threads;
  /** The runs that have a thread, or wait for it, by the name of the thread. */
  private readonly busy = new Map<string, number[]>();

  constructor(private readonly threadFile: (name: string) => string) {
    this.threads = new Threads(() => threadFile('run-thread'));
  }

  /** The run that has the thread for a run's work; null where it is free. */
  busyWith(work: Pick<RunWork, 'thread'>, size: RunSize): number | null {
    return this.busy.get(threadName(work, size))?.[0] ?? null;
  }

  /** Does work in its thread. `signal` ends the thread, with everything that it was about. */
  async work(
    work: Pick<RunWork, 'thread' | 'letsGo'>,
    size: RunSize,
    task: Omit<RunTask, 'threads'>,
    signal: AbortSignal,
  ): Promise<RunEnd> {
    const { name: _name, ...limits } = work.thread;
    const { letsGo } = work;
    const name = threadName(work, size);
    // Its memory is needed, unless it is at work.
    if (letsGo && !this.busy.get(letsGo)?.length) await this.threads.close(letsGo);
    const { runId } = task.lease;
    this.busy.set(name, [...(this.busy.get(name) ?? []), runId]);
    try {
      const asked: RunTask = { ...task, threads: new URL('.', this.threadFile('run-thread')).href };
      return await outcomeOf<RunEnd>(this.threads.get(name, limits).run(asked, { signal }));
    } finally {
      const left = [...(this.busy.get(name) ?? [])];
      left.splice(left.indexOf(runId), 1);
      this.busy.set(name, left);
    }
  }

  close(): Promise<void> {
    return this.threads.close();
  }
}
