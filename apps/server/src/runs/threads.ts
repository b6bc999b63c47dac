import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { codeOf } from '../db/error-code';

export interface ThreadLimits {
  heapMb: number;
  youngMb?: number;
  idleMs: number;
}

/** Threads for heavy work, one for each name, kept for the next until they idle too long. */
export class Threads {
  private readonly pools = new Map<string, Piscina>();

  /** Where the built threads lie. */
  constructor(private readonly fileOf: (name: string) => string) {}

  get(name: string, { heapMb, youngMb, idleMs }: ThreadLimits): Piscina {
    const pool =
      this.pools.get(name) ??
      new Piscina({
        filename: this.fileOf(name),
        minThreads: 0,
        maxThreads: 1,
        idleTimeout: idleMs,
        // What this process was told, whoever told it.
        env: process.env,
        resourceLimits: {
          maxOldGenerationSizeMb: heapMb,
          ...(youngMb ? { maxYoungGenerationSizeMb: youngMb } : {}),
        },
      });
    this.pools.set(name, pool);
    return pool;
  }

  /** Lets a thread go that is not wanted any more. */
  async close(name?: string): Promise<void> {
    const closing = name === undefined ? [...this.pools.keys()] : this.pools.has(name) ? [name] : [];
    await Promise.all(
      closing.map((one) => {
        const pool = this.pools.get(one);
        this.pools.delete(one);
        return pool?.destroy();
      }),
    );
  }
}

/** What a failure says, as plain data: an error that leaves a thread keeps its words and loses everything else. */
interface FailureFacts {
  message: string;
  stack: string | undefined;
  code: string | undefined;
  retryable: boolean | undefined;
}

type Outcome<T> = { done: T } | { failed: FailureFacts };

function factsOf(error: unknown): FailureFacts {
  const { message, stack, retryable } = error as Partial<FailureFacts>;
  return {
    message: message ?? String(error),
    stack,
    code: codeOf(error),
    retryable: typeof retryable === 'boolean' ? retryable : undefined,
  };
}

/** A failure in a thread, with its code. */
class ThreadFailure extends Error {
  readonly code: string | undefined;
  readonly retryable: boolean | undefined;

  constructor({ message, stack, code, retryable }: FailureFacts) {
    super(message);
    if (stack) this.stack = stack;
    this.code = code;
    this.retryable = retryable;
  }
}

/** The work of a thread, such that whoever asked is told the code of what went wrong. */
export const inThread =
  <A, T>(work: (task: A) => Promise<T>) =>
  (task: A): Promise<Outcome<T>> =>
    work(task).then(
      (done) => ({ done }),
      (error: unknown) => ({ failed: factsOf(error) }),
    );

/** What a thread's work gave; throws what went wrong in it. */
export async function outcomeOf<T>(running: Promise<unknown>): Promise<T> {
  const outcome = (await running) as Outcome<T>;
  if ('failed' in outcome) throw new ThreadFailure(outcome.failed);
  return outcome.done;
}

/** Built threads lie beside the built server; where the server runs from its sources, in the build folder. */
function builtThread(name: string): string {
  const beside = join(dirname(fileURLToPath(import.meta.url)), `${name}.js`);
  return existsSync(beside) ? beside : join(process.env.GRAY_LOOM_ROOT ?? process.cwd(), '.build', `${name}.js`);
}

const ofRequests = new Threads(builtThread);

/** A thread for heavy work of a request. */
export const requestThread = (name: string, heapMb: number): Piscina => ofRequests.get(name, { heapMb, idleMs: 5000 });
