import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, ContactPage, ContactPermissions, HeldList, IntakeDetail } from '@gray-loom/wire';
import { runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

async function upload(name: string, text: string): Promise<IntakeDetail> {
  const { id } = (await (await app.upload(name, Buffer.from(text))).json()) as { id: number };
  return app.json<IntakeDetail>(`/intakes/${id}`);
}
const idOf = async (find: string) => (await app.json<ContactPage>(`/contacts?find=${find}`)).rows[0]?.id ?? 0;
const channelsOf = async (find: string) => {
  const { permissions } = await app.json<ContactDetail & { permissions: ContactPermissions }>(
    `/contacts/${await idOf(find)}`,
  );
  const { channels, evidence } = permissions;
  return {
    channels: Object.fromEntries(
      channels.flatMap(({ channel, state }) => (state === 'unknown' ? [] : [[channel, state]])),
    ),
    evidence,
  };
};

const FILE = [
  'First name,Last name,E-mail,Do not call,Newsletter,Consent date,Left mailing list on',
  'Ada,Penrose,ada@quillhaven.example,,yes,2024-03-14,',
  'Bea,Trelawny,bea@quillhaven.example,1,no,,',
  'Cai,Rosewarne,cai@quillhaven.example,,yes,2021-01-01,2023-04-01',
  'Dee,Pascoe,dee@quillhaven.example,only in May,yes,2024-03-14,',
  '',
].join('\n');

test('what a file says of permissions comes in with day and evidence, is counted in the trial, and is let in with a held row', async () => {
  const file = await upload('list.csv', FILE);
  expect(file.mapping.columns.map(({ target }) => target)).toEqual([
    'givenName',
    'familyName',
    'email',
    'stop.call',
    'may.email',
    'permissionDate',
    'stop.email',
  ]);
  expect(await runTrial(app, file.id)).toMatchObject({ new: 3, held: 1, stops: 2, allows: 1 });
  const { id: runId, counts } = await runImport(app, file.id);
  expect(counts).toMatchObject({ new: 3, held: 1, stops: 2, allows: 1 });
  const ada = await channelsOf('Penrose');
  expect(ada.channels).toEqual({ email: 'allowed' });
  expect(ada.evidence).toMatchObject([{ how: 'Newsletter: yes', statedAt: '2024-03-14T00:00:00.000Z', runId }]);
  expect((await channelsOf('Trelawny')).channels).toEqual({ email: 'optedOut', call: 'optedOut' });
  expect((await channelsOf('Rosewarne')).channels).toEqual({ email: 'optedOut' });
  const [held] = await app.json<HeldList>(`/held?run=${runId}`).then(({ rows }) => rows);
  expect(held?.issues[0]?.text).toContain('does not say whether somebody may be contacted');
  const cells = held?.cells.map((cell) => (cell === 'only in May' ? 'yes' : cell)) ?? [];
  await app.json(`/held/${runId}/${held?.row}/let-in`, 'POST', { cells, as: 'check', asked: 'keep' });
  expect((await channelsOf('Pascoe')).channels).toEqual({ email: 'allowed', call: 'optedOut' });
});

test('the same file again says nothing new, and an allowing word without a day lifts no stop', async () => {
  const count = async () =>
    (await app.database.pool.query<{ n: number }>('select count(*)::int as n from permission_evidence')).rows[0]?.n;
  const before = await count();
  await runImport(app, (await upload('again.csv', FILE)).id);
  expect(await count()).toBe(before);
  await runImport(
    app,
    (await upload('later.csv', 'First name,Last name,E-mail,May we phone?\nBea,Trelawny,bea@quillhaven.example,yes\n'))
      .id,
  );
  expect((await channelsOf('Trelawny')).channels).toMatchObject({ call: 'optedOut' });
});

test.each([
  ['without a day', 'yes'],
  ['with a day after the stop', 'yes (2999-01-01)'],
])('a file that would lift a stop is held, %s, until a person says that it counts', async (_, said) => {
  const who = said === 'yes' ? 'Gwen' : 'Hal';
  const mail = `${who.toLowerCase()}@quillhaven.example`;
  const { contactId } = await app.enter({ givenName: who, familyName: 'Nance', email: mail });
  const stop = { channel: 'call', state: 'optedOut', how: 'by letter', statedAt: '2026-05-01T00:00:00Z' };
  await app.json(`/contacts/${contactId}/permissions`, 'POST', stop);
  const rows = [`${who},Nance,${mail},${said}`, `${who},Nance,${mail},no`];
  const { id } = await upload(`${who}.csv`, ['First name,Last name,E-mail,May we phone?', ...rows, ''].join('\n'));
  expect(await runTrial(app, id)).toMatchObject({ held: 1 });
  const { id: runId } = await runImport(app, id);
  const [held] = await app.json<HeldList>(`/held?run=${runId}`).then((list) => list.rows);
  expect(held?.issues[0]?.text).toBe(
    'The row says that this person may be called; they said stop on 1 May 2026, and a file lifts no stop.',
  );
  expect(held?.fits.map((fit) => fit.contactId)).toEqual([contactId]);
  const letIn = (as: 'check' | number) =>
    app.request(`/held/${runId}/${held?.row}/let-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ cells: held?.cells, as, asked: 'keep' }),
    });
  expect((await letIn('check')).status).toBe(422);
  expect((await letIn(contactId)).status).toBe(200);
  const { evidence } = await app
    .json<ContactDetail & { permissions: ContactPermissions }>(`/contacts/${contactId}`)
    .then(({ permissions }) => permissions);
  expect(evidence.filter(({ state }) => state === 'allowed')).toMatchObject([
    { how: expect.stringContaining('yes') as unknown },
  ]);
});

test('a further row of the same person lifts no stop either', async () => {
  const { contactId } = await app.enter({ givenName: 'Ivo', familyName: 'Nance', email: 'ivo@quillhaven.example' });
  const stop = { channel: 'call', state: 'optedOut', how: 'by letter', statedAt: '2026-05-01T00:00:00Z' };
  await app.json(`/contacts/${contactId}/permissions`, 'POST', stop);
  const rows = ['Ivo,Nance,ivo@quillhaven.example,', 'Ivo,Nance,ivo@quillhaven.example,yes (2999-01-01)'];
  const { id } = await upload('ivo.csv', ['First name,Last name,E-mail,May we phone?', ...rows, ''].join('\n'));
  await runImport(app, id);
  const { channels } = await app
    .json<ContactDetail & { permissions: ContactPermissions }>(`/contacts/${contactId}`)
    .then(({ permissions }) => permissions);
  expect(channels.find(({ channel }) => channel === 'call')?.state).toBe('optedOut');
});

test('what a file said of permissions goes with its import', async () => {
  const file = await upload('gone.csv', 'First name,Last name,E-mail,Opt out\nEve,Hosken,eve@quillhaven.example,yes\n');
  await app.enter({ givenName: 'Eve', familyName: 'Hosken', email: 'eve@quillhaven.example' });
  const { id: runId } = await runImport(app, file.id);
  expect(Object.keys((await channelsOf('Hosken')).channels)).toHaveLength(5);
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect((await channelsOf('Hosken')).channels).toEqual({});
});

test('a column that says who may be contacted is not left out without a word', async () => {
  const file = await upload(
    'left.csv',
    'First name,Last name,E-mail,Do not mail\nFay,Angove,fay@quillhaven.example,x\n',
  );
  const columns = file.mapping.columns.map((column) => (column.column === 3 ? { ...column, target: null } : column));
  await app.json(`/intakes/${file.id}/mapping`, 'PUT', { ...file.mapping, columns });
  await runTrial(app, file.id);
  const { warnings } = await app.json<IntakeDetail>(`/intakes/${file.id}`);
  expect(warnings?.join()).toContain("'Do not mail' seems to say who may be contacted");
});

test('a table that was taken out has the permissions, and brought back changes nothing', async () => {
  const table = await (await app.request('/contacts.csv')).text();
  expect(table.split('\r\n')[0]).toContain('May e-mail');
  const evidence = async () =>
    (await app.database.pool.query<{ n: number }>('select count(*)::int as n from permission_evidence')).rows[0]?.n;
  const before = await evidence();
  const { counts } = await runImport(app, (await upload('back.csv', table)).id);
  expect(
    Object.keys(counts).filter((key) => ['new', 'fill', 'replace', 'fold', 'held'].includes(key) && counts[key]),
  ).toEqual([]);
  expect(counts.same).toBe(8);
  expect(await evidence()).toBe(before);
});
