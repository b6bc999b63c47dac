import { Hono, type Context } from 'hono';
import type { ContentfulStatusCode } from 'hono/utils/http-status';
import type { Faults } from '../faults';
import { endless, lost } from '../guard';
import {
  FIELD_TYPES,
  MOST_PHONES,
  type DialerStore,
  type Field,
  type Person,
  type PersonParts,
  type Phone,
} from './store';

export interface DialerApi {
  store: DialerStore;
  key: string;
  faults(): Faults;
  chance(): number;
  nowIso(): string;
  count(what: string): void;
}

const PAGE = 100;
const MOST_IN_PAGE = 500;
const MOST_IN_BATCH = 100;

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

const isText = (value: unknown): value is string => typeof value === 'string';

function phonesFrom(value: unknown): Phone[] {
  if (!Array.isArray(value)) throw new Wrong(422, 'phones', 'phones is a list.');
  if (value.length > MOST_PHONES) throw new Wrong(422, 'phones', `A person has at most ${MOST_PHONES} phones.`);
  return value.map((one): Phone => {
    const { number, doNotCall = false } = one as Partial<Phone>;
    if (!isText(number) || !/^\+?[\d ()-]{3,24}$/.test(number)) throw new Wrong(422, 'phones', 'This is no number.');
    return { number, doNotCall: doNotCall === true };
  });
}

/** Reads what a person is made or changed by; what the tool has no box for is refused and named. */
function partsFrom(body: unknown, store: DialerStore, before: Person | null): PersonParts {
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new Wrong(400, 'body', 'Send an object of JSON.');
  const given = body as Record<string, unknown>;
  const parts: PersonParts = {};
  for (const [key, value] of Object.entries(given))
    switch (key) {
      case 'name':
      case 'email':
      case 'ref':
        if (!isText(value)) throw new Wrong(422, key, `${key} is a text.`);
        parts[key] = value;
        break;
      case 'phones':
        parts.phones = phonesFrom(value);
        break;
      case 'doNotCall':
        parts.doNotCall = value === true;
        break;
      case 'fields':
        parts.fields = {};
        for (const [name, text] of Object.entries((value ?? {}) as Record<string, unknown>)) {
          const field = store.fields.find((one) => one.key === name);
          if (!field) throw new Wrong(422, 'fields', `There is no field '${name}'.`);
          if (!isText(text)) throw new Wrong(422, 'fields', `'${name}' is a text.`);
          if (text && field.type === 'choice' && !field.options.includes(text))
            throw new Wrong(422, 'fields', `'${text}' is no option of '${name}'.`);
          parts.fields[name] = text.slice(0, field.length);
        }
        break;
      default:
        throw new Wrong(422, key, `A person has no '${key}'.`);
    }
  const other = parts.ref ? store.byRef(parts.ref) : undefined;
  if (other && other.id !== before?.id) throw new Wrong(409, 'ref', `Person ${other.id} has this ref already.`);
  if (!before && !parts.name?.trim()) throw new Wrong(422, 'name', 'A person needs a name.');
  return parts;
}

/**
 * JSON over HTTP, with the key in a header. People are listed in the order of their last change; whoever is removed is just missing. There
 * are no conditional writes.
 */
export function dialerApi({ store, key, faults, chance, nowIso, count }: DialerApi): Hono {
  const app = new Hono();
  const usedOn = new Map<string, number>();

  app.onError((error, c) =>
    error instanceof Wrong
      ? c.json({ error: error.code, message: error.message }, error.status)
      : c.json({ error: 'body', message: 'This cannot be read.' }, 400),
  );
  app.use('*', async (c, next) => {
    const { expired, garbage, perDay } = faults();
    if (expired || c.req.header('x-api-key') !== key)
      return c.json({ error: 'key', message: 'The key is not right.' }, 401);
    const day = nowIso().slice(0, 10);
    const used = (usedOn.get(day) ?? 0) + 1;
    usedOn.set(day, used);
    if (perDay && used > perDay) {
      const midnight = Date.parse(`${day}T24:00:00Z`);
      const waitS = Math.max(1, Math.ceil((midnight - Date.parse(nowIso())) / 1000));
      return c.json({ error: 'quota', message: 'The quota of today is used up.' }, 429, {
        'Retry-After': String(waitS),
      });
    }
    if (perDay) {
      c.header('X-Quota', String(perDay));
      c.header('X-Quota-Left', String(perDay - used));
    }
    if (garbage) return c.html('<html><body>A page and no JSON</body></html>');
    if (faults().endless)
      return c.body(endless(`{"x":"${'a'.repeat(65_536)}"},`), 200, { 'Content-Type': 'application/json' });
    await next();
  });

  const limitOf = (c: Context) => Math.min(MOST_IN_PAGE, Math.max(1, Number(c.req.query('limit') ?? PAGE) || PAGE));
  /** A place that is not one of ours was given out by another tool, or by this one before it was made anew. */
  const placeOf = (c: Context) => {
    const text = c.req.query('cursor') ?? '';
    const place = text === '' ? 0 : Number(/^p(\d+)$/.exec(text)?.[1] ?? Number.NaN);
    if (Number.isNaN(place) || (place > 0 && chance() < faults().tokenLost))
      throw new Wrong(410, 'cursor', 'This cursor is not known any more. Begin anew.');
    return place;
  };
  const turned = <T>(list: readonly T[]): T[] => (chance() < faults().disorder ? [...list].reverse() : [...list]);
  const personOf = (c: Context): Person => {
    const person = store.find(Number(c.req.param('id')));
    if (!person) throw new Wrong(404, 'id', 'There is no such person.');
    return person;
  };
  const listOf = (c: Context): number => {
    const id = Number(c.req.param('list'));
    if (!store.lists.some((one) => one.id === id)) throw new Wrong(404, 'list', 'There is no such list.');
    return id;
  };
  /** Ends a write, as its faults say: done twice, or without an answer. */
  const written = (c: Context, write: () => Response): Response => {
    count('written');
    const answer = write();
    if (chance() < faults().repeated) write();
    return chance() < faults().lostAnswer ? lost(c) : answer;
  };
  /** Parts of a list that only grows, from a place on. */
  const page = <T>(c: Context, all: readonly T[], name: string) => {
    const from = placeOf(c);
    const part = all.slice(from, from + limitOf(c));
    const place = from + part.length;
    return c.json({ [name]: turned(part), cursor: `p${place}`, more: place < all.length });
  };

  app.get('/account', (c) =>
    c.json({
      name: 'Phone bank',
      now: nowIso(),
      limits: { phones: MOST_PHONES, perSecond: faults().perSecond, perDay: faults().perDay },
    }),
  );
  app.get('/fields', (c) => c.json({ fields: store.fields }));
  app.post('/fields', async (c) => {
    const { label, type = 'text', options = [], length = 60 } = await c.req.json<Partial<Field>>();
    if (!label?.trim() || !FIELD_TYPES.includes(type)) throw new Wrong(422, 'label', 'A field has a label and a type.');
    const key = label
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_');
    if (store.fields.some((one) => one.key === key))
      throw new Wrong(409, 'label', `There is a field '${key}' already.`);
    const field = { key, label: label.trim(), type, options, length };
    store.addField(field);
    return c.json(field, 201);
  });

  app.get('/people', (c) => {
    const { people, place } = store.changedSince(placeOf(c), limitOf(c));
    const more = store.changedSince(place, 1).people.length > 0;
    return c.json({ people: turned(people), cursor: `p${place}`, more });
  });
  app.get('/people/some', (c) => {
    const ids = (c.req.query('ids') ?? '').split(',').filter(Boolean).map(Number);
    const refs = c.req.queries('ref') ?? [];
    if (ids.length + refs.length > MOST_IN_BATCH)
      throw new Wrong(422, 'ids', `Ask for at most ${MOST_IN_BATCH} people.`);
    const found = [...ids.map((id) => store.find(id)), ...refs.map((ref) => store.byRef(ref))];
    return c.json({ people: turned(found.flatMap((person) => person ?? [])) });
  });
  app.get('/people/:id', (c) => c.json(personOf(c)));
  app.post('/people', async (c) => {
    const parts = partsFrom(await c.req.json(), store, null);
    return written(c, () => {
      // A ref that came a second time is the one that is here.
      const there = store.byRef(parts.ref ?? '');
      return c.json(there ?? store.put(null, parts, nowIso()), 201);
    });
  });
  app.post('/people/batch', async (c) => {
    const { people } = await c.req.json<{ people: (PersonParts & { id?: number })[] }>();
    if (!Array.isArray(people) || people.length > MOST_IN_BATCH)
      throw new Wrong(422, 'people', `Send at most ${MOST_IN_BATCH} people.`);
    return written(c, () =>
      c.json({
        results: people.map(({ id, ...given }) => {
          try {
            const before = id === undefined ? null : store.find(id);
            if (before === undefined) throw new Wrong(404, 'id', 'There is no such person.');
            const parts = partsFrom(given, store, before);
            return { ok: true, person: store.put(before?.id ?? null, parts, nowIso()) };
          } catch (error) {
            if (!(error instanceof Wrong)) throw error;
            return { ok: false, error: error.code, message: error.message };
          }
        }),
      }),
    );
  });
  app.patch('/people/:id', async (c) => {
    const before = personOf(c);
    const parts = partsFrom(await c.req.json(), store, before);
    return written(c, () => c.json(store.put(before.id, parts, nowIso())));
  });
  app.delete('/people/:id', (c) => {
    const { id } = personOf(c);
    return written(c, () => {
      store.remove(id);
      return c.body(null, 204);
    });
  });

  app.get('/lists', (c) => c.json({ lists: store.lists }));
  app.post('/lists', async (c) => {
    const { name } = await c.req.json<{ name?: string }>();
    if (!name?.trim()) throw new Wrong(422, 'name', 'A list needs a name.');
    const there = store.lists.find((list) => list.name === name.trim());
    return c.json(there ?? store.addList(name.trim()), there ? 200 : 201);
  });
  app.get('/lists/:list/people', (c) => {
    const list = listOf(c);
    // By number, so that whoever goes out meanwhile moves nobody from one page to another.
    const from = placeOf(c);
    const all = store.list().filter(({ id, lists }) => id > from && lists.includes(list));
    const people = all.sort((a, b) => a.id - b.id).slice(0, limitOf(c));
    return c.json({ people, cursor: `p${people.at(-1)?.id ?? from}`, more: people.length < all.length });
  });
  const inList = (isIn: boolean) => (c: Context) => {
    const person = personOf(c);
    const list = listOf(c);
    const lists = person.lists.filter((one) => one !== list);
    return written(c, () => c.json(store.put(person.id, { lists: isIn ? [...lists, list] : lists }, nowIso())));
  };
  app.put('/lists/:list/people/:id', inList(true));
  app.delete('/lists/:list/people/:id', inList(false));

  app.get('/stops', (c) => page(c, store.stops, 'stops'));
  app.get('/calls', (c) => page(c, store.calls, 'calls'));
  app.post('/next', async (c) => {
    const person = store.find((await c.req.json<{ id: number }>()).id);
    if (!person) throw new Wrong(404, 'id', 'There is no such person.');
    if (person.doNotCall) throw new Wrong(409, 'doNotCall', 'This person wants no calls.');
    return written(c, () => {
      store.callNext(person.id, nowIso());
      return c.body(null, 204);
    });
  });
  app.put('/hook', async (c) => {
    const { url, secret } = await c.req.json<{ url: string; secret: string }>();
    if (!/^https?:\/\//.test(url ?? '') || !isText(secret) || secret.length < 16)
      throw new Wrong(422, 'hook', 'A hook has an address and a secret of 16 characters and more.');
    store.hook = { url, secret };
    return c.body(null, 204);
  });
  app.delete('/hook', (c) => {
    store.hook = null;
    return c.body(null, 204);
  });
  return app;
}
