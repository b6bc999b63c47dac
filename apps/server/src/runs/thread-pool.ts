import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';

/**
 * A thread for heavy work of the server, started when it is first wanted and gone when it idles. It lies beside the built
 * server; where the server runs from its sources, in the build folder.
 */
export function threadPool(name: string, heapMb: number): () => Piscina {
  let pool: Piscina | null = null;
  return () => {
    if (pool) return pool;
    const beside = join(dirname(fileURLToPath(import.meta.url)), `${name}.js`);
    pool = new Piscina({
      filename: existsSync(beside) ? beside : join(process.env.GRAY_LOOM_ROOT ?? process.cwd(), '.build', `${name}.js`),
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: 5000,
      resourceLimits: { maxOldGenerationSizeMb: heapMb },
    });
    return pool;
  };
}
