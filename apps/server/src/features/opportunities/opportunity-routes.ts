import { Hono } from 'hono';
import { opportunityQuerySchema, opportunitySchema, pipelinesSchema, stageMoveSchema } from '@gray-loom/wire';
import { setDeleted } from '../contacts/edit-contact';
import { changeOpportunity, makeOpportunity, moveOpportunity, opportunitiesOf, opportunityPage } from './opportunities';
import { listPipelines, savePipelines } from './pipelines';
import { body, idOf, query, type AppEnv, type Services } from '../../http/context';

/** Opportunities in pipelines, each linked to a contact. */
export function opportunityRoutes({ database }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const actor = (c: { get: (key: 'actor') => { accountId: number } }) => c.get('actor').accountId;

  routes.get('/pipelines', async (c) => c.json(await listPipelines(database)));
  routes.put('/pipelines', async (c) =>
    c.json(await savePipelines(database, await body(c, pipelinesSchema), actor(c))),
  );
  routes.get('/opportunities', async (c) =>
    c.json(await opportunityPage(database, await query(c, opportunityQuerySchema))),
  );
  routes.get('/contacts/:id/opportunities', async (c) => c.json(await opportunitiesOf(database, idOf(c, 'id'))));
  routes.post('/opportunities', async (c) =>
    c.json(await makeOpportunity(database, await body(c, opportunitySchema), actor(c)), 201),
  );
  routes.put('/opportunities/:id', async (c) =>
    c.json(await changeOpportunity(database, idOf(c, 'id'), await body(c, opportunitySchema), actor(c))),
  );
  routes.post('/opportunities/:id/stage', async (c) =>
    c.json(await moveOpportunity(database, idOf(c, 'id'), await body(c, stageMoveSchema), actor(c))),
  );
  routes.delete('/opportunities/:id', async (c) => c.json(await setDeleted(database, idOf(c, 'id'), true, actor(c))));
  return routes;
}
