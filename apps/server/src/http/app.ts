import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { serveStatic } from '@hono/node-server/serve-static';
import { Hono } from 'hono';
import { secureHeaders } from 'hono/secure-headers';
import type { ProblemDetails } from '@gray-loom/wire';
import { outOfRoom, Problem } from './problem';
import { contactRoutes } from '../features/contacts/contact-routes';
import { duplicateRoutes } from '../features/duplicates/duplicate-routes';
import { intakeRoutes } from '../features/intake/intake-routes';
import { opportunityRoutes } from '../features/opportunities/opportunity-routes';
import { runRoutes } from '../features/ledger/run-routes';
import { setupRoutes } from '../features/setup/setup-routes';
import { requireSession, sessionRoutes } from '../features/people/session-routes';
import { syncRoutes } from '../features/syncs/sync-routes';
import { callIn } from '../features/syncs/connections';
import type { AppEnv, Services } from './context';

function details(problem: Problem): ProblemDetails {
  const { errors, ...facts } = problem.facts as { errors?: ProblemDetails['errors'] };
  return {
    type: `urn:gray-loom:problem:${problem.code}`,
    title: problem.code,
    status: problem.status,
    detail: problem.message,
    code: problem.code,
    facts,
    ...(errors ? { errors } : {}),
  };
}

/** The web application: the interface under /api, the built client beside it. */
export function createApp(services: Services): Hono<AppEnv> {
  const { config, log } = services;
  const app = new Hono<AppEnv>();
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
  // Browsers name the origin of every request that changes something; one from another page is refused.
  app.use('/api/*', async (c, next) => {
    const origin = c.req.header('origin');
    if (origin && new URL(origin).host !== c.req.header('host'))
      throw new Problem(403, 'foreignOrigin', 'The request comes from another page and was refused.');
    await next();
  });

  app.onError((error, c) => {
    if (error instanceof Problem)
      return c.json(details(error), error.status, { 'Content-Type': 'application/problem+json' });
    log.error({ err: error, path: c.req.path }, 'a request failed');
    const noRoom = outOfRoom(error);
    if (noRoom)
      return c.json(
        details(new Problem(507, 'outOfRoom', `${noRoom} Nothing was changed. Make room, then try again.`)),
        507,
        { 'Content-Type': 'application/problem+json' },
      );
    const status = 500;
    return c.json<ProblemDetails>(
      {
        type: 'urn:gray-loom:problem:internal',
        title: 'internal',
        status,
        code: 'internal',
        detail:
          'Something went wrong inside Gray Loom. Nothing was changed; try again, and look into the log if it stays.',
      },
      status,
      { 'Content-Type': 'application/problem+json' },
    );
  });

  app.route('/api', sessionRoutes(services));
  // The other side calls with an address that nobody else knows, and learns nothing by it.
  app.post('/api/hooks/:hook', async (c) => {
    await callIn(services.database, c.req.param('hook'));
    return c.json({ heard: true });
  });
  app.use('/api/*', requireSession(services));
  app.route('/api', contactRoutes(services));
  app.route('/api', setupRoutes(services));
  app.route('/api', opportunityRoutes(services));
  app.route('/api', intakeRoutes(services));
  app.route('/api', duplicateRoutes(services));
  app.route('/api', syncRoutes(services));
  app.route('/api', runRoutes(services));
  app.all('/api/*', () => {
    throw new Problem(404, 'noSuchThing', 'There is nothing at this address.');
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
