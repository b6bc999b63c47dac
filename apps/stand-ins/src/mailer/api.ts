import { randomBytes } from 'node:crypto';
import { Hono, type Context } from 'hono';
import type { ContentfulStatusCode } from 'hono/utils/http-status';
import type { Faults } from '../faults';
import { endless, lost } from '../guard';
import {
  COLUMN_LENGTH,
  COLUMN_TYPES,
  type Column,
  type Entry,
  type EntryParts,
  type MailerStore,
  type MailList,
} from './store';

export interface MailerApi {
  store: MailerStore;
  client: { id: string; secret: string };
  faults(): Faults;
  chance(): number;
  now(): number;
  count(what: string): void;
}

const PAGE = 100;
const MOST_IN_PAGE = 500;
const MOST_IN_JOB = 500;
/** Seconds that a token holds where nothing else is said. */
const TOKEN_S = 300;

/** What is wrong with what was sent, for whoever sent it. */
class Wrong extends Error {
  constructor(
    readonly status: ContentfulStatusCode,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

type Op =
  { op: 'put' | 'create'; address: string; newAddress?: string; parts: EntryParts } | { op: 'remove'; address: string };
type JobAnswer = { address: string; ok: boolean; error?: string; message?: string; entry?: Entry };
interface Job {
  readyAt: number;
  answers: JobAnswer[];
}

const isText = (value: unknown): value is string => typeof value === 'string';
const isAddress = (value: unknown): value is string => isText(value) && /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value.trim());

/** Reads what an entry is made or changed by; what the tool has no column for is refused and named. */
function partsFrom(body: Record<string, unknown>, store: MailerStore): EntryParts {
  const parts: EntryParts = {};
  for (const [key, value] of Object.entries(body))
    switch (key) {
      case 'given':
      case 'family':
      case 'ref':
        if (!isText(value)) throw new Wrong(422, key, `${key} is a text.`);
        parts[key] = value;
        break;
      case 'columns':
        parts.columns = {};
        for (const [name, text] of Object.entries((value ?? {}) as Record<string, unknown>)) {
          const column = store.columns.find((one) => one.key === name);
          if (!column) throw new Wrong(422, 'columns', `There is no column '${name}'.`);
          if (!isText(text)) throw new Wrong(422, 'columns', `'${name}' is a text.`);
          if (text && column.type === 'choice' && !column.options.includes(text))
            throw new Wrong(422, 'columns', `'${text}' is no option of '${name}'.`);
          parts.columns[name] = text;
        }
        break;
      case 'state':
        // Whoever said that they want no more is not written to again at the word of somebody else.
        if (value !== 'off') throw new Wrong(422, 'state', "Only 'off' can be said from outside.");
        parts.state = value;
        break;
      case 'address':
      case 'newAddress':
      case 'op':
        break;
      default:
        throw new Wrong(422, key, `An entry has no '${key}'.`);
    }
  return parts;
}

/**
 * JSON over HTTP with OAuth 2 client credentials (RFC 6749, 4.4). There is one entry for each address; entries are listed by the time of
 * their last change, in whole seconds.
 */
export function mailerApi({ store, client, faults, chance, now, count }: MailerApi): Hono {
  const app = new Hono();
  const tokens = new Map<string, { endsAt: number; used: boolean }>();
  const jobs = new Map<string, Job>();
  const nowIso = () => new Date(now()).toISOString();

  app.onError((error, c) =>
    error instanceof Wrong
      ? c.json({ error: error.code, message: error.message }, error.status)
      : c.json({ error: 'body', message: 'This cannot be read.' }, 400),
  );

  app.post('/oauth/token', async (c) => {
    const form = (await c.req.parseBody()) as Record<string, string>;
    const basic = /^Basic (.+)$/.exec(c.req.header('authorization') ?? '')?.[1];
    const [id, secret] = basic
      ? Buffer.from(basic, 'base64').toString().split(':').map(decodeURIComponent)
      : [form.client_id, form.client_secret];
    if (form.grant_type !== 'client_credentials') return c.json({ error: 'unsupported_grant_type' }, 400);
    if (id !== client.id || secret !== client.secret || faults().expired)
      return c.json({ error: 'invalid_client' }, 401);
    const token = randomBytes(24).toString('base64url');
    const seconds = faults().tokenS || TOKEN_S;
    tokens.set(token, { endsAt: now() + seconds * 1000, used: false });
    return c.json({ access_token: token, token_type: 'Bearer', expires_in: seconds });
  });

  app.use('/v1/*', async (c, next) => {
    const token = /^Bearer (.+)$/.exec(c.req.header('authorization') ?? '')?.[1] ?? '';
    const known = tokens.get(token);
    // One that was just given out holds once.
    if (!known || known.endsAt < now() || (known.used && chance() < faults().tokenEnds)) {
      tokens.delete(token);
      return c.json({ error: 'invalid_token', message: 'The token does not hold any more.' }, 401);
    }
    known.used = true;
    if (faults().garbage) return c.html('<html><body>A page and no JSON</body></html>');
    if (faults().endless)
      return c.body(endless(`{"x":"${'a'.repeat(65_536)}"},`), 200, { 'Content-Type': 'application/json' });
    await next();
  });

  const limitOf = (c: Context) => Math.min(MOST_IN_PAGE, Math.max(1, Number(c.req.query('limit') ?? PAGE) || PAGE));
  const turned = <T>(list: readonly T[]): T[] => (chance() < faults().disorder ? [...list].reverse() : [...list]);
  const entryOf = (c: Context): Entry => {
    const entry = store.find(decodeURIComponent(c.req.param('address') ?? ''));
    if (!entry) throw new Wrong(404, 'address', 'There is no such entry.');
    return entry;
  };
  const listOf = (c: Context): MailList => {
    const list = store.lists.find(({ id }) => id === Number(c.req.param('list')));
    if (!list) throw new Wrong(404, 'list', 'There is no such list.');
    return list;
  };
  /** Ends a write, as its faults say: done twice, or without an answer. */
  const written = (c: Context, write: () => Response): Response => {
    count('written');
    const answer = write();
    if (chance() < faults().repeated) write();
    return chance() < faults().lostAnswer ? lost(c) : answer;
  };
  const page = <T>(c: Context, all: readonly T[], name: string) => {
    const at = /^p(\d+)$/.exec(c.req.query('cursor') || 'p0');
    if (!at || (at[1] !== '0' && chance() < faults().tokenLost))
      throw new Wrong(410, 'cursor', 'This cursor is not known any more. Begin anew.');
    const from = Number(at[1]);
    const part = all.slice(from, from + limitOf(c));
    return c.json({ [name]: turned(part), cursor: `p${from + part.length}`, more: from + part.length < all.length });
  };

  app.get('/v1/account', (c) =>
    c.json({
      name: 'Mail room',
      now: nowIso(),
      limits: { columnLength: COLUMN_LENGTH, perJob: MOST_IN_JOB, perSecond: faults().perSecond },
    }),
  );
  app.get('/v1/columns', (c) => c.json({ columns: store.columns }));
  app.post('/v1/columns', async (c) => {
    const { name, type = 'text', options = [] } = await c.req.json<Partial<Column>>();
    if (!name?.trim() || !COLUMN_TYPES.includes(type)) throw new Wrong(422, 'name', 'A column has a name and a type.');
    const key = name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_');
    if (store.columns.some((one) => one.key === key))
      throw new Wrong(409, 'name', `There is a column '${key}' already.`);
    const column = { key, name: name.trim(), type, options };
    store.addColumn(column);
    return c.json(column, 201);
  });

  app.get('/v1/entries', (c) => {
    const since = c.req.query('since') ?? '';
    if (since && (!Number.isFinite(Date.parse(since)) || chance() < faults().tokenLost))
      throw new Wrong(410, 'since', 'Changes are not kept as long as that. Begin anew.');
    const { entries, gone } = store.changedSince(since);
    const from = Number(c.req.query('from') ?? 0);
    const part = entries.slice(from, from + limitOf(c));
    return c.json({
      entries: turned(part),
      gone: from === 0 ? gone : [],
      more: from + part.length < entries.length,
      now: nowIso(),
    });
  });
  app.post('/v1/entries/some', async (c) => {
    const { addresses = [], refs = [] } = await c.req.json<{ addresses?: string[]; refs?: string[] }>();
    if (addresses.length + refs.length > MOST_IN_PAGE)
      throw new Wrong(422, 'addresses', `Ask for ${MOST_IN_PAGE} at most.`);
    const found = [...addresses.map((one) => store.find(one)), ...refs.map((one) => store.byRef(one))];
    return c.json({ entries: turned([...new Set(found.flatMap((entry) => entry ?? []))]) });
  });
  app.get('/v1/entries/:address', (c) => c.json(entryOf(c)));

  /** Does one thing to one entry, as by itself or in a job. */
  const done = (op: Op): Entry | null => {
    const before = store.find(op.address);
    if (op.op === 'remove') {
      store.remove(op.address, nowIso());
      return null;
    }
    if (op.op === 'create' && before) throw new Wrong(409, 'address', 'There is an entry with this address already.');
    const other = op.parts.ref ? store.byRef(op.parts.ref) : undefined;
    if (other && other !== before) throw new Wrong(409, 'ref', `${other.address} has this ref already.`);
    if (op.newAddress === undefined) return store.put(op.address, op.parts, nowIso());
    if (!before) throw new Wrong(404, 'address', 'There is no such entry.');
    const renamed = store.rename(op.address, op.newAddress, nowIso());
    if (!renamed) throw new Wrong(409, 'newAddress', `${op.newAddress} is another entry already.`);
    return store.put(renamed.address, op.parts, nowIso());
  };
  const opFrom = (body: Record<string, unknown>): Op => {
    const { op = 'put', address, newAddress } = body;
    if (!isAddress(address)) throw new Wrong(422, 'address', 'This is no address.');
    if (newAddress !== undefined && !isAddress(newAddress)) throw new Wrong(422, 'newAddress', 'This is no address.');
    if (op === 'remove') return { op, address };
    return {
      op: op === 'create' ? op : 'put',
      address,
      parts: partsFrom(body, store),
      ...(newAddress === undefined ? {} : { newAddress }),
    };
  };
  app.post('/v1/entries', async (c) => {
    const op = opFrom({ ...(await c.req.json<Record<string, unknown>>()), op: 'create' });
    const made = done(op);
    return written(c, () => c.json(made, 201));
  });
  app.patch('/v1/entries/:address', async (c) => {
    const { address } = entryOf(c);
    const op = opFrom({ ...(await c.req.json<Record<string, unknown>>()), op: 'put', address });
    const changed = done(op);
    return written(c, () => c.json(changed));
  });
  app.delete('/v1/entries/:address', (c) => {
    const { address } = entryOf(c);
    return written(c, () => {
      store.remove(address, nowIso());
      return c.body(null, 204);
    });
  });

  app.post('/v1/jobs', async (c) => {
    const { entries } = await c.req.json<{ entries: Record<string, unknown>[] }>();
    if (!Array.isArray(entries) || entries.length > MOST_IN_JOB)
      throw new Wrong(422, 'entries', `A job has ${MOST_IN_JOB} entries at most.`);
    return written(c, () => {
      const answers = entries.map((body): JobAnswer => {
        const address = String(body.address ?? '');
        try {
          const entry = done(opFrom(body));
          return { address, ok: true, ...(entry ? { entry } : {}) };
        } catch (error) {
          if (!(error instanceof Wrong)) throw error;
          return { address, ok: false, error: error.code, message: error.message };
        }
      });
      const { jobNever, jobTwice, jobStray, jobMs } = faults();
      if (chance() < jobTwice) answers.push(...answers);
      if (chance() < jobStray) answers.push({ address: 'somebody.else@example.org', ok: true });
      const id = randomBytes(8).toString('hex');
      jobs.set(id, { readyAt: chance() < jobNever ? Infinity : now() + jobMs, answers: turned(answers) });
      return c.json({ id }, 202);
    });
  });
  app.get('/v1/jobs/:id', (c) => {
    const job = jobs.get(c.req.param('id'));
    if (!job) throw new Wrong(404, 'id', 'There is no such job.');
    return job.readyAt > now()
      ? c.json({ state: 'working', results: [] })
      : c.json({ state: 'done', results: job.answers });
  });

  app.get('/v1/lists', (c) =>
    c.json({ lists: store.lists.map((list) => ({ ...list, members: membersOf(list.id).length })) }),
  );
  app.post('/v1/lists', async (c) => {
    const name = nameFrom(await c.req.json());
    const there = store.lists.find((list) => list.name === name);
    return c.json(there ?? store.addList(name), there ? 200 : 201);
  });
  app.post('/v1/lists/:list/strands', async (c) => {
    const list = listOf(c);
    const name = nameFrom(await c.req.json());
    const there = list.strands.find((strand) => strand.name === name);
    return c.json(there ?? store.addStrand(list, name), there ? 200 : 201);
  });
  const nameFrom = ({ name }: { name?: string }): string => {
    if (!name?.trim()) throw new Wrong(422, 'name', 'It needs a name.');
    return name.trim();
  };
  const membersOf = (list: number, strand: number | null = null) =>
    store
      .list()
      .filter(({ lists }) =>
        lists.some((one) => one.list === list && (strand === null || one.strands.includes(strand))),
      )
      .sort((a, b) => (a.address < b.address ? -1 : 1));
  app.get('/v1/lists/:list/members', (c) => {
    const { id } = listOf(c);
    const strand = c.req.query('strand');
    const after = c.req.query('after') ?? '';
    // By address, so that whoever goes out meanwhile moves nobody from one page to another.
    const all = membersOf(id, strand ? Number(strand) : null).filter(({ address }) => address > after);
    const part = all.slice(0, limitOf(c));
    return c.json({ entries: part, cursor: part.at(-1)?.address ?? after, more: part.length < all.length });
  });
  /** Strands that an entry is put into and taken out of; it stays in the list while it is in a strand, or was put into it whole. */
  app.post('/v1/lists/:list/members', async (c) => {
    const list = listOf(c);
    const {
      add = [],
      remove = [],
      strand = null,
    } = await c.req.json<{ add?: string[]; remove?: string[]; strand?: number | null }>();
    if (strand !== null && !list.strands.some(({ id }) => id === strand))
      throw new Wrong(404, 'strand', 'There is no such strand.');
    return written(c, () => {
      const failed: { address: string; message: string }[] = [];
      const strandsOf = (address: string) =>
        store.find(address)?.lists.find((one) => one.list === list.id)?.strands ?? [];
      for (const address of add) {
        const strands = [...strandsOf(address), ...(strand === null ? [] : [strand])];
        if (!store.place(address, list.id, strands, nowIso()))
          failed.push({ address, message: 'There is no such entry.' });
      }
      for (const address of remove) {
        const left = strand === null ? null : strandsOf(address).filter((one) => one !== strand);
        store.place(address, list.id, left, nowIso());
      }
      return c.json({ failed });
    });
  });
  app.post('/v1/lists/:list/states', async (c) => {
    const { id } = listOf(c);
    const { address = '', state } = await c.req.json<{ address?: string; state?: string }>();
    // Whoever said that they want no more is not written to again at the word of somebody else.
    if (state !== 'off') throw new Wrong(422, 'state', "Only 'off' can be said from outside.");
    if (!store.find(address)) throw new Wrong(404, 'address', 'There is no such entry.');
    return written(c, () => c.json(store.say(address, id, 'off', nowIso())));
  });

  app.get('/v1/mailings', (c) => c.json({ mailings: store.mailings }));
  app.get('/v1/events', (c) => page(c, store.events, 'events'));
  return app;
}
