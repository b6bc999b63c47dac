import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { object, string } from 'yup';
import { part, text, whole } from '@gray-loom/wire';
import { createApp } from './app';
import { consumers } from './consumers';
import { inTransaction } from './db/connect';
import { FeedReaders, type Consumer } from './feed/consumer';
import { EventHub } from './feed/events';
import { json, route } from './http/declare';
import { createLogger } from './log';
import { allRoutes } from './routes';
import { runKinds } from './run-kinds';
import { RunKinds, type RunKind } from './runs/kind';
import { markProgress } from './runs/lease';
import { finishRun, handThread, requestStop, startRun } from './runs/runs';
import { workHere } from './runs/work-here';
import { startTestApp, type TestApp } from './testing/start-test-app';

/*
 * What docs/architecture.md walks a newcomer through: a route, a kind of run and a reader of the feed. Each is a file of its own; the
 * one existing file that it touches is the list it is added to (routes.ts, run-kinds.ts, consumers.ts).
 */

const greeting = route({
  method: 'get',
  path: '/greetings/:name',
  summary: 'Greets somebody.',
  may: 'editor',
  params: object({ name: string().max(20).required() }),
  answer: json(part({ words: text(), length: whole() })),
  example: { params: { name: 'Maya' } },
  handle: ({ params, actor }) => ({
    words: `Good day, ${params.name}, from ${actor.kind === 'person' ? actor.name : 'nobody'}`,
    length: params.name.length,
  }),
});

const countRun: RunKind = {
  kind: 'count',
  name: 'counts',
  doing: 'Counting',
  sentence: ({ title, counts }) => `${title}: ${counts.people ?? 0} people`,
  undo: null,
  work: {
    thread: { name: 'counting', heapMb: 128, idleMs: 1000 },
    size: () => 'short',
    pauses: false,
    stops: 'anytime',
    retries: 1,
    do: async ({ database, lease, leaseMs }) => {
      await inTransaction(database, async (tx) => {
        const { rows } = await tx.client.query<{ n: number }>('select count(*)::int as n from contact');
        const people = rows[0]?.n ?? 0;
        await markProgress(tx, lease, { done: people, total: people }, {}, leaseMs);
        await finishRun(tx, lease.runId, 'done', { people });
      });
    },
  },
};

const heard: string[] = [];
const listener: Consumer = {
  name: 'listener',
  sentence: 'Hears who changed.',
  from: 'now',
  batch: 10,
  handle: async (_, changes) => void heard.push(...changes.map(({ contactId }) => `contact ${contactId}`)),
};

let app: TestApp;
let log: ReturnType<typeof createLogger>;
beforeAll(async () => {
  app = await startTestApp();
  log = createLogger('test', 'silent');
});
afterAll(() => app.end());

test('a route that is added to the list is checked, answered and described like any other', async () => {
  const surroundings = {
    config: app.config,
    log,
    kinds: runKinds,
    consumers,
    events: new EventHub(app.database, log),
  };
  const grown = createApp({
    ...surroundings,
    database: app.database,
    routes: [...allRoutes(surroundings), greeting],
  });
  const signIn = await grown.request('/api/session', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email: 'ines@quillhaven.example', password: 'a good password' }),
  });
  const headers = { Cookie: signIn.headers.get('set-cookie')?.split(';')[0] ?? '' };
  expect((await grown.request('/api/greetings/Maya')).status).toBe(401);
  expect((await grown.request(`/api/greetings/${'M'.repeat(21)}`, { headers })).status).toBe(404);
  const answer = await grown.request('/api/greetings/Maya', { headers });
  expect(await answer.json()).toEqual({ words: 'Good day, Maya, from Ines Carvalho', length: 4 });
  const described = (await (await grown.request('/api/openapi.json')).json()) as { paths: Record<string, unknown> };
  expect(described.paths['/greetings/{name}']).toMatchObject({ get: { summary: 'Greets somebody.' } });
});

test('a kind of run that is added to the list is worked on, told of in the ledger and taken for what it declares', async () => {
  const kinds = new RunKinds([...runKinds.all, countRun]);
  await app.enter({ familyName: 'Okafor', email: 'o@example.org' });
  const runId = await inTransaction(app.database, async (tx) =>
    startRun(tx, { kind: 'count', state: 'queued', threadId: await handThread(tx), title: 'Everybody' }),
  );
  const done = await workHere(
    { database: app.database, config: app.config, log, kinds, threadFile: String },
    runId,
    60_000,
  );
  expect(done).toMatchObject({ state: 'done', counts: { people: 1 } });
  expect(done && kinds.sentence(done)).toBe('Everybody: 1 people');
  expect(kinds.find('count')?.undo).toBeNull();
  // It is over, so there is nothing to stop.
  expect(await requestStop(app.database, kinds, runId)).toBe(false);
});

test('a reader that is added to the list hears of every change once', async () => {
  const readers = new FeedReaders(app.database, [...consumers, listener], log);
  await readers.open();
  const { contactId } = await app.enter({ familyName: 'Brandt', email: 'b@example.org' });
  await readers.readAll();
  await readers.readAll();
  expect(heard).toEqual([`contact ${contactId}`]);
});
