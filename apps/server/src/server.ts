import { serve, type ServerType } from '@hono/node-server';
import { createApp } from './app';
import type { Config } from './config';
import { consumers } from './consumers';
import { connect } from './db/connect';
import { EventHub } from './feed/events';
import { createLogger } from './log';
import { runKinds } from './run-kinds';
import { sweepTempFolders } from './runs/temp-folder';

export interface ServerHandle {
  port: number;
  stop(): Promise<void>;
}

/** Starts the web server on a database that is up to date. */
export async function startServer(config: Config): Promise<ServerHandle> {
  const log = createLogger('server', config.logLevel);
  sweepTempFolders();
  const database = connect(config.databaseUrl, log, 12);
  const events = new EventHub(database, log);
  await events.open();
  const app = createApp({ config, database, events, log, kinds: runKinds, consumers });
  const { server, port } = await new Promise<{ server: ServerType; port: number }>((resolve, reject) => {
    const started = serve({ fetch: app.fetch, port: config.port, hostname: config.host }, (info) =>
      resolve({ server: started, port: info.port }),
    );
    started.once('error', reject);
  });
  log.info({ port }, 'ready');
  return {
    port,
    stop: async () => {
      events.close();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await database.pool.end();
    },
  };
}
