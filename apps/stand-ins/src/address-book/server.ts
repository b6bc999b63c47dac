import { serve, type ServerType } from '@hono/node-server';
import { Hono, type Context } from 'hono';
import { Book, propertyOf } from './book';
import { BOOK_PATH, cardName, errorBody, propfind, readAsked, report } from './dav';
import { mergeFaults, NO_FAULTS, numbersOf, type Faults } from '../faults';
import { endless, guard, lost } from '../guard';
import { cardForm, listPage, textOfForm } from './page';

export interface AddressBookOptions {
  port: number;
  /** File that the book is kept in; null keeps it in memory. */
  file: string | null;
  user: string;
  password: string;
  seed?: number;
  /** Cards of a new book. */
  cards?: () => { name: string; text: string }[];
}

export interface AddressBook {
  port: number;
  url: string;
  book: Book;
  faults: Faults;
  setFaults(faults: Partial<Faults>): void;
  /** Requests so far by method, and writes that were done. */
  counts: Record<string, number>;
  stop(): Promise<void>;
}

const LARGEST = 200_000;
const XML = { 'Content-Type': 'application/xml; charset=utf-8' };
const DAV = { DAV: '1, 3, addressbook' };

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** Starts the stand-in for an office address book: CardDAV, a plain page, and faults on request. */
export async function startAddressBook(options: AddressBookOptions): Promise<AddressBook> {
  const book = new Book(options.file);
  const chance = numbersOf(options.seed ?? 1);
  let faults: Faults = { ...NO_FAULTS };
  const counts: Record<string, number> = {};
  const now = () => Date.now() + faults.clockMs;
  if (book.isEmpty) for (const { name, text } of options.cards?.() ?? []) book.put(name, text, now());
  const count = (what: string) => (counts[what] = (counts[what] ?? 0) + 1);

  const app = new Hono();
  app.use('*', async (c, next) => {
    await next();
    c.header('Date', new Date(now()).toUTCString());
  });

  app.use('/dav/*', async (c, next) => {
    count(c.req.method);
    await next();
  });
  app.use(
    '/dav/*',
    guard(() => faults, chance),
  );
  app.use('/dav/*', async (c, next) => {
    const given = c.req.header('authorization') ?? '';
    const wanted = `Basic ${Buffer.from(`${options.user}:${options.password}`).toString('base64')}`;
    if (faults.expired || given !== wanted)
      return c.text('Sign in.', 401, { 'WWW-Authenticate': 'Basic realm="Address book"' });
    if (faults.garbage && c.req.method !== 'OPTIONS') return c.html('<html><body>A page and no cards</body></html>');
    if (faults.endless) return c.body(endless(`<x>${'a'.repeat(65_536)}</x>`), 207, XML);
    await next();
  });

  app.on(['OPTIONS'], '/dav/*', (c) =>
    c.body(null, 204, { ...DAV, Allow: 'OPTIONS, GET, PUT, DELETE, PROPFIND, REPORT' }),
  );
  app.on(['PROPFIND', 'OPTIONS', 'GET'], '/.well-known/carddav', (c) => c.redirect('/dav/', 301));

  app.on(['PROPFIND'], '/dav/*', async (c) => {
    const asked = readAsked(await c.req.text());
    if (!asked) return c.body(errorBody(''), 400, XML);
    const xml = propfind(c.req.path, c.req.header('depth') ?? 'infinity', asked, book, faults.mostCards);
    return xml ? slow(c, xml) : c.text('There is nothing here.', 404);
  });

  app.on(['REPORT'], '/dav/*', async (c) => {
    const asked = readAsked(await c.req.text());
    if (!asked) return c.body(errorBody(''), 400, XML);
    const turn = <T>(list: T[]) => (chance() < faults.disorder ? [...list].reverse() : list);
    const { status, xml } = report(asked, book, turn, chance() < faults.tokenLost);
    count(asked.root);
    return status === 207 ? slow(c, xml) : c.body(xml, status, XML);
  });

  const slow = (c: Context, xml: string) => {
    if (!faults.drip) return c.body(xml, 207, { ...XML, ...DAV });
    const bytes = new TextEncoder().encode(xml);
    let at = 0;
    return c.body(
      new ReadableStream<Uint8Array>({
        pull: async (stream) => {
          await sleep(5);
          stream.enqueue(bytes.slice(at, at + 512));
          at += 512;
          if (at >= bytes.length) stream.close();
        },
      }),
      207,
      { ...XML, ...DAV },
    );
  };

  const nameIn = (c: Context) => cardName(c.req.path);

  app.get('/dav/*', (c) => {
    const card = book.find(nameIn(c) ?? '');
    if (!card) return c.text('There is no such card.', 404);
    return c.body(card.text, 200, { 'Content-Type': 'text/vcard; charset=utf-8', ETag: card.etag });
  });

  const put = (name: string, text: string, ifMatch: string | undefined, ifNone: string | undefined) => {
    const there = book.find(name);
    if (ifNone === '*' && there) return { status: 412 as const };
    if (ifMatch !== undefined && ifMatch !== there?.etag) return { status: 412 as const };
    if (text.length > LARGEST) return { status: 413 as const, condition: '<card:max-resource-size/>' };
    if (!/^BEGIN:VCARD\r?\n/i.test(text) || !/^END:VCARD\s*$/im.test(text) || !propertyOf(text, 'FN'))
      return { status: 403 as const, condition: '<card:valid-address-data/>' };
    const uid = propertyOf(text, 'UID');
    const other = uid ? book.byUid(uid) : undefined;
    if (other && other.name !== name) return { status: 409 as const, condition: '<card:no-uid-conflict/>' };
    if (!there && faults.mostCards && book.size >= faults.mostCards)
      return { status: 507 as const, condition: '<d:quota-not-exceeded/>' };
    const card = book.put(name, text, now());
    count('written');
    return { status: there ? (204 as const) : (201 as const), etag: card.etag };
  };

  app.put('/dav/*', async (c) => {
    const name = nameIn(c);
    if (name === null) return c.text('Cards go into the book.', 405);
    const text = await c.req.text();
    const [ifMatch, ifNone] = [c.req.header('if-match'), c.req.header('if-none-match')];
    let done = put(name, text, ifMatch, ifNone);
    if (chance() < faults.repeated) done = put(name, text, ifMatch, ifNone);
    if (chance() < faults.lostAnswer) return lost(c);
    if (done.status === 412) return c.body(null, 412);
    if ('condition' in done && done.condition) return c.body(errorBody(done.condition), done.status, XML);
    return c.body(null, done.status as 201 | 204, { ETag: 'etag' in done ? (done.etag ?? '') : '' });
  });

  app.delete('/dav/*', (c) => {
    const name = nameIn(c);
    const card = name === null ? undefined : book.find(name);
    if (!card) return c.text('There is no such card.', 404);
    const ifMatch = c.req.header('if-match');
    if (ifMatch !== undefined && ifMatch !== card.etag) return c.body(null, 412);
    book.remove(card.name);
    count('written');
    if (chance() < faults.lostAnswer) return lost(c);
    return c.body(null, 204);
  });

  app.get('/', (c) => c.html(listPage(book, faults, c.req.query('find') ?? '')));
  app.get('/card', (c) => c.html(cardForm(book.find(c.req.query('name') ?? '') ?? null)));
  app.post('/card', async (c) => {
    const form = (await c.req.parseBody()) as Record<string, string>;
    const name = form.name || `${crypto.randomUUID()}.vcf`;
    if (form.remove) book.remove(name);
    else book.put(name, textOfForm(form, book.find(name)?.text ?? null), now());
    return c.redirect('/', 303);
  });
  app.post('/faults', async (c) => {
    const isForm = (c.req.header('content-type') ?? '').includes('form');
    const asked = isForm ? await c.req.parseBody() : ((await c.req.json()) as Record<string, unknown>);
    const blank = Object.fromEntries(Object.entries(NO_FAULTS).filter(([, value]) => typeof value === 'boolean'));
    faults = mergeFaults(isForm ? { ...faults, ...blank } : faults, asked);
    return isForm ? c.redirect('/', 303) : c.json(faults);
  });
  app.get('/counts', (c) => c.json({ ...counts, cards: book.size }));

  const { server, port } = await new Promise<{ server: ServerType; port: number }>((resolve, reject) => {
    const started = serve({ fetch: app.fetch, port: options.port, hostname: '127.0.0.1' }, (info) =>
      resolve({ server: started, port: info.port }),
    );
    started.once('error', reject);
  });
  return {
    port,
    url: `http://127.0.0.1:${port}${BOOK_PATH}`,
    book,
    get faults() {
      return faults;
    },
    setFaults: (asked) => {
      faults = { ...faults, ...asked };
    },
    counts,
    stop: async () => {
      book.keepNow();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
    },
  };
}
