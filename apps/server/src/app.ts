import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { serveStatic } from '@hono/node-server/serve-static';
import { Hono } from 'hono';
import { secureHeaders } from 'hono/secure-headers';
import type { Database } from './db/connect';
import { identify } from './features/people/session-routes';
import { connectionOf } from './http/connection';
import type { Route } from './http/declare';
import { openApiOf } from './http/openapi';
import { answerError, POLICY } from './http/problem';
import { refuse } from './http/refusals';
import { serveRoutes } from './http/serve-routes';
import type { Surroundings } from './http/services';
import { allRoutes } from './routes';

const YEAR_S = 31_536_000;

export interface AppOptions extends Surroundings {
  database: Database;
  /** Routes to answer; all of the server's where nothing else is said. */
  routes?: readonly Route[];
  /** Hears every JSON answer before it is sent. */
  answered?(route: Route, body: unknown): void;
}

/** The web application: the declared routes under /api, the built client beside them. */
export function createApp({ database, answered, routes, ...surroundings }: AppOptions): Hono {
  const { config, log } = surroundings;
  const app = new Hono();
  // Around what holds for pages: a file that is handed out says what may be done with it.
  app.use('/api/*', async (c, next) => {
    await next();
    const policy: unknown = c.get(POLICY as never);
    if (typeof policy === 'string') c.header('Content-Security-Policy', policy);
  });
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:'],
        fontSrc: ["'self'", 'data:'],
        frameAncestors: ["'none'"],
      },
      strictTransportSecurity: false,
    }),
  );
  // Once reached by https, a browser asks by nothing else.
  app.use(async (c, next) => {
    await next();
    if (connectionOf(c, config).isSecure) c.header('Strict-Transport-Security', `max-age=${YEAR_S}`);
  });
  // Browsers name the origin of every request that changes something; one from another page is refused.
  app.use('/api/*', async (c, next) => {
    const origin = c.req.header('origin');
    if (origin && hostOf(origin) !== connectionOf(c, config).host) throw refuse.foreignOrigin();
    await next();
  });
  app.onError((error, c) => answerError(error, c, log));

  const declared = serveRoutes(routes ?? allRoutes(surroundings), {
    database,
    identify: (context) => identify(database, context),
    ...(answered ? { answered } : {}),
  });
  let described: Promise<object> | null = null;
  app.get('/api/openapi.json', async (c) => c.json(await (described ??= openApiOf(declared, config.version))));
  app.route('/api', declared);
  app.all('/api/*', () => {
    throw refuse.noSuchThing();
  });

  if (config.webDir) {
    const root = config.webDir;
    app.use(
      '/assets/*',
      serveStatic({ root, onFound: (_path, c) => c.header('Cache-Control', 'public, max-age=31536000, immutable') }),
    );
    app.use('/*', serveStatic({ root }));
    app.get('*', async (c) => c.html(await readFile(join(root, 'index.html'), 'utf8')));
  }
  return app;
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
