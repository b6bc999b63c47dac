import { readConfig } from './config';
import { createLogger, logUnawaited } from './log';
import { startWorker } from './worker';

const config = readConfig(process.env);
logUnawaited(createLogger('worker', config.logLevel));
const worker = await startWorker(config, (name) => new URL(`./${name}.js`, import.meta.url).href);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void worker.stop().then(() => process.exit(0)));
