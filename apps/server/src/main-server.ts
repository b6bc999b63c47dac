import { readConfig } from './config';
import { createLogger, logUnawaited } from './log';
import { startServer } from './server';

const config = readConfig(process.env);
logUnawaited(createLogger('server', config.logLevel));
const server = await startServer(config);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void server.stop().then(() => process.exit(0)));
