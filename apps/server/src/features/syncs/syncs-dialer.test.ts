import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type {
  ConnectionDetail,
  ConnectionTestResult,
  ContactDetail,
  ContactPage,
  OutsideFieldMade,
  RunSummary,
} from '@gray-loom/wire';
import { startDialer, type Dialer } from '../../../../stand-ins/src/dialer/server';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

const KEY = Buffer.alloc(32, 5).toString('base64');
let dialer: Dialer;
let app: TestApp;
let connectionId: number;
const settings = () => ({ address: dialer.url, key: 'secret' });
const now = () => new Date().toISOString();

beforeAll(async () => {
  dialer = await startDialer({ port: 0, file: null, key: 'secret' });
  dialer.setFaults({ perSecond: 0 });
  app = await startTestApp({ GRAY_LOOM_KEY: KEY, GRAY_LOOM_STAND_INS: `http://:secret@127.0.0.1:${dialer.port}/v1` });
});
afterAll(async () => {
  await app.end();
  await dialer.stop();
});

async function run(trial = false): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>(`/connections/${connectionId}/run`, 'POST', { trial });
  return app.work(runId);
}
const personOver = (name: string) => dialer.store.list().find((one) => one.name === name);
const idOf = async (find: string) => (await app.json<ContactPage>(`/contacts?find=${find}`)).rows[0]?.id ?? 0;
const detail = async (find: string) => app.json<ContactDetail>(`/contacts/${await idOf(find)}`);
const callState = async (find: string) =>
  (await detail(find)).permissions.channels.find(({ channel }) => channel === 'call')?.state;

test('the stand-in is offered, tested, and connected by its key', async () => {
  expect(await app.json('/stand-ins')).toEqual([{ kind: 'dialer', settings: settings() }]);
  const test = (key: string) =>
    app.json<ConnectionTestResult>('/connections/test', 'POST', {
      kind: 'dialer',
      settings: { ...settings(), key },
      of: null,
    });
  expect((await test('wrong')).steps.at(-1)).toMatchObject({
    ok: false,
    text: expect.stringContaining('does not take the key') as unknown,
  });
  expect((await test('secret')).capabilities?.fields.map(({ key }) => key)).toEqual([
    'name',
    'tel',
    'email',
    'field.town',
  ]);
  ({ id: connectionId } = await app.json<{ id: number }>('/connections', 'POST', {
    kind: 'dialer',
    name: 'Phone bank',
    settings: settings(),
  }));
  const { kind, settings: shown } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
  expect([kind, shown]).toEqual(['dialer', { address: dialer.url }]);
});

test('people come to be in step, a cut name in capitals does not come back, and an idle pass writes nothing', async () => {
  await app.enter({ givenName: 'Ana', familyName: 'Reis', tel: '+44 7700 900101', email: 'ana@quillhaven.example' });
  await app.enter({ givenName: 'Maximiliana', familyName: 'Featherstonehaugh-Cholmondeley', tel: '+44 7700 900102' });
  dialer.store.put(null, { name: 'Ana Reis', phones: [{ number: '+44 7700 900101', doNotCall: false }] }, now());
  dialer.store.put(null, { name: 'Tom Okoro', phones: [{ number: '+44 7700 900103', doNotCall: false }] }, now());
  const { setup } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
  await app.json(`/connections/${connectionId}`, 'PATCH', { setup: { ...setup, newThere: true } });
  await run(true);
  const first = await run();
  expect(first.counts).toMatchObject({ linked: 1, madeHere: 1, madeThere: 1, conflicts: 0, failed: 0 });
  expect(personOver('ANA REIS')?.email).toBe('ana@quillhaven.example');
  expect(personOver('MAXIMILIANA FEATHERSTONEHAUGH-CHOLMONDEL')?.phones[0]?.number).toBe('+44 7700 900102');
  expect((await detail('okoro')).name).toBe('Tom Okoro');
  const written = dialer.counts.written;
  await run();
  const idle = await run();
  expect(idle.words).toBe('Phone bank: nothing to do');
  expect(dialer.counts.written).toBe(written);
  expect((await detail('featherstone')).name).toBe('Maximiliana Featherstonehaugh-Cholmondeley');
});

test('edits cross both ways, and a stop from either side holds on both', async () => {
  const tom = personOver('TOM OKORO');
  dialer.store.put(tom?.id ?? 0, { email: 'tom@quillhaven.example', doNotCall: true }, now());
  await app.edit(await idOf('reis'), { field: 'tel', text: '+44 7700 900199' });
  await app.json(`/contacts/${await idOf('featherstone')}/permissions`, 'POST', {
    channel: 'call',
    state: 'optedOut',
    how: 'by letter',
    statedAt: '2026-05-01T00:00:00Z',
  });
  expect((await run()).words).toContain('2 with a stop passed on');
  expect((await detail('okoro')).record.f.email?.[0]?.v).toBe('tom@quillhaven.example');
  expect(await callState('okoro')).toBe('optedOut');
  expect(personOver('ANA REIS')?.phones.map(({ number }) => number)).toContain('+44 7700 900199');
  expect(personOver('MAXIMILIANA FEATHERSTONEHAUGH-CHOLMONDEL')?.doNotCall).toBe(true);
  // Taken back over there it still holds here, and is said there anew.
  dialer.store.put(tom?.id ?? 0, { doNotCall: false }, now());
  await run();
  expect([await callState('okoro'), personOver('TOM OKORO')?.doNotCall]).toEqual(['optedOut', true]);
});

test('requests put off and lost answers leave nobody twice and nothing undone', async () => {
  for (let i = 0; i < 30; i++)
    await app.enter({
      givenName: `Given${'abcdef'[i % 6]}${'klmno'[i % 5]}`,
      familyName: `Fam${i}`,
      tel: `+44 7700 9003${10 + i}`,
    });
  dialer.setFaults({ busy: 0.2, retryAfterS: 0, lostAnswer: 0.4, disorder: 0.5 });
  for (let i = 0; i < 6; i++) await run().catch(() => null);
  dialer.setFaults({ busy: 0, lostAnswer: 0, disorder: 0 });
  await run();
  await run();
  const numbers = dialer.store.list().flatMap(({ phones }) => phones.map(({ number }) => number.replace(/ /g, '')));
  const ours = numbers.filter((number) => number.startsWith('+4477009003'));
  expect([ours.length, new Set(ours).size]).toEqual([30, 30]);
  expect((await run()).words).toBe('Phone bank: nothing to do');
});

test('groups are treated differently: one is replaced, one filled, one takes part only when sent by hand as well', async () => {
  const list = dialer.store.addList('Regatta');
  const put = (name: string, lists: number[]) =>
    dialer.store.put(null, { name, phones: [], fields: { town: 'Rigger' }, lists }, now());
  const [replaced, filled] = [put('Kerensa Rope', [list.id]), put('Loveday Rope', [])];
  const { setup } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
  const nothing = { tags: [], source: '', owner: '', stage: '' };
  const scopes = [
    { id: 'hand', who: { kind: 'everybody' }, andSent: true, give: { ...nothing, source: 'Phone evening' } },
    {
      id: 'list',
      who: { kind: 'labelThere', label: 'Regatta' },
      rule: 'replace',
      give: { ...nothing, tags: ['Crew'] },
    },
    { id: 'rest', who: { kind: 'everybody' }, rule: 'fill', give: nothing },
  ];
  const lines = [
    ...setup.lines.filter(({ outside }) => outside !== 'field.town'),
    { id: 'town', field: 'title', outside: 'field.town', direction: 'in', rule: 'ask' },
  ];
  await app.json(`/connections/${connectionId}`, 'PATCH', { setup: { ...setup, lines, newHere: true, scopes } });
  await run(true);
  await run();
  for (const { id } of [replaced, filled]) dialer.store.put(id, { fields: { town: 'Sailmaker' } }, now());
  await run();
  const of = async (name: string) => {
    const { record } = await detail(name);
    const texts = (field: string) => record.f[field]?.map(({ v }) => v) ?? [];
    return { title: texts('title'), tags: texts('tags'), source: texts('source') };
  };
  expect(await of('kerensa')).toMatchObject({ title: ['Sailmaker'], tags: ['Crew'], source: [] });
  expect(await of('loveday')).toMatchObject({ title: ['Rigger'], tags: [], source: [] });
  await app.json(`/contacts/${await idOf('loveday')}/syncs/${connectionId}`, 'PUT', { choice: 'send' });
  await run();
  expect((await of('loveday')).source).toEqual(['Phone evening']);
});

test('a field that is missing over there is made from here, with its options, and filled', async () => {
  const made = await app.json<OutsideFieldMade>(`/connections/${connectionId}/fields`, 'POST', {
    name: 'Berth side',
    type: 'choice',
    options: ['port', 'starboard'],
  });
  expect(made).toEqual({ key: 'field.berth_side', name: 'Berth side' });
  const again = app.json(`/connections/${connectionId}/fields`, 'POST', { name: 'Berth side', type: 'text' });
  expect(await refusal(again)).toMatchObject({ status: 409, code: 'toolTrouble' });
  const blank = app.json(`/connections/${connectionId}/fields`, 'POST', { name: 'Berth', type: 'choice' });
  expect((await refusal(blank)).code).toBe('noOptions');
  const { setup } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
  const line = { id: 'berth', field: '', outside: made.key, direction: 'out', rule: 'replace', fixed: 'port' };
  const changed = await app.json<ConnectionDetail>(`/connections/${connectionId}`, 'PATCH', {
    setup: { ...setup, lines: [...setup.lines, line] },
  });
  expect(changed.limits.berth).toContain('only port, starboard');
  await run(true);
  await app.edit(await idOf('kerensa'), { field: 'nickname', text: 'Kerry' });
  await run();
  expect(personOver('KERENSA ROPE')?.fields).toMatchObject({ berth_side: 'port' });
});
