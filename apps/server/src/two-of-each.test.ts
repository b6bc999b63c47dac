import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { IntakeDetail, RunSummary } from '@gray-loom/wire';
import { RealApp, type Beside } from './testing/real-app';

let app: RealApp;
let first: Beside;
let second: Beside;
let cookie: string;

beforeAll(async () => {
  app = await RealApp.start();
  first = app.own;
  ({ cookie } = app.own);
  second = await app.startBeside();
});
afterAll(() => app.end());

async function ask(server: Beside, path: string, method = 'GET', body?: unknown, own = cookie) {
  const answer = await fetch(`${server.base}${path}`, {
    method,
    headers: { Cookie: own, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: (text ? JSON.parse(text) : null) as unknown, headers: answer.headers };
}
const signIn = (server: Beside, password: string) =>
  ask(server, '/session', 'POST', { email: 'ines@quillhaven.example', password }, '');
const progress = async (runId: number) => (await ask(first, `/runs/${runId}`)).body as RunSummary;
const enter = (server: Beside, givenName: string, email: string) =>
  ask(server, '/contacts', 'POST', {
    values: [
      { field: 'givenName', text: givenName },
      { field: 'familyName', text: 'Okoro' },
      { field: 'email', text: email },
    ],
  });

test('a session that one server opened is good at the other, and ends at both', async () => {
  const opened = await signIn(second, 'a good password');
  const own = opened.headers.get('set-cookie')?.split(';')[0] ?? '';
  expect((await ask(first, '/session', 'GET', undefined, own)).status).toBe(200);
  await ask(first, '/session', 'DELETE', undefined, own);
  expect((await ask(second, '/session', 'GET', undefined, own)).status).toBe(401);
});

test('what happens at one is told at the other', async () => {
  const stop = new AbortController();
  const stream = await fetch(`${second.base}/events`, { headers: { Cookie: cookie }, signal: stop.signal });
  const reader = stream.body?.pipeThrough(new TextDecoderStream()).getReader();
  let heard = '';
  const listening = (async () => {
    while (!heard.includes('event: contacts') && !heard.includes('event: run'))
      heard += (await reader?.read())?.value ?? '';
  })();
  await enter(first, 'Tom', 'tom@example.org');
  await listening;
  stop.abort();
  expect(heard).toMatch(/event: (contacts|run)/);
});

test('of two who enter the same person at one moment, one at each, one is told', async () => {
  for (let n = 0; n < 6; n++) {
    const email = `same${n}@example.org`;
    const statuses = (await Promise.all([first, second].map((server) => enter(server, `Same${n}`, email)))).map(
      ({ status }) => status,
    );
    expect(statuses.sort()).toEqual([201, 409]);
  }
});

test('tries to sign in count together', async () => {
  const statuses: number[] = [];
  for (let n = 0; n < 60 && !statuses.includes(429); n++)
    statuses.push((await signIn(n % 2 ? second : first, 'not the password')).status);
  expect(statuses.at(-1)).toBe(429);
  expect((await signIn(first, 'not the password')).status).toBe(429);
  expect((await signIn(second, 'not the password')).status).toBe(429);
});

test('one server and one worker are killed while a file comes in: the others bring in the rest, each row once', async () => {
  const rows = 12_000;
  const text = ['Given name,Family name,E-mail']
    .concat(Array.from({ length: rows }, (_, i) => `Given${i},Family${i},row${i}@example.org`))
    .join('\n');
  const taken = await fetch(`${first.base}/intakes`, {
    method: 'POST',
    headers: { Cookie: cookie, 'X-File-Name': 'many.csv', 'Content-Type': 'application/octet-stream' },
    body: text,
  });
  const { id } = (await taken.json()) as IntakeDetail;
  const { runId } = (await ask(first, `/intakes/${id}/import`, 'POST')).body as { runId: number };
  // In the middle of it, where that is caught.
  for (let i = 0; i < 200 && (await progress(runId)).state === 'queued'; i++)
    await new Promise((done) => setTimeout(done, 20));
  await Promise.all([app.killForGood('worker'), app.killForGood('server')]);
  let run: RunSummary;
  do {
    await new Promise((done) => setTimeout(done, 250));
    run = (await ask(second, `/runs/${runId}`)).body as RunSummary;
  } while (['queued', 'running'].includes(run.state));
  expect([run.state, run.counts.new]).toEqual(['done', rows]);
  const { total } = (await ask(second, '/contacts?find=row&limit=1')).body as { total: number };
  expect(total).toBeGreaterThanOrEqual(4000);
  const lists = (await ask(second, '/lists')).body as { people: number };
  expect(lists.people).toBe(rows + 7);
  expect((await enter(second, 'After', 'after@example.org')).status).toBe(201);
});
