import { existsSync, linkSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { commandOf, endProcess, isAlive, processOf, type KnownProcess } from './processes';

export interface Place {
  host: string;
  port: number;
}

export const PROGRAMS = ['stand-ins', 'server', 'worker'] as const;
export type Program = (typeof PROGRAMS)[number];

/** What runs on a data folder, as its starter keeps it for whoever comes next. */
export interface Running extends Place, KnownProcess {
  /** The programs that it started. */
  programs: Partial<Record<Program, KnownProcess>>;
  /** Whether the database is its own. */
  ownsDatabase: boolean;
}

/** Readable by its owner alone. */
const OWN = 0o600;
const END_MS = 10_000;

/** The note of what runs on a data folder. It is written whole or not at all, and by one starter at a time. */
export class RunningNote {
  private readonly file: string;
  private own: Running | null = null;

  constructor(private readonly data: string) {
    this.file = join(data, 'running.json');
  }

  /** What was noted last, alive or not; null where nothing that can be read is there. */
  read(): Running | null {
    if (!existsSync(this.file)) return null;
    try {
      const read = JSON.parse(readFileSync(this.file, 'utf8')) as Partial<Running>;
      if (typeof read.pid !== 'number' || typeof read.began !== 'string') return null;
      return { host: '127.0.0.1', port: 0, programs: {}, ownsDatabase: true, ...read } as Running;
    } catch {
      return null;
    }
  }

  /** The starter that is at work; null where it has ended, though another process may have its number. */
  starter(): Running | null {
    const noted = this.read();
    return noted && isAlive(noted) ? noted : null;
  }

  /** Takes the folder for this process. False where another starter was quicker. */
  take(place: Place, ownsDatabase: boolean): boolean {
    mkdirSync(this.data, { recursive: true });
    if (this.starter()) return false;
    const self = processOf(process.pid);
    if (!self) throw new Error('this process cannot be found among those of the system');
    this.own = { ...self, ...place, programs: {}, ownsDatabase };
    rmSync(this.file, { force: true });
    const draft = this.draft();
    try {
      // Of two starters that come at once only one can make the file.
      linkSync(draft, this.file);
      return true;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      return false;
    } finally {
      rmSync(draft, { force: true });
    }
  }

  /** Notes a program that was started. */
  note(program: Program, pid: number): void {
    const known = processOf(pid);
    if (!this.own || !known) return;
    this.own.programs[program] = known;
    renameSync(this.draft(), this.file);
  }

  /** Gives the folder back. */
  drop(): void {
    rmSync(this.file, { force: true });
  }

  private draft(): string {
    const draft = `${this.file}.${process.pid}`;
    writeFileSync(draft, JSON.stringify(this.own), { mode: OWN });
    return draft;
  }
}

/** Ends programs that outlived their starter. What is not one of ours by its start and its command is left alone. */
export async function endLeftovers({ programs }: Running): Promise<Program[]> {
  const left = PROGRAMS.flatMap((name) => {
    const known = programs[name];
    return known && isAlive(known) && commandOf(known.pid).includes(`${name}.js`) ? [{ name, known }] : [];
  });
  await Promise.all(left.map(({ known }) => endProcess(known, END_MS)));
  return left.map(({ name }) => name);
}
