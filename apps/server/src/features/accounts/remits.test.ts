import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ContactPage, GroupList, HeldList, IntakeDetail, MatchBoard, People, RunSummary } from '@gray-loom/wire';
import { consumers } from '../../consumers';
import { isWithin } from '../../db/remits';
import { routeName, type Route } from '../../http/declare';
import { allRoutes } from '../../routes';
import { runKinds } from '../../run-kinds';
import { bringFile, runImport } from '../../testing/run-import';
import { runScan } from '../../testing/run-scan';
import { cardOf, startSyncedApp, type SyncedApp } from '../../testing/run-sync';

let synced: SyncedApp;
let app: SyncedApp['app'];
type Ask = SyncedApp['app']['request'];
let tom: Ask;
let routes: Route[];

/** Every value of somebody outside the remit holds this; of somebody within it, the other. */
const THEIRS = 'zyxqua';
const OURS = 'okomri';

beforeAll(async () => {
  synced = await startSyncedApp([
    { name: 'a.vcf', text: cardOf({ UID: 'a', FN: `Ana ${THEIRS}`, N: `${THEIRS};Ana;;;`, TEL: '+44 7700 900801' }) },
    { name: 'b.vcf', text: cardOf({ UID: 'b', FN: `Bo ${OURS}`, N: `${OURS};Bo;;;`, TEL: '+44 7700 900802' }) },
  ]);
  app = synced.app;
  tom = await app.signedInAs('editor', 'Tom Okoro', { owners: ['Tom Okoro'], tags: ['boat fair'] });
  routes = allRoutes({
    config: app.config,
    events: { subscribe: () => () => undefined } as never,
    log: console as never,
    kinds: runKinds,
    consumers,
  });
}, 120_000);
afterAll(() => synced.end());

const asTom = async <T>(path: string, method = 'GET', body?: unknown): Promise<{ status: number; body: T }> => {
  const answer = await tom(path, {
    method,
    headers: { 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: (/^[[{]/.test(text) ? JSON.parse(text) : text) as T };
};

/** Brings people in, some of them Tom's. */
async function bring(name: string, rows: { mine: boolean; n: number }[]): Promise<RunSummary> {
  const heading = 'Given name,Family name,E-mail,Phone,Street,Town,Organization,Owner,Note';
  const lines = rows.map(({ mine, n }) => {
    const word = mine ? OURS : THEIRS;
    const owner = mine ? 'Tom Okoro' : 'Ines Carvalho';
    return [
      `G${n}${word}`,
      `F${n}${word}`,
      `${word}${n}@example.org`,
      '',
      `${n} ${word} Road`,
      `T${word}`,
      `O${word}`,
      owner,
      `note ${word}`,
    ].join(',');
  });
  return runImport(app, await bringFile(app, name, [heading, ...lines].join('\n')));
}

describe('an editor with a remit', () => {
  test('sees, finds, counts and exports only theirs, also by guessed address', async () => {
    await bring('both.csv', [
      { mine: true, n: 1 },
      { mine: false, n: 2 },
      { mine: true, n: 3 },
    ]);
    const page = (await asTom<ContactPage>('/contacts')).body;
    expect([page.total, page.rows.map(({ name }) => name.includes(OURS))]).toEqual([2, [true, true]]);
    expect((await asTom<ContactPage>(`/contacts?find=${THEIRS}`)).body.total).toBe(0);
    const all = await app.json<ContactPage>('/contacts');
    const other = all.rows.find(({ name }) => name.includes(THEIRS))?.id ?? 0;
    expect((await asTom(`/contacts/${other}`)).status).toBe(404);
    for (const path of ['/history', '/opportunities', '/syncs'])
      expect(JSON.stringify(await asTom(`/contacts/${other}${path}`))).not.toContain(THEIRS);
    expect((await asTom(`/contacts/${other}`, 'PATCH', { edits: [{ field: 'note', text: 'x' }] })).status).toBe(404);
    expect((await asTom(`/contacts/${other}`, 'DELETE')).status).toBe(404);
    const exported = await (await tom('/contacts.csv?fields=givenName,familyName,email')).text();
    expect([exported.includes(OURS), exported.includes(THEIRS)]).toEqual([true, false]);
    const people = await app.json<People>('/people');
    expect(people.accounts.find(({ name }) => name === 'Tom Okoro')?.within).toBe(2);
  });
});

/** Ids that are tried for each part of an address, whatever is behind them. */
const GUESSED = Array.from({ length: 30 }, (_, i) => i + 1);
const WORDS: Record<string, (string | number)[]> = {
  id: GUESSED,
  run: GUESSED,
  row: [1, 2, 3],
  file: GUESSED.map((n) => `${n}.vcf`),
  key: ['custom.1', 'email', 'tel', 'familyName'],
  kind: ['tag'],
  label: ['x'],
  hash: ['0'.repeat(64)],
  token: ['unknown'],
};

/** Every address of a route, with all that could stand in it. */
function addressesOf({ path }: Route): string[] {
  const names = [...path.matchAll(/:(\w+)(\{[^}]*\})?/g)];
  return names.reduce<string[]>(
    (all, [part, name = '']) =>
      all.flatMap((one) => (WORDS[name] ?? [1]).map((word) => one.replace(part, encodeURIComponent(String(word))))),
    [path],
  );
}

const QUERIES: Record<string, string[]> = {
  '/contacts': [
    '',
    `?find=${THEIRS}`,
    '?deleted=true',
    '?kind=organization',
    '?owner=Ines%20Carvalho',
    '?fields=note,adr',
  ],
  '/labels': ['?line=adr'],
  '/addresses': [`?locality=T${THEIRS}&postalCode=&country=`],
  '/intakes/:id/trial': ['?outcome=held', '?outcome=new', '?outcome=fill'],
};

/** What answers hold that nobody but whoever sees everybody may read, by address. */
async function leaksTo(ask: Ask, shown: Set<string>): Promise<string[]> {
  const leaks: string[] = [];
  const look = async (name: string, path: string, init?: RequestInit) => {
    const answer = await ask(path, init);
    const text = await answer.text();
    if (answer.status >= 500) leaks.push(`${name} ${path}: ${answer.status}`);
    if (text.includes(OURS)) shown.add(name);
    if (text.includes(THEIRS) && !path.includes(THEIRS))
      leaks.push(`${name} ${path}: ${text.slice(Math.max(0, text.indexOf(THEIRS) - 200), text.indexOf(THEIRS) + 60)}`);
    else if (path.includes(THEIRS) && text.split(THEIRS).length > 1 && !/"detail"/.test(text))
      leaks.push(`${name} ${path}: ${text.slice(0, 200)}`);
  };
  for (const route of routes) {
    if (route.method !== 'get' || route.answer.kind === 'events' || route.may === 'anyone') continue;
    for (const address of addressesOf(route))
      for (const query of QUERIES[route.path] ?? ['']) await look(routeName(route), `${address}${query}`);
  }
  const post = (body: unknown): RequestInit => ({
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  for (const n of GUESSED) {
    await look('check', '/contacts/check', post({ values: [{ field: 'email', text: `${THEIRS}${n}@example.org` }] }));
    await look('look', `/duplicates/${n}/look`, post({}));
    await look('undo', `/runs/${n}/undo`, post({}));
    await look('edit', `/contacts/${n}`, { ...post({ edits: [] }), method: 'PATCH' });
  }
  return leaks;
}

describe('nothing of anybody outside the remit is told', () => {
  test('by any address, whatever happened before', async () => {
    let n = 100;
    const shown = new Set<string>();
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ mine: fc.boolean(), twice: fc.boolean(), deleted: fc.boolean() }), {
          minLength: 3,
          maxLength: 7,
        }),
        async (people) => {
          const rows = people.flatMap(({ mine, twice }) => {
            n++;
            return twice
              ? [
                  { mine, n },
                  { mine: !mine, n },
                ]
              : [{ mine, n }];
          });
          await bring(`people ${n}.csv`, rows);
          const { rows: all } = await app.json<ContactPage>('/contacts?sort=touched&limit=60');
          const theirs = all.filter(({ name }) => name.includes(THEIRS)).map(({ id }) => id);
          const ours = all.filter(({ name }) => name.includes(OURS)).map(({ id }) => id);
          const [x = 0, y = 0] = theirs;
          const [o = 0] = ours;
          if (x && y)
            await app.json('/households', 'POST', { memberIds: [x, y], name: `House ${THEIRS}` }).catch(() => null);
          if (x && o) {
            await app.json('/households', 'POST', { memberIds: [x, o], name: `House ${THEIRS}` }).catch(() => null);
            await app.edit(o, { field: 'related', value: { relation: 'spouse', to: x } });
            await app.edit(x, { field: 'nickname', text: `Nick ${THEIRS}` });
            await app.json(`/contacts/${x}/permissions`, 'POST', {
              channel: 'post',
              state: 'optedOut',
              how: `said ${THEIRS}`,
            });
          }
          if (y && people[0]?.deleted) await app.json(`/contacts/${y}`, 'DELETE');
          await runScan(app);
          await synced.run({ trial: true });
          await synced.run();
          expect(await leaksTo(tom, shown)).toEqual([]);
        },
      ),
      { numRuns: 2, endOnFailure: true },
    );
    // A guard against a walk that is answered with nothing at all.
    expect([...shown]).toEqual(
      expect.arrayContaining(
        ['', '.csv', '.vcf', '.jsonl', '/:id']
          .map((end) => `get /contacts${end}`)
          .concat(['get /duplicates', 'get /duplicates/:id', 'get /runs/:id', 'get /runs/:id/contacts', 'get /tape']),
      ),
    );
  }, 240_000);
});
