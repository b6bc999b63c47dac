import { spawn, type ChildProcess } from 'node:child_process';
import { copyFileSync, existsSync, renameSync, statSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { NODE_FLAGS, WORKER_FLAGS } from './node-flags';
import type { ClusterWatch } from './postgres';
import type { Program, RunningNote } from './running';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();

/** Pauses before a new try grow from the first to the longest; after a time without trouble they begin anew. */
const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 10_000;
const WITHOUT_TROUBLE_MS = 30_000;

/** How long to wait before each new try. */
class GrowingPause {
  private nextMs = FIRST_PAUSE_MS;
  private triedMs = Date.now();

  take(): number {
    if (Date.now() - this.triedMs > WITHOUT_TROUBLE_MS) this.nextMs = FIRST_PAUSE_MS;
    const pauseMs = this.nextMs;
    this.nextMs = Math.min(LONGEST_PAUSE_MS, pauseMs * 2);
    this.triedMs = Date.now() + pauseMs;
    return pauseMs;
  }
}

export interface Kept {
  stop(): Promise<void>;
}

const STOP_MS = 10_000;

/** Keeps a program running; starts it again when it dies unasked, more slowly each time. */
export function keepProgram(name: Program, env: NodeJS.ProcessEnv, log: number, note: RunningNote): Kept {
  let child: ChildProcess | null = null;
  let again: NodeJS.Timeout | null = null;
  let stopping = false;
  const pause = new GrowingPause();
  const start = () => {
    child = spawn(
      process.execPath,
      [...NODE_FLAGS, ...(name === 'worker' ? WORKER_FLAGS : []), join(ROOT, '.build', `${name}.js`)],
      { env, cwd: ROOT, stdio: ['ignore', log, log] },
    );
    if (child.pid) note.note(name, child.pid);
    child.once('exit', () => {
      if (!stopping) again = setTimeout(start, pause.take());
    });
  };
  start();
  return {
    stop: async () => {
      stopping = true;
      if (again) clearTimeout(again);
      const own = child;
      if (!own || own.exitCode !== null || own.signalCode !== null) return;
      const ended = new Promise((done) => own.once('exit', done));
      own.kill('SIGTERM');
      const hard = setTimeout(() => own.kill('SIGKILL'), STOP_MS);
      await ended;
      clearTimeout(hard);
    },
  };
}

const LOOK_MS = 500;

/** Keeps the database running, at its place; programs find it again by themselves. */
export function keepDatabase(watch: ClusterWatch, say: (text: string) => void): Kept {
  let stopping = false;
  let wake = () => undefined as void;
  const wait = (ms: number) =>
    new Promise<void>((done) => {
      const timer = setTimeout(done, ms);
      wake = () => {
        clearTimeout(timer);
        done();
      };
    });
  const pause = new GrowingPause();
  const loop = (async () => {
    while (!stopping) {
      await wait(LOOK_MS);
      if (stopping || watch.isRunning()) continue;
      say('The database has ended; it is started again.');
      try {
        await watch.startAgain();
      } catch (error) {
        say(`${(error as Error).message} It is tried again.`);
        await wait(pause.take());
      }
    }
  })();
  return {
    stop: async () => {
      stopping = true;
      wake();
      await loop;
    },
  };
}

const MOST_BYTES = 10 * 1024 * 1024;
const KEPT_LOGS = 4;

/** Begins a log anew when it has grown large, and keeps the last ones beside it. Whoever appends to it goes on doing so. */
export function rotate(file: string, mostBytes = MOST_BYTES): void {
  if (!existsSync(file) || statSync(file).size < mostBytes) return;
  for (let i = KEPT_LOGS - 1; i >= 1; i--)
    if (existsSync(`${file}.${i}`)) renameSync(`${file}.${i}`, `${file}.${i + 1}`);
  copyFileSync(file, `${file}.1`);
  truncateSync(file);
}

const ROTATE_MS = 60_000;

export function keepLogsSmall(files: readonly string[], say: (text: string) => void): Kept {
  const look = () => {
    for (const file of files)
      try {
        rotate(file);
      } catch (error) {
        say(`${file} cannot be begun anew: ${(error as Error).message}`);
      }
  };
  look();
  const timer = setInterval(look, ROTATE_MS);
  return {
    stop: () => {
      clearInterval(timer);
      return Promise.resolve();
    },
  };
}
