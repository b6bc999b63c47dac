import { Hono } from 'hono';
import {
  addressCompletionSchema,
  areasSchema,
  conversionSchema,
  fieldChangeSchema,
  newFieldSchema,
  newPickSchema,
  pickChangeSchema,
  pickMergeSchema,
  pickOrderSchema,
  type FieldClashes,
  type PickKind,
} from '@gray-loom/wire';
import { Problem } from '../../http/problem';
import { completeAddress, listAreas, saveAreas } from './areas';
import { changeField, convertField, createField, tryConversion } from './field-setup';
import { loadLists } from './lists';
import { changePick, createPick, dropPick, mergePicks, orderPicks } from './pick-setup';
import { loadCatalogue } from '../../book/picks';
import { listClashes } from '../../book/unique-values';
import { body, query, type AppContext, type AppEnv, type Services } from '../../http/context';

const KINDS: readonly string[] = ['source', 'tag', 'stage'];

function kindOf(c: AppContext): PickKind {
  const kind = c.req.param('kind') ?? '';
  if (!KINDS.includes(kind)) throw new Problem(404, 'noSuchList', 'There is no such list.');
  return kind as PickKind;
}

/** Fields, pick-lists and areas: what drives entry, grid, import, merge and export. */
export function setupRoutes({ config, database }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const key = (c: AppContext) => c.req.param('key') ?? '';

  routes.get('/lists', async (c) => c.json(await loadLists(database, config.country)));

  routes.post('/fields', async (c) =>
    c.json(await createField(database, await body(c, newFieldSchema), c.get('actor').accountId), 201),
  );
  routes.patch('/fields/:key', async (c) => {
    await changeField(database, key(c), await body(c, fieldChangeSchema), c.get('actor').accountId);
    return c.body(null, 204);
  });
  routes.get('/fields/:key/clashes', async (c) => {
    const field = (await loadCatalogue(database.db)).find(key(c));
    if (!field) throw new Problem(404, 'noSuchField', 'There is no such field.');
    return c.json<FieldClashes>(await listClashes(database, field));
  });
  routes.post('/fields/:key/try-type', async (c) =>
    c.json(await tryConversion(database, key(c), await body(c, conversionSchema))),
  );
  routes.post('/fields/:key/type', async (c) =>
    c.json(await convertField(database, key(c), await body(c, conversionSchema), c.get('actor').accountId)),
  );

  routes.post('/picks', async (c) => {
    await createPick(database, await body(c, newPickSchema));
    return c.body(null, 204);
  });
  routes.patch('/picks/:kind/:label', async (c) => {
    await changePick(database, kindOf(c), c.req.param('label'), await body(c, pickChangeSchema));
    return c.body(null, 204);
  });
  routes.delete('/picks/:kind/:label', async (c) => {
    await dropPick(database, kindOf(c), c.req.param('label'));
    return c.body(null, 204);
  });
  routes.put('/picks/:kind', async (c) => {
    await orderPicks(database, kindOf(c), (await body(c, pickOrderSchema)).labels);
    return c.body(null, 204);
  });
  routes.post('/picks/merge', async (c) =>
    c.json(await mergePicks(database, await body(c, pickMergeSchema), c.get('actor').accountId)),
  );

  routes.get('/areas', async (c) => c.json(await listAreas(database)));
  routes.put('/areas', async (c) =>
    c.json(await saveAreas(database, (await body(c, areasSchema)).areas, c.get('actor').accountId)),
  );
  routes.get('/addresses', async (c) =>
    c.json(await completeAddress(database, await query(c, addressCompletionSchema))),
  );
  return routes;
}
