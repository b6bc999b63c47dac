import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { Hono } from 'hono';
import { mixed, number, object } from 'yup';
import {
  mappingNameSchema,
  mappingSchema,
  mendAlikeSchema,
  mendMeantSchema,
  mendSchema,
  mendTwoSchema,
  rereadSchema,
  rowChoiceSchema,
  ROW_OUTCOMES,
  type RowOutcome,
} from '@gray-loom/wire';
import { issueProblem } from '../../http/problem';
import { exportRows } from './rows/export-rows';
import { dropHeld, letIn, letInTwo, listHeld, mendAlike, mendMeant, previewHeld } from './rows/held-rows';
import {
  bringAgain,
  dropIntake,
  intakeDetail,
  listIntakes,
  previewMapping,
  saveMapping,
  startImport,
  startTrial,
  trialRows,
} from './intakes';
import { chooseRow } from './rows/row-choices';
import { forgetSavedMapping, guessAnew, listSavedMappings, renameSavedMapping } from './saved-mappings';
import { sampleFile } from './sample-file';
import { takePackedFile } from './files/unpack-file';
import { rereadFile } from './files/take-file';
import { body, idOf, query, type AppEnv, type Services } from '../../http/context';

const previewQuery = object({
  from: number().integer().min(0).default(0),
  count: number().integer().min(1).max(200).default(50),
  failing: number().integer().min(0),
});
const trialQuery = object({
  outcome: mixed<RowOutcome>()
    .oneOf([...ROW_OUTCOMES])
    .required(),
  limit: number().integer().min(1).max(300).default(100),
});
const heldQuery = object({ run: number().integer().positive() });

export function intakeRoutes({ config, database }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const actor = (c: { get: (key: 'actor') => { accountId: number } }) => c.get('actor').accountId;

  routes.get('/intakes', async (c) => c.json(await listIntakes(database)));

  routes.post('/intakes', async (c) => {
    const name = decodeURIComponent(c.req.header('x-file-name') ?? 'file.csv')
      .replace(/[\\/\0]/g, '_')
      .slice(0, 200);
    const declared = Number(c.req.header('x-file-size') ?? c.req.header('content-length') ?? NaN);
    const stream = c.req.raw.body;
    if (!stream) throw issueProblem(422, { code: 'emptyFile', path: {} });
    const id = await takePackedFile(database, {
      name,
      body: Readable.fromWeb(stream as unknown as NodeStream),
      declaredBytes: Number.isFinite(declared) ? declared : null,
      limitBytes: config.fileLimitBytes,
      actorId: actor(c),
      country: config.country,
      signal: c.req.raw.signal,
    });
    return c.json({ id }, 201);
  });

  routes.get('/intakes/:id', async (c) => c.json(await intakeDetail(database, idOf(c, 'id'))));
  routes.delete('/intakes/:id', async (c) => {
    await dropIntake(database, idOf(c, 'id'));
    return c.body(null, 204);
  });
  routes.put('/intakes/:id/mapping', async (c) => {
    await saveMapping(database, idOf(c, 'id'), await body(c, mappingSchema));
    return c.json(await intakeDetail(database, idOf(c, 'id')));
  });
  routes.post('/intakes/:id/guess', async (c) => {
    await guessAnew(database, idOf(c, 'id'), config.country);
    return c.json(await intakeDetail(database, idOf(c, 'id')));
  });
  routes.get('/saved-mappings', async (c) => c.json(await listSavedMappings(database)));
  routes.get('/saved-mappings/:id/sample.csv', async (c) => {
    const { name, text } = await sampleFile(database, idOf(c, 'id'));
    c.header('Content-Type', 'text/csv; charset=utf-8');
    c.header('Content-Disposition', `attachment; filename="${encodeURIComponent(name)}-sample.csv"`);
    return c.body(text);
  });
  routes.patch('/saved-mappings/:id', async (c) => {
    await renameSavedMapping(database, idOf(c, 'id'), (await body(c, mappingNameSchema)).name);
    return c.body(null, 204);
  });
  routes.delete('/saved-mappings/:id', async (c) => {
    await forgetSavedMapping(database, idOf(c, 'id'));
    return c.body(null, 204);
  });
  routes.post('/intakes/:id/reread', async (c) => {
    await rereadFile(database, idOf(c, 'id'), await body(c, rereadSchema), config.country);
    return c.json(await intakeDetail(database, idOf(c, 'id')));
  });
  routes.get('/intakes/:id/preview', async (c) => {
    const { from, count, failing } = await query(c, previewQuery);
    return c.json(await previewMapping(database, idOf(c, 'id'), from, count, failing ?? null));
  });
  routes.post('/intakes/:id/trial', async (c) => c.json(await startTrial(database, idOf(c, 'id'), actor(c)), 202));
  routes.get('/intakes/:id/trial', async (c) => {
    const { outcome, limit } = await query(c, trialQuery);
    return c.json(await trialRows(database, idOf(c, 'id'), outcome, limit));
  });
  routes.post('/intakes/:id/again', async (c) => c.json(await bringAgain(database, idOf(c, 'id'), actor(c)), 201));
  routes.put('/intakes/:id/rows/:row/choice', async (c) => {
    await chooseRow(database, idOf(c, 'id'), idOf(c, 'row'), (await body(c, rowChoiceSchema)).choice);
    return c.body(null, 204);
  });
  routes.post('/intakes/:id/import', async (c) => c.json(await startImport(database, idOf(c, 'id'), actor(c)), 202));

  routes.get('/held', async (c) => c.json(await listHeld(database, (await query(c, heldQuery)).run ?? null)));
  routes.post('/held/:run/:row/preview', async (c) =>
    c.json(await previewHeld(database, idOf(c, 'run'), idOf(c, 'row'), (await body(c, mendSchema)).cells)),
  );
  routes.post('/held/:run/:row/let-in', async (c) => {
    const { cells, as, asked } = await body(c, mendSchema);
    return c.json(await letIn(database, idOf(c, 'run'), idOf(c, 'row'), cells, as, asked, actor(c)));
  });
  routes.post('/held/:run/:row/let-in-two', async (c) =>
    c.json(await letInTwo(database, idOf(c, 'run'), idOf(c, 'row'), (await body(c, mendTwoSchema)).people, actor(c))),
  );
  routes.post('/held/:run/alike', async (c) =>
    c.json(await mendAlike(database, idOf(c, 'run'), await body(c, mendAlikeSchema), actor(c))),
  );
  routes.post('/held/:run/meant', async (c) =>
    c.json(await mendMeant(database, idOf(c, 'run'), (await body(c, mendMeantSchema)).rows, actor(c))),
  );
  routes.post('/held/:run/:row/drop', async (c) => {
    await dropHeld(database, idOf(c, 'run'), idOf(c, 'row'));
    return c.body(null, 204);
  });
  for (const which of ['held', 'rows'] as const) {
    routes.get(`/runs/:id/${which}.csv`, async (c) => {
      const { name, body: stream } = await exportRows(database, idOf(c, 'id'), which === 'held');
      c.header('Content-Type', 'text/csv; charset=utf-8');
      c.header('Content-Disposition', `attachment; filename="${encodeURIComponent(name)}-${which}.csv"`);
      return c.body(stream);
    });
  }
  return routes;
}
