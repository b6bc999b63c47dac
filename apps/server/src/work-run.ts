import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { readConfig, type Config } from './config';
import type { Database } from './db/connect';
import { createLogger } from './log';
import { runKinds } from './run-kinds';
import type { RunRow } from './runs/kind';
import { workHere } from './runs/work-here';

/** Where the built threads and programs lie. */
function built(name: string): string {
  const path = join(process.env.GRAY_LOOM_ROOT ?? process.cwd(), '.build', `${name}.js`);
  if (!existsSync(path)) throw new Error(`${path} is not built; run ./start, ./test or ./loom first`);
  return pathToFileURL(path).href;
}

/**
 * Does the work of a run in this process, as a worker would; null where a worker has it. `settings` are those that differ from the
 * surroundings.
 */
export async function workRun(
  database: Database,
  runId: number,
  settings: Partial<Config> & Pick<Config, 'databaseUrl'>,
): Promise<RunRow | null> {
  const config = { ...readConfig({ ...process.env, DATABASE_URL: settings.databaseUrl }), ...settings };
  const log = createLogger('here', process.env.GRAY_LOOM_LOG ?? 'silent');
  return workHere({ database, config, log, kinds: runKinds, threadFile: built }, runId, config.leaseMs);
}
