import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { calledInWords } from '@gray-loom/wire';
import type {
  ActivityPage,
  CalledNext,
  Calls,
  ConnectionDetail,
  ContactDetail,
  ContactPage,
  Results,
  RunSummary,
  Worklist,
} from '@gray-loom/wire';
import { signatureOf } from '../../../../stand-ins/src/dialer/hook';
import { startDialer, type Dialer } from '../../../../stand-ins/src/dialer/server';
import type { Call } from '../../../../stand-ins/src/dialer/store';
import { secretOfHook } from '../../secrets';
import { refusal } from '../../testing/refusal';
import { carryStops } from './late-stops';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

const KEY = Buffer.alloc(32, 6);
let dialer: Dialer;
let app: TestApp;
let id: number;
let hook: string;
const now = () => new Date().toISOString();

beforeAll(async () => {
  dialer = await startDialer({ port: 0, file: null, key: 'secret' });
  dialer.setFaults({ perSecond: 0 });
  app = await startTestApp({
    GRAY_LOOM_KEY: KEY.toString('base64'),
    GRAY_LOOM_STAND_INS: `http://:secret@127.0.0.1:${dialer.port}/v1`,
  });
  ({ id } = await app.json<{ id: number }>('/connections', 'POST', {
    kind: 'dialer',
    name: 'Phone bank',
    settings: { address: dialer.url, key: 'secret' },
  }));
  const { setup, hook: address } = await app.json<ConnectionDetail>(`/connections/${id}`);
  hook = address;
  await app.json(`/connections/${id}`, 'PATCH', { setup: { ...setup, newThere: true } });
  await pass(true);
  await pass();
  await app.json(`/connections/${id}`, 'PATCH', { state: 'on' });
});
afterAll(async () => {
  await app.end();
  await dialer.stop();
});

async function pass(trial = false): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>(`/connections/${id}/run`, 'POST', { trial });
  return app.work(runId);
}
async function take(): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>(`/connections/${id}/results/run`, 'POST');
  return app.work(runId);
}
/** Does everything that waits, the first first, and what follows from it. */
async function workAll(): Promise<void> {
  for (;;) {
    const { runs } = await app.json<{ runs: RunSummary[] }>('/runs?limit=20');
    const next = runs.filter(({ state }) => state === 'queued').at(-1);
    if (!next) return;
    await app.work(next.id);
  }
}
const results = () => app.json<Results>(`/connections/${id}/results`);
const idOf = async (find: string) =>
  (await app.json<ContactPage>(`/contacts?find=${encodeURIComponent(find)}`)).rows[0]?.id ?? 0;
const entries = async (contactId: number, kinds = 'call,enquiry') =>
  (await app.json<ActivityPage>(`/contacts/${contactId}/activities?kinds=${kinds}`)).entries.map(
    ({ activity }) => activity,
  );
const call = (parts: Partial<Call>) =>
  dialer.store.addCall({
    direction: 'out',
    number: '+44 7700 900301',
    dialled: '',
    outcome: 'reached',
    minutes: 4,
    at: '2026-11-20T10:00:00.000Z',
    caller: 'Ines Carvalho',
    ...parts,
  });

test('a call stands with the contact whose record it names, once, however often it is asked for', async () => {
  const { contactId } = await app.enter({ givenName: 'Ana', familyName: 'Reis', tel: '+44 7700 900301' });
  await pass();
  call({});
  call({ outcome: 'noAnswer', minutes: 0, at: '2026-11-21T10:00:00.000Z', caller: 'Somebody' });
  expect((await take()).words).toBe('Results of Phone bank: 2 with contacts');
  const [second, first] = await entries(contactId);
  expect(first).toMatchObject({ kind: 'call', outcome: 'reached', minutes: 4, at: '2026-11-20T10:00:00.000Z', who: 1 });
  expect(second).toMatchObject({ outcome: 'no answer', who: null, text: 'Made by Somebody.' });
  expect((await take()).words).toBe('Results of Phone bank: nothing new');
  // A tool that does not know where we were lists everything anew.
  dialer.setFaults({ tokenLost: 1 });
  expect((await take()).words).toBe('Results of Phone bank: nothing new');
  dialer.setFaults({ tokenLost: 0 });
  expect(await entries(contactId)).toHaveLength(2);
  const { days, callers } = await results();
  expect(days.map(({ outcome, n }) => [outcome, n])).toEqual([
    ['reached', 1],
    ['no answer', 1],
  ]);
  expect(callers[0]).toEqual({ by: 'Ines Carvalho', minutes: 4, calls: 1 });
});

test('one that cannot be read holds up none of the others, and is said', async () => {
  call({ at: 'yesterday' });
  call({ minutes: 'long' as never });
  call({ at: '2026-11-23T10:00:00.000Z' });
  const run = await take();
  expect([run.state, run.words]).toEqual(['done', 'Results of Phone bank: 1 with a contact, 2 that cannot be read']);
  expect((await results()).trouble).toContain('2 results cannot be read and were passed over');
  expect((await take()).words).toBe('Results of Phone bank: nothing new');
  expect((await results()).trouble).toBeNull();
});

test('one that comes before its contact waits for it, and stands with it once it is in step', async () => {
  const person = dialer.store.put(null, { name: 'Early Bird', phones: [] }, now());
  call({ personId: person.id, number: '+44 7700 900999' });
  expect((await take()).counts).toMatchObject({ waiting: 1, entries: 0 });
  await pass();
  await workAll();
  expect(await entries(await idOf('Early Bird'))).toHaveLength(1);
  expect((await results()).waits).toBe(0);
});

test('a caller whom nobody knows is an enquiry by the number that was dialled; calling again makes no second contact', async () => {
  await app.json(`/connections/${id}/results`, 'PATCH', { sources: { '+44 1632 960100': 'Boat fair line' } });
  const unknown = { direction: 'in', number: '+44 7700 900777', dialled: '+44 1632 960100', personId: null } as const;
  call({ ...unknown, caller: 'Ines Carvalho' });
  call({ ...unknown, at: '2026-11-22T10:00:00.000Z' });
  expect((await take()).counts).toMatchObject({ enquiries: 2 });
  const contactId = await idOf('+44 7700 900777');
  const { record } = await app.json<ContactDetail>(`/contacts/${contactId}`);
  expect(record.f.source?.[0]?.v).toBe('Boat fair line');
  const [enquiry] = await entries(contactId);
  expect(enquiry).toMatchObject({
    kind: 'enquiry',
    isOpen: true,
    from: 'Boat fair line',
    what: 'Called from +44 7700 900777',
  });
  call({ ...unknown, at: '2026-11-23T10:00:00.000Z' });
  expect((await take()).counts).toMatchObject({ enquiries: 0, entries: 1 });
  expect(await entries(contactId)).toHaveLength(3);
});

test('a number goes on standing for its source when that is renamed, and when a merge of sources is taken back', async () => {
  const source = async () => (await results()).numbers.find(({ number }) => number === '+44 1632 960100')?.source;
  await app.json('/picks/merge', 'POST', { list: 'source', from: 'Boat fair line', into: 'Fair line' });
  await workAll();
  expect(await source()).toBe('Fair line');
  await app.json('/picks', 'POST', { kind: 'source', label: 'Telephone' });
  await app.json('/picks/merge', 'POST', { list: 'source', from: 'Fair line', into: 'Telephone' });
  await workAll();
  expect(await source()).toBe('Telephone');
  const { runs } = await app.json<{ runs: RunSummary[] }>('/runs?limit=1');
  await app.json(`/runs/${runs[0]?.id}/undo`, 'POST', {});
  await workAll();
  expect(await source()).toBe('Fair line');
});

test('a number that two people have is asked about, and a withheld one', async () => {
  const both = [
    await app.enter({ givenName: 'Mia', familyName: 'Quay', tel: '+44 7700 900555' }),
    await app.enter({ givenName: 'Leo', familyName: 'Quay', tel: '+44 7700 900555' }, { despite: true }),
  ].map(({ contactId }) => contactId);
  const shared = call({ direction: 'in', number: '+44 7700 900555', dialled: '+44 1632 960100', personId: null });
  const withheld = call({ direction: 'in', number: '', dialled: '+44 1632 960100', personId: null });
  expect((await take()).counts).toMatchObject({ asked: 2 });
  const { open } = await results();
  expect(open.find((one) => one.id === String(shared.id))?.candidates.map((one) => one.id)).toEqual(both);
  const settle = (body: object) => app.json(`/connections/${id}/results/settle`, 'POST', body);
  await settle({ id: String(shared.id), take: 'contact', contactId: both[1] });
  await settle({ id: String(withheld.id), take: 'drop' });
  expect((await refusal(settle({ id: String(withheld.id), take: 'drop' }))).code).toBe('noSuchResult');
  expect([await entries(both[0] ?? 0), await entries(both[1] ?? 0)].map((list) => list.length)).toEqual([0, 1]);
  expect(await results()).toMatchObject({ asks: 0, open: [] });
});

test('a stop of a number holds for whoever has it, also for one who comes later', async () => {
  dialer.store.put(null, { name: 'Nobody Yet', phones: [{ number: '+44 7700 900888', doNotCall: true }] }, now());
  expect((await take()).counts).toMatchObject({ stops: 1 });
  const { contactId } = await app.enter({ givenName: 'Later', familyName: 'Comer', tel: '+44 7700 900888' });
  const { permissions } = await app.json<ContactDetail>(`/contacts/${contactId}`);
  expect(permissions.channels.find(({ channel }) => channel === 'call')?.state).toBe('optedOut');
  expect(permissions.evidence[0]?.how).toBe('Said in Phone bank');
  expect((await take()).counts).toMatchObject({ stops: 0 });
});

const told = (body: string, signature?: string) =>
  app.anonymous(hook.replace('/api', ''), {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/json', ...(signature === undefined ? {} : { 'x-signature': signature }) },
  });
/** The run that a call has begun is begun a moment after it was answered. */
const begun = async () => {
  for (let tries = 0; tries < 200; tries++) {
    const { runs } = await app.json<{ runs: RunSummary[] }>('/runs?limit=5');
    if (runs.some(({ state }) => state === 'queued')) return;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error('no run was begun');
};
const signed = (event: object, ahead = 0) => {
  const body = JSON.stringify(event);
  return [
    body,
    signatureOf(secretOfHook(hook.split('/').at(-1) ?? '', KEY), body, (Date.now() / 1000 + ahead) | 0),
  ] as const;
};

test('a signed call is kept and worked once; false, old and unsigned ones are counted and dropped', async () => {
  const contactId = await idOf('Ana Reis');
  call({ at: '2026-11-24T10:00:00.000Z' });
  const [body, signature] = signed({ kind: 'calls', ids: [99], sentAt: 'now' });
  expect((await told(body, signature)).status).toBe(200);
  expect((await told(body, signature)).status).toBe(200);
  await begun();
  await workAll();
  expect(await entries(contactId, 'call')).toHaveLength(4);
  const calls = () => app.json<Calls>(`/connections/${id}/calls`);
  expect(await calls()).toMatchObject({ falseCount: 0, waiting: 0, calls: [{ kind: 'results', body }] });

  expect((await told(body)).status).toBe(403);
  expect((await told(`${body} `, signature)).status).toBe(403);
  expect((await told(...signed({ kind: 'calls', ids: [1] }, -86_400))).status).toBe(403);
  expect((await told(...signed({ kind: 'nonsense', ids: [1] }))).status).toBe(403);
  expect((await told('x'.repeat(10_000_000), signature)).status).toBe(413);
  const { falseCount, lastFalse, calls: kept } = await calls();
  expect([falseCount, lastFalse, kept.length]).toEqual([4, 'It says nothing that is known.', 1]);
});

test('somebody who is sent over by hand comes in and stays in step, though nobody takes part by the scopes', async () => {
  const { setup } = await app.json<ConnectionDetail>(`/connections/${id}`);
  const byHand = [{ id: 'hand', who: { kind: 'byHand' }, give: { tags: [], source: '', owner: '', stage: '' } }];
  await app.json(`/connections/${id}`, 'PATCH', { setup: { ...setup, newHere: false, scopes: byHand } });
  await pass(true);
  await pass();
  const person = dialer.store.put(
    null,
    { name: 'Pushed Over', phones: [{ number: '+44 7700 900444', doNotCall: false }] },
    now(),
  );
  const other = dialer.store.put(null, { name: 'Left There', phones: [] }, now());
  await told(...signed({ kind: 'people', ids: [person.id, other.id] }));
  await begun();
  await workAll();
  expect(await idOf('Pushed Over')).toBe(0);
  await told(...signed({ kind: 'push', ids: [person.id], sentAt: now() }));
  await begun();
  await workAll();
  const contactId = await idOf('Pushed Over');
  expect(contactId).toBeGreaterThan(0);
  expect(await idOf('Left There')).toBe(0);
  dialer.store.put(person.id, { email: 'pushed@quillhaven.example' }, now());
  await pass();
  expect((await app.json<ContactDetail>(`/contacts/${contactId}`)).record.f.email?.[0]?.v).toBe(
    'pushed@quillhaven.example',
  );
});

test('a stop is carried over before the next pass, and stands on the worklist until it is', async () => {
  const late = async () => (await app.json<Worklist>('/worklist')).syncs.lateStops;
  const { contactId } = await app.enter({ givenName: 'Tamsin', familyName: 'Oarlock', tel: '+44 7700 900654' });
  await app.json(`/contacts/${contactId}/syncs/${id}`, 'PUT', { choice: 'send' });
  await pass();
  const person = () => dialer.store.list().find(({ name }) => name === 'TAMSIN OARLOCK');
  expect(person()?.doNotCall).toBe(false);
  await app.json(`/contacts/${contactId}/permissions`, 'POST', { channel: 'call', state: 'optedOut', how: 'Rang us' });
  // What was said just now is on its way; it is late a little later.
  expect(await late()).toEqual([]);
  await app.database.pool.query(`update change set at = at - interval '10 minutes' where kind = 'permission'`);
  expect(await late()).toMatchObject([{ name: 'Phone bank', count: 1, contactId, why: 'They are carried over next.' }]);
  await carryStops(app.database);
  await workAll();
  expect(person()?.doNotCall).toBe(true);
  expect(await late()).toEqual([]);
  const { runs } = await app.json<{ runs: RunSummary[] }>('/runs?limit=1');
  await carryStops(app.database);
  expect((await app.json<{ runs: RunSummary[] }>('/runs?limit=1')).runs[0]?.id).toBe(runs[0]?.id);
});

test('the next one to be called: only who is there and may be called', async () => {
  const contactId = await idOf('Pushed Over');
  const next = (of: number) => app.request(`/contacts/${of}/syncs/${id}/next`, { method: 'POST' });
  expect((await next(contactId)).status).toBe(204);
  expect(dialer.store.next[0]?.id).toBe(dialer.store.list().find(({ name }) => name === 'PUSHED OVER')?.id);
  expect((await next(await idOf('Later Comer'))).status).toBe(409);
  const { contactId: only } = await app.enter({ givenName: 'Only', familyName: 'Here', email: 'only@example.org' });
  expect((await next(only)).status).toBe(409);
  const several = (ids: number[]) => app.json<CalledNext>('/batch/next', 'POST', { what: { ids }, connectionId: id });
  const first = await idOf('Ana Reis');
  const { called, refused } = await several([first, contactId, await idOf('Later Comer'), only, 999_999]);
  expect([called, refused.map(({ why }) => why).sort()]).toEqual([1, ['gone', 'notThere', 'wantsNoCalls']]);
  expect(calledInWords({ called, refused: [{ why: 'wantsNoCalls', n: 1 }] })).toBe(
    '1 is called next; 1 wants no calls.',
  );
  const many = Array.from({ length: 21 }, (_, i) => i + 1);
  expect(await refusal(app.json('/batch/next', 'POST', { what: { ids: many }, connectionId: id }))).toMatchObject({
    status: 422,
    code: 'tooManyToCall',
  });
});

test('the tool is told to call us, and no more', async () => {
  const put = (origin: string | null) => app.json<Calls>(`/connections/${id}/hook`, 'PUT', { origin });
  expect((await put('http://127.0.0.1:4310')).url).toBe(`http://127.0.0.1:4310${hook}`);
  expect(dialer.store.hook?.secret).toBe(secretOfHook(hook.split('/').at(-1) ?? '', KEY));
  expect((await put(null)).url).toBeNull();
  expect(dialer.store.hook).toBeNull();
});
