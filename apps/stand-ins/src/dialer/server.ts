import { serve, type ServerType } from '@hono/node-server';
import { Hono } from 'hono';
import { mergeFaults, NO_FAULTS, numbersOf, type Faults } from '../faults';
import { guard } from '../guard';
import { dialerApi } from './api';
import { callHook, type HookEvent } from './hook';
import { callFrom, listPage, partsOfForm, personPage } from './page';
import { DialerStore } from './store';

export interface DialerOptions {
  port: number;
  /** File that it is kept in; null keeps it in memory. */
  file: string | null;
  key: string;
  seed?: number;
  /** Fills a new one. */
  fill?: (store: DialerStore) => void;
}

export interface Dialer {
  port: number;
  url: string;
  store: DialerStore;
  faults: Faults;
  setFaults(faults: Partial<Faults>): void;
  /** Requests so far by method, and writes that were done. */
  counts: Record<string, number>;
  /** Tells whoever asked to be told; done when it was heard or given up. */
  tell(event: HookEvent): Promise<boolean>;
  stop(): Promise<void>;
}

/** Requests that it takes in a second where nothing else is said. */
const PER_SECOND = 10;
/** And in a day. */
const PER_DAY = 20_000;

/** Starts the stand-in for a dialer: JSON over HTTP, a plain page, signed calls to whoever listens, and faults on request. */
export async function startDialer(options: DialerOptions): Promise<Dialer> {
  const store = new DialerStore(options.file);
  if (store.isEmpty) options.fill?.(store);
  const chance = numbersOf(options.seed ?? 1);
  let faults: Faults = { ...NO_FAULTS, perSecond: PER_SECOND, perDay: PER_DAY };
  const counts: Record<string, number> = {};
  const count = (what: string) => {
    counts[what] = (counts[what] ?? 0) + 1;
  };
  const now = () => Date.now() + faults.clockMs;
  const nowIso = () => new Date(now()).toISOString();
  const tell = (event: HookEvent) =>
    store.hook
      ? callHook(store.hook, event, { now, times: chance() < faults.repeated ? 2 : 1 })
      : Promise.resolve(false);

  const app = new Hono();
  app.use('*', async (c, next) => {
    await next();
    c.header('Date', new Date(now()).toUTCString());
  });
  app.use('/v1/*', async (c, next) => {
    count(c.req.method);
    await next();
  });
  app.use(
    '/v1/*',
    guard(() => faults, chance),
  );
  app.route('/v1', dialerApi({ store, key: options.key, faults: () => faults, chance, nowIso, count }));

  app.get('/', (c) => c.html(listPage(store, faults, c.req.query('find') ?? '')));
  app.get('/person', (c) => c.html(personPage(store, Number(c.req.query('id') ?? 0))));
  app.post('/person', async (c) => {
    const form = (await c.req.parseBody()) as Record<string, string>;
    const id = form.id ? Number(form.id) : null;
    if (id !== null && form.remove) store.remove(id);
    else if (id !== null && form.push) void tell({ kind: 'push', ids: [id] });
    else {
      const person = store.put(id, partsOfForm(form, store), nowIso());
      void tell({ kind: 'people', ids: [person.id] });
    }
    return c.redirect('/', 303);
  });
  app.post('/field', async (c) => {
    const { key = '', name = '', remove } = (await c.req.parseBody()) as Record<string, string>;
    store.changeField(key, remove ? '' : name.trim());
    return c.redirect('/', 303);
  });
  app.post('/call', async (c) => {
    const call = store.addCall(callFrom((await c.req.parseBody()) as Record<string, string>, nowIso()));
    void tell({ kind: 'calls', ids: [call.id] });
    return c.redirect('/', 303);
  });
  app.post('/faults', async (c) => {
    const isForm = (c.req.header('content-type') ?? '').includes('form');
    const asked = isForm ? await c.req.parseBody() : ((await c.req.json()) as Record<string, unknown>);
    const blank = Object.fromEntries(Object.entries(NO_FAULTS).filter(([, value]) => typeof value === 'boolean'));
    faults = mergeFaults(isForm ? { ...faults, ...blank } : faults, asked);
    return isForm ? c.redirect('/', 303) : c.json(faults);
  });
  app.get('/counts', (c) => c.json({ ...counts, people: store.list().length }));

  const { server, port } = await new Promise<{ server: ServerType; port: number }>((resolve, reject) => {
    const started = serve({ fetch: app.fetch, port: options.port, hostname: '127.0.0.1' }, (info) =>
      resolve({ server: started, port: info.port }),
    );
    started.once('error', reject);
  });
  return {
    port,
    url: `http://127.0.0.1:${port}/v1`,
    store,
    get faults() {
      return faults;
    },
    setFaults: (asked) => {
      faults = { ...faults, ...asked };
    },
    counts,
    tell,
    stop: async () => {
      store.keepNow();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
    },
  };
}
