import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** A process that is told from any other that has its number later. */
export interface KnownProcess {
  pid: number;
  /** When it began, in words of the system. */
  began: string;
}

/** When a process began; null where there is none of that number. */
function beganAt(pid: number): string | null {
  try {
    // The name of the program, in brackets, may hold anything; the 22nd field is the start (proc(5)).
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)?.split(' ');
    return fields?.[0] === 'Z' ? null : (fields?.[19] ?? null);
  } catch {
    const told = spawnSync('ps', ['-o', 'lstart=', '-p', String(pid)], { encoding: 'utf8' });
    return told.stdout?.trim() || null;
  }
}

/** The command of a process, with its arguments; empty where it cannot be read. */
export function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return spawnSync('ps', ['-o', 'args=', '-p', String(pid)], { encoding: 'utf8' }).stdout?.trim() ?? '';
  }
}

/** A process of this number as it is now; null where there is none. */
export function processOf(pid: number): KnownProcess | null {
  const began = beganAt(pid);
  return began === null ? null : { pid, began };
}

export const isAlive = ({ pid, began }: KnownProcess): boolean => beganAt(pid) === began;

const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Waits until a process is gone; whether it is. */
export async function isGoneWithin(known: KnownProcess, ms: number): Promise<boolean> {
  for (const endMs = Date.now() + ms; isAlive(known); await wait(50)) if (Date.now() > endMs) return false;
  return true;
}

/** Ends a process: asks first, then forces it. Nothing happens where it has ended, though another has its number. */
export async function endProcess(known: KnownProcess, graceMs: number): Promise<void> {
  for (const [signal, ms] of [
    ['SIGTERM', graceMs],
    ['SIGKILL', 5000],
  ] as const) {
    if (!isAlive(known)) return;
    try {
      process.kill(known.pid, signal);
    } catch {
      // It ended in this very moment.
    }
    if (await isGoneWithin(known, ms)) return;
  }
}
