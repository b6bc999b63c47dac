import { serve, type ServerType } from '@hono/node-server';
import { Hono } from 'hono';
import { mergeFaults, NO_FAULTS, numbersOf, type Faults } from '../faults';
import { guard } from '../guard';
import { mailerApi } from './api';
import { entryPage, mailPage, saveEntry } from './page';
import { EVENTS, MailerStore } from './store';

export interface MailerOptions {
  port: number;
  /** File that it is kept in; null keeps it in memory. */
  file: string | null;
  client: { id: string; secret: string };
  seed?: number;
  /** Fills a new one. */
  fill?: (store: MailerStore) => void;
}

export interface Mailer {
  port: number;
  url: string;
  store: MailerStore;
  faults: Faults;
  setFaults(faults: Partial<Faults>): void;
  /** Requests so far by method, and writes that were done. */
  counts: Record<string, number>;
  stop(): Promise<void>;
}

/** Starts the stand-in for a mailer: JSON over HTTP with tokens that end, a plain page, and faults on request. */
export async function startMailer(options: MailerOptions): Promise<Mailer> {
  const store = new MailerStore(options.file);
  if (store.isEmpty) options.fill?.(store);
  const chance = numbersOf(options.seed ?? 1);
  let faults: Faults = { ...NO_FAULTS };
  const counts: Record<string, number> = {};
  const count = (what: string) => {
    counts[what] = (counts[what] ?? 0) + 1;
  };
  const now = () => Date.now() + faults.clockMs;
  const nowIso = () => new Date(now()).toISOString();

  const app = new Hono();
  app.use('*', async (c, next) => {
    await next();
    c.header('Date', new Date(now()).toUTCString());
  });
  const counted = guard(() => faults, chance);
  for (const path of ['/v1/*', '/oauth/*'])
    app.use(path, async (c, next) => {
      count(c.req.method);
      return counted(c, next);
    });
  app.route('/', mailerApi({ store, client: options.client, faults: () => faults, chance, now, count }));

  app.get('/', (c) => c.html(mailPage(store, faults, c.req.query('find') ?? '')));
  app.get('/entry', (c) => c.html(entryPage(store, c.req.query('address') ?? '')));
  const formOf = async (c: { req: { parseBody(): Promise<unknown> } }) =>
    (await c.req.parseBody()) as Record<string, string>;
  app.post('/entry', async (c) => {
    const wrong = saveEntry(await formOf(c), store, nowIso());
    return wrong === null ? c.redirect('/', 303) : c.text(wrong, 422);
  });
  app.post('/list', async (c) => {
    const { id, name, strand, remove } = await formOf(c);
    const list = store.lists.find((one) => one.id === Number(id));
    if (list && remove) store.removeList(list.id, nowIso());
    else if (list && strand?.trim()) store.addStrand(list, strand.trim());
    else if (name?.trim()) store.addList(name.trim());
    return c.redirect('/', 303);
  });
  app.post('/column', async (c) => {
    const { key = '', name = '', remove } = await formOf(c);
    store.changeColumn(key, remove ? '' : name.trim());
    return c.redirect('/', 303);
  });
  app.post('/mailing', async (c) => {
    const { subject, list } = await formOf(c);
    store.send(subject?.trim() || 'No subject', Number(list), nowIso());
    return c.redirect('/', 303);
  });
  app.post('/event', async (c) => {
    const form = await formOf(c);
    const event = EVENTS.find((one) => one === form.event) ?? 'opened';
    store.happen({
      mailing: Number(form.mailing),
      address: form.address ?? '',
      event,
      link: form.link ?? '',
      at: nowIso(),
    });
    return c.redirect('/', 303);
  });
  app.post('/faults', async (c) => {
    const isForm = (c.req.header('content-type') ?? '').includes('form');
    const asked = isForm ? await c.req.parseBody() : ((await c.req.json()) as Record<string, unknown>);
    const blank = Object.fromEntries(Object.entries(NO_FAULTS).filter(([, value]) => typeof value === 'boolean'));
    faults = mergeFaults(isForm ? { ...faults, ...blank } : faults, asked);
    return isForm ? c.redirect('/', 303) : c.json(faults);
  });
  app.get('/counts', (c) => c.json({ ...counts, entries: store.list().length }));

  const { server, port } = await new Promise<{ server: ServerType; port: number }>((resolve, reject) => {
    const started = serve({ fetch: app.fetch, port: options.port, hostname: '127.0.0.1' }, (info) =>
      resolve({ server: started, port: info.port }),
    );
    started.once('error', reject);
  });
  return {
    port,
    url: `http://127.0.0.1:${port}`,
    store,
    get faults() {
      return faults;
    },
    setFaults: (asked) => {
      faults = { ...faults, ...asked };
    },
    counts,
    stop: async () => {
      store.keepNow();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
    },
  };
}
