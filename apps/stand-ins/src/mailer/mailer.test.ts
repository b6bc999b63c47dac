import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { NO_FAULTS } from '../faults';
import { startMailer, type Mailer } from './server';
import type { Entry, MailList } from './store';

const CLIENT = { id: 'gray-loom', secret: 'a secret of the mail room' };
let mailer: Mailer;
let token = '';
beforeAll(async () => {
  mailer = await startMailer({ port: 0, file: null, client: CLIENT });
});
beforeEach(async () => {
  mailer.setFaults(NO_FAULTS);
  token = (await tokenBy(CLIENT)).access_token ?? '';
});
afterAll(() => mailer.stop());

async function tokenBy({
  id,
  secret,
}: typeof CLIENT): Promise<{ access_token?: string; expires_in?: number; error?: string }> {
  const body = new URLSearchParams({ grant_type: 'client_credentials' });
  const headers = { Authorization: `Basic ${Buffer.from(`${id}:${encodeURIComponent(secret)}`).toString('base64')}` };
  return (await fetch(`${mailer.url}/oauth/token`, { method: 'POST', body, headers })).json() as Promise<object>;
}
async function ask<T = never>(path: string, method = 'GET', body?: unknown): Promise<{ status: number; body: T }> {
  const answer = await fetch(`${mailer.url}/v1${path}`, {
    method,
    headers: { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: (/^[[{]/.test(text) ? JSON.parse(text) : null) as T };
}
const form = (path: string, parts: Record<string, string>) =>
  fetch(mailer.url + path, { method: 'POST', body: new URLSearchParams(parts), redirect: 'manual' });
const make = async (address: string, more: object = {}) =>
  (await ask<Entry>('/entries', 'POST', { address, ...more })).body;

describe('tokens', () => {
  test('are given for the right client, and end', async () => {
    expect(await tokenBy({ ...CLIENT, secret: 'wrong' })).toEqual({ error: 'invalid_client' });
    expect((await ask('/account')).status).toBe(200);
    mailer.setFaults({ tokenEnds: 1 });
    expect((await ask('/account')).status).toBe(401);
    mailer.setFaults({ tokenEnds: 0 });
    expect((await ask('/account')).status).toBe(401);
    mailer.setFaults({ tokenS: 7 });
    expect((await tokenBy(CLIENT)).expires_in).toBe(7);
  });
});

describe('entries', () => {
  test('there is one for each address; another address is the same entry under another name', async () => {
    const made = await make('Ana@example.org', { ref: 'r1', given: 'Ana', columns: { boat: 'x'.repeat(60) } });
    expect(made).toMatchObject({ address: 'Ana@example.org', columns: { boat: 'x'.repeat(50) } });
    expect((await ask('/entries', 'POST', { address: 'ana@EXAMPLE.org' })).status).toBe(409);
    await make('tom@example.org');
    expect((await ask('/entries/tom%40example.org', 'PATCH', { newAddress: 'ana@example.org' })).status).toBe(409);
    const renamed = (await ask<Entry>('/entries/ana%40example.org', 'PATCH', { newAddress: 'ana.reis@example.org' }))
      .body;
    expect(renamed).toMatchObject({ address: 'ana.reis@example.org', ref: 'r1', given: 'Ana' });
    expect((await ask('/entries/ana%40example.org')).status).toBe(404);
    const found = await ask<{ entries: Entry[] }>('/entries/some', 'POST', { refs: ['r1'] });
    expect(found.body.entries.map(({ address }) => address)).toEqual(['ana.reis@example.org']);
  });
  test.each([
    ['no address', { given: 'A' }],
    ['no such column', { address: 'a@example.org', columns: { sail: 'x' } }],
    ['no such part', { address: 'a@example.org', phone: 'x' }],
  ])('are refused with %s', async (_, parts) => expect((await ask('/entries', 'POST', parts)).status).toBe(422));

  test('are told from a second on, those of that second again, and who is gone', async () => {
    await make('bo@example.org');
    await make('cy@example.org');
    const all = (await ask<{ entries: Entry[] }>('/entries?limit=500')).body.entries;
    const since = all.at(-1)?.changedAt ?? '';
    await ask('/entries/cy%40example.org', 'DELETE');
    const next = (await ask<{ entries: Entry[]; gone: { address: string }[] }>(`/entries?since=${since}`)).body;
    expect(next.entries.map(({ address }) => address)).toContain('bo@example.org');
    expect(next.gone.map(({ address }) => address)).toContain('cy@example.org');
    mailer.setFaults({ tokenLost: 1 });
    expect((await ask(`/entries?since=${since}`)).status).toBe(410);
  });
});

describe('lists', () => {
  test('have strands; an entry is in the list while it is in one, and out of it by its own word for good', async () => {
    const { body: list } = await ask<MailList>('/lists', 'POST', { name: 'News' });
    const { body: strand } = await ask<{ id: number }>(`/lists/${list.id}/strands`, 'POST', { name: 'Regatta' });
    expect((await ask(`/lists/${list.id}/strands`, 'POST', { name: 'Regatta' })).status).toBe(200);
    await make('di@example.org');
    const moved = await ask(`/lists/${list.id}/members`, 'POST', {
      add: ['di@example.org', 'nobody@example.org'],
      strand: strand.id,
    });
    expect(moved.body).toEqual({ failed: [{ address: 'nobody@example.org', message: 'There is no such entry.' }] });
    const members = async () =>
      (await ask<{ entries: Entry[] }>(`/lists/${list.id}/members?strand=${strand.id}`)).body.entries.map(
        ({ address }) => address,
      );
    expect(await members()).toEqual(['di@example.org']);
    await ask(`/lists/${list.id}/states`, 'POST', { address: 'di@example.org', state: 'off' });
    expect(
      (await ask(`/lists/${list.id}/states`, 'POST', { address: 'di@example.org', state: 'reachable' })).status,
    ).toBe(422);
    await ask(`/lists/${list.id}/members`, 'POST', { add: ['di@example.org'], strand: strand.id });
    expect(mailer.store.find('di@example.org')?.lists[0]?.state).toBe('off');
    await ask(`/lists/${list.id}/members`, 'POST', { remove: ['di@example.org'], strand: strand.id });
    expect(await members()).toEqual([]);
    expect((await ask('/lists/999/members')).status).toBe(404);
  });
});

describe('jobs', () => {
  const start = async (entries: object[]) => (await ask<{ id: string }>('/jobs', 'POST', { entries })).body.id;
  const look = async (id: string) =>
    (await ask<{ state: string; results: { address: string; ok: boolean }[] }>(`/jobs/${id}`)).body;

  test('answer later, for each entry by itself', async () => {
    mailer.setFaults({ jobMs: 300 });
    const id = await start([
      { address: 'job1@example.org' },
      { address: 'no address' },
      { op: 'remove', address: 'bo@example.org' },
    ]);
    expect(await look(id)).toEqual({ state: 'working', results: [] });
    mailer.setFaults({ clockMs: 1000 });
    expect((await look(id)).results.map(({ ok }) => ok)).toEqual([true, false, true]);
    expect(mailer.store.find('bo@example.org')).toBeUndefined();
  });
  test('may never answer, answer twice, and for somebody else', async () => {
    mailer.setFaults({ jobNever: 1 });
    expect((await look(await start([{ address: 'job2@example.org' }]))).state).toBe('working');
    expect(mailer.store.find('job2@example.org')).toBeDefined();
    mailer.setFaults({ jobNever: 0, jobTwice: 1, jobStray: 1 });
    const { results } = await look(await start([{ address: 'job3@example.org' }]));
    expect(results.map(({ address }) => address)).toEqual([
      'job3@example.org',
      'job3@example.org',
      'somebody.else@example.org',
    ]);
  });
});

test('a mailing goes to those who may be written to, and what becomes of it is told in pages', async () => {
  const list = mailer.store.addList('Alumni');
  const now = new Date().toISOString();
  for (const address of ['ed@example.org', 'flo@example.org', 'gus@example.org']) {
    await make(address);
    mailer.store.place(address, list.id, [], now);
  }
  mailer.store.say('gus@example.org', list.id, 'off', now);
  const before = (await ask<{ cursor: string }>('/events?limit=500')).body.cursor;
  await form('/mailing', { subject: 'Regatta', list: String(list.id) });
  const { id } = mailer.store.mailings.at(-1) ?? { id: 0 };
  await form('/event', {
    mailing: String(id),
    address: 'ed@example.org',
    event: 'clicked',
    link: 'https://quillhaven.example/gig',
  });
  await form('/event', { mailing: String(id), address: 'flo@example.org', event: 'undeliverable' });
  const { events } = (
    await ask<{ events: { address: string; event: string; link: string }[] }>(`/events?cursor=${before}`)
  ).body;
  expect(events.map(({ address, event, link }) => [address, event, link])).toEqual([
    ['ed@example.org', 'sent', ''],
    ['flo@example.org', 'sent', ''],
    ['ed@example.org', 'clicked', 'https://quillhaven.example/gig'],
    ['flo@example.org', 'undeliverable', ''],
  ]);
  expect(mailer.store.find('flo@example.org')?.state).toBe('undeliverable');
});

test('its page shows entries, takes changes and removes them', async () => {
  const list = mailer.store.addList('Press');
  await form('/entry', {
    was: '',
    address: 'jo@example.org',
    given: 'Jo',
    family: 'Quay',
    [`list.${list.id}`]: 'on',
    [`state.${list.id}`]: 'off',
  });
  expect(await (await fetch(`${mailer.url}/?find=jo@`)).text()).toContain('Press: off');
  expect((await form('/entry', { was: '', address: 'jo@example.org' })).status).toBe(422);
  await form('/entry', { was: 'jo@example.org', address: 'jo.quay@example.org', given: 'Jo', family: 'Quay' });
  expect(mailer.store.find('jo@example.org')).toBeUndefined();
  expect(await (await fetch(`${mailer.url}/entry?address=jo.quay@example.org`)).text()).toContain(
    'jo.quay@example.org',
  );
  await form('/entry', { was: 'jo.quay@example.org', remove: '1' });
  expect(mailer.store.find('jo.quay@example.org')).toBeUndefined();
});
