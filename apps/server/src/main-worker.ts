import { readConfig } from './config';
import { startWorker } from './worker';

const worker = await startWorker(readConfig(process.env), (name) => new URL(`./${name}.js`, import.meta.url).href);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void worker.stop().then(() => process.exit(0)));
