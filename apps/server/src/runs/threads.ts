import { Piscina } from 'piscina';

export interface ThreadLimits {
  heapMb: number;
  youngMb?: number;
  idleMs: number;
}

/** Threads that the work of a run computes in, one for each name, kept for the next run until they idle too long. */
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
