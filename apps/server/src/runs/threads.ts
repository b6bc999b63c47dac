import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';

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

/** Built threads lie beside the built server; where the server runs from its sources, in the build folder. */
function builtThread(name: string): string {
  const beside = join(dirname(fileURLToPath(import.meta.url)), `${name}.js`);
  return existsSync(beside) ? beside : join(process.env.GRAY_LOOM_ROOT ?? process.cwd(), '.build', `${name}.js`);
}

const ofRequests = new Threads(builtThread);

/** A thread for heavy work of a request. */
export const requestThread = (name: string, heapMb: number): Piscina => ofRequests.get(name, { heapMb, idleMs: 5000 });
