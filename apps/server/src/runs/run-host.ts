import type { RunWork } from './kind';
import type { Lease } from './lease';
import { Threads } from './threads';

export interface RunTask {
  lease: Lease;
  leaseMs: number;
  /** Only ends the run, which did not hear that it was to stop. */
  endStopped: boolean;
  /** Folder of the built threads. */
  threads: string;
}

export type RunEnd = 'ended' | 'leaseLost';

/** The threads of a worker that do the work of runs, one for each name that kinds of run give. */
export class RunHost {
  private readonly threads: Threads;
  private readonly busy = new Map<string, number>();

  constructor(private readonly threadFile: (name: string) => string) {
    this.threads = new Threads(() => threadFile('run-thread'));
  }

  /** Does work in its thread. `signal` ends the thread, with everything that it was about. */
  async work(
    { thread, letsGo }: Pick<RunWork, 'thread' | 'letsGo'>,
    task: Omit<RunTask, 'threads'>,
    signal: AbortSignal,
  ): Promise<RunEnd> {
    const { name, ...limits } = thread;
    // Its memory is needed, unless it is at work.
    if (letsGo && !this.busy.get(letsGo)) await this.threads.close(letsGo);
    this.busy.set(name, (this.busy.get(name) ?? 0) + 1);
    try {
      const asked: RunTask = { ...task, threads: new URL('.', this.threadFile('run-thread')).href };
      return (await this.threads.get(name, limits).run(asked, { signal })) as RunEnd;
    } finally {
      this.busy.set(name, (this.busy.get(name) ?? 1) - 1);
    }
  }

  close(): Promise<void> {
    return this.threads.close();
  }
}
