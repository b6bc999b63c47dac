import { readConfig } from './config';
import { startServer } from './server';

const server = await startServer(readConfig(process.env));
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void server.stop().then(() => process.exit(0)));
