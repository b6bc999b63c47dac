import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const NAME = /^gray-loom-(\d+)-/;

export interface TempFolder {
  path: string;
  drop(): void;
}

/** A folder for files on their way, named after the process that it is for; whoever makes it drops it. */
export function makeTempFolder(what: 'zip' | 'sheet'): TempFolder {
  const path = mkdtempSync(join(tmpdir(), `gray-loom-${process.pid}-${what}-`));
  return { path, drop: () => rmSync(path, { recursive: true, force: true }) };
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // Another user's process cannot be asked, but is there.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Drops the folders of processes that were killed before they could. */
export function sweepTempFolders(): void {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(NAME.exec(name)?.[1] ?? 0);
    if (pid && !isRunning(pid)) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
}
