import { Hono } from 'hono';
import { stream } from 'hono/streaming';
import { number, object, string } from 'yup';
import { ToolTrouble } from '@gray-loom/core/syncing';
import {
  connectionChangeSchema,
  connectionSchema,
  connectionTestSchema,
  pairSchema,
  settleSchema,
  syncChoiceSchema,
  syncRunSchema,
  type ConnectionChange,
  type PairRequest,
  type SyncChoiceRequest,
} from '@gray-loom/wire';
import { Problem } from '../../http/problem';
import {
  changeConnection,
  chooseContact,
  connectionDetail,
  listConnections,
  makeConnection,
  refreshCapabilities,
  releaseBrake,
  runConnection,
  testConnection,
} from './connections';
import { goOn } from '../../runs/runs';
import { listConflicts } from './sync-conflicts';
import { settleConflict } from './sync-settle';
import { contactSyncs, lookAtPair, syncChanges, syncReport } from './sync-report';
import { body, idOf, query, type AppEnv, type Services } from '../../http/context';

const changesQuery = object({
  after: number().integer().min(0).default(0),
  limit: number().integer().min(1).max(500).default(100),
  side: string().oneOf(['', 'here', 'there']).default(''),
  kind: string().max(20).default(''),
});

/** Trouble of the other side as a refusal that says what it is. */
async function troubled<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof ToolTrouble) throw new Problem(409, `tool.${error.kind}`, error.message);
    throw error;
  }
}

export function syncRoutes({ database, config }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const services = { database, secretKey: config.secretKey, standIns: config.standIns, country: config.country };

  routes.get('/connections', async (c) => c.json(await listConnections(database)));
  routes.post('/connections/test', async (c) =>
    c.json(await troubled(testConnection(services, await body(c, connectionTestSchema)))),
  );
  routes.post('/connections', async (c) =>
    c.json(await troubled(makeConnection(services, await body(c, connectionSchema))), 201),
  );
  routes.get('/connections/:id', async (c) => c.json(await connectionDetail(database, idOf(c, 'id'))));
  routes.patch('/connections/:id', async (c) => {
    await troubled(
      changeConnection(services, idOf(c, 'id'), (await body(c, connectionChangeSchema)) as ConnectionChange),
    );
    return c.json(await connectionDetail(database, idOf(c, 'id')));
  });
  routes.post('/connections/:id/refresh', async (c) => {
    await troubled(refreshCapabilities(services, idOf(c, 'id')));
    return c.json(await connectionDetail(database, idOf(c, 'id')));
  });
  routes.post('/connections/:id/run', async (c) =>
    c.json(await runConnection(database, idOf(c, 'id'), await body(c, syncRunSchema), c.get('actor').accountId)),
  );
  routes.post('/connections/:id/pair', async (c) =>
    c.json(await troubled(lookAtPair(services, idOf(c, 'id'), (await body(c, pairSchema)) as PairRequest))),
  );
  routes.post('/sync-runs/:id/release', async (c) => {
    await releaseBrake(database, idOf(c, 'id'));
    return c.json({ goesOn: await goOn(database, idOf(c, 'id')) });
  });
  routes.get('/sync-runs/:id/changes', async (c) =>
    c.json(await syncChanges(database, idOf(c, 'id'), await query(c, changesQuery))),
  );
  routes.get('/sync-runs/:id/report', (c) => {
    const id = idOf(c, 'id');
    c.header('Content-Type', 'text/csv; charset=utf-8');
    c.header('Content-Disposition', `attachment; filename="sync-run-${id}.csv"`);
    return stream(c, async (out) => {
      for await (const line of syncReport(database, id)) await out.write(line);
    });
  });
  routes.get('/conflicts', async (c) => c.json(await listConflicts(database)));
  routes.post('/conflicts/:key/settle', async (c) => {
    await troubled(settleConflict(services, c.req.param('key'), await body(c, settleSchema), c.get('actor').accountId));
    return c.json({ settled: true });
  });
  routes.get('/contacts/:id/syncs', async (c) => c.json(await contactSyncs(database, idOf(c, 'id'), config.country)));
  routes.put('/contacts/:id/syncs/:connection', async (c) => {
    const { choice } = (await body(c, syncChoiceSchema)) as SyncChoiceRequest;
    await chooseContact(database, idOf(c, 'connection'), idOf(c, 'id'), choice);
    return c.json(await contactSyncs(database, idOf(c, 'id'), config.country));
  });
  routes.post('/contacts/:id/syncs/:connection/send', async (c) => {
    const [contactId, connectionId] = [idOf(c, 'id'), idOf(c, 'connection')];
    await chooseContact(database, connectionId, contactId, 'send');
    return c.json(
      await runConnection(database, connectionId, { trial: false, only: [contactId] }, c.get('actor').accountId),
    );
  });
  return routes;
}
