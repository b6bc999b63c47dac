import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import { number, object } from 'yup';
import { runPageSchema, undoSchema } from '@gray-loom/wire';
import { listRuns, runContacts, runSummary, tapeState } from './ledger';
import { goOn, requestPause, requestStop } from '../../runs/runs';
import { previewUndo, undoRun } from './undo-run';
import { worklist } from '../worklist/worklist';
import { body, idOf, query, type AppEnv, type Services } from '../../http/context';

const PING_MS = 20_000;
const contactsQuery = object({
  after: number().integer().min(0).default(0),
  limit: number().integer().min(1).max(500).default(100),
});

export function runRoutes({ database, events }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();

  routes.get('/runs', async (c) => {
    const { before, kind, limit } = await query(c, runPageSchema);
    return c.json(await listRuns(database, before ?? null, kind, limit));
  });
  routes.get('/tape', async (c) => c.json(await tapeState(database)));
  routes.get('/worklist', async (c) => c.json(await worklist(database)));
  routes.get('/runs/:id', async (c) => c.json(await runSummary(database, idOf(c, 'id'))));
  routes.get('/runs/:id/contacts', async (c) => {
    const { after, limit } = await query(c, contactsQuery);
    return c.json(await runContacts(database, idOf(c, 'id'), after, limit));
  });
  routes.get('/runs/:id/undo', async (c) => c.json(await previewUndo(database, idOf(c, 'id'))));
  routes.post('/runs/:id/undo', async (c) => {
    const { edits } = (await c.req.text()) ? await body(c, undoSchema) : { edits: [] };
    return c.json(await undoRun(database, idOf(c, 'id'), c.get('actor').accountId, edits));
  });
  routes.post('/runs/:id/stop', async (c) => c.json({ stopping: await requestStop(database, idOf(c, 'id')) }));

  routes.post('/runs/:id/pause', async (c) => c.json({ pausing: await requestPause(database, idOf(c, 'id')) }));
  routes.post('/runs/:id/go-on', async (c) => c.json({ goesOn: await goOn(database, idOf(c, 'id')) }));

  // Everything that moves is told to open screens as it happens.
  routes.get('/events', (c) =>
    streamSSE(c, async (stream) => {
      let open = true;
      const unsubscribe = events.subscribe((event) => {
        void stream.writeSSE({ event: event.topic, data: JSON.stringify(event) }).catch(() => undefined);
      });
      stream.onAbort(() => {
        open = false;
        unsubscribe();
      });
      await stream.writeSSE({ event: 'hello', data: '{}' });
      while (open) {
        await stream.sleep(PING_MS);
        if (open) await stream.writeSSE({ event: 'ping', data: '{}' }).catch(() => undefined);
      }
    }),
  );
  return routes;
}
