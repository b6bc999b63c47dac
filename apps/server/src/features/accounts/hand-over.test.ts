import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Account, ContactDetail, ContactPage, HandedOver, Owner, People, Worklist } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { where, whereText } from '../../testing/where';

let app: TestApp;
let tom: TestApp['request'];
let accounts: Account[];
beforeAll(async () => {
  app = await startTestApp();
  tom = await app.signedInAs('editor', 'Tom Okoro');
  ({ accounts } = await app.json<People>('/people'));
});
afterAll(() => app.end());

const idOf = (name: string) => accounts.find((one) => one.name === name)?.id ?? 0;
const enter = async (givenName: string, more: Record<string, string> = {}) =>
  (await app.enter({ givenName, familyName: `Moor ${givenName}`, ...more })).contactId;
const ownerOf = async (id: number) => (await app.json<ContactDetail>(`/contacts/${id}`)).record.f.owner?.[0]?.v ?? null;
const hand = (body: object) => app.json<HandedOver>('/hand-over', 'POST', body);
const toldTom = async () => ((await (await tom('/worklist')).json()) as Worklist).handed;

test('one contact is handed over, the other is told until they note it, and the undo takes both back', async () => {
  const id = await enter('Ana');
  const { runId, count } = await hand({ to: idOf('Tom Okoro'), ids: [id, id] });
  expect([count, await ownerOf(id)]).toEqual([1, 'Tom Okoro']);
  const [told] = await toldTom();
  expect(told).toMatchObject({ by: 'Ines Carvalho', count: 1, contact: { id, name: 'Ana Moor Ana' } });
  expect((await app.json<Worklist>('/worklist')).handed).toEqual([]);
  // Nobody notes what was handed to somebody else.
  expect((await refusal(app.json(`/handed/${told?.id}/seen`, 'POST'))).status).toBe(404);
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect([await ownerOf(id), await toldTom()]).toEqual([null, []]);
  await hand({ to: idOf('Tom Okoro'), ids: [id] });
  const [again] = await toldTom();
  expect((await tom(`/handed/${again?.id}/seen`, { method: 'POST' })).status).toBe(204);
  expect(await toldTom()).toEqual([]);
});

test('all that a filter finds go as one run; those that are theirs already stay untouched', async () => {
  const [ben, cleo, dara] = [
    await enter('Ben', { source: 'Regatta' }),
    await enter('Cleo', { source: 'Regatta', owner: 'Tom Okoro' }),
    await enter('Dara', { source: 'Fair' }),
  ];
  const { count } = await hand({ to: idOf('Tom Okoro'), filter: { where: whereText({ source: 'Regatta' }) } });
  expect(count).toBe(1);
  expect([await ownerOf(ben), await ownerOf(cleo), await ownerOf(dara)]).toEqual(['Tom Okoro', 'Tom Okoro', null]);
  const nobody = await hand({ to: null, filter: { where: whereText({ owner: 'Tom Okoro', source: 'Regatta' }) } });
  expect([nobody.count, await ownerOf(ben)]).toEqual([2, null]);
});

test('one that nobody owns is taken on without being told of it', async () => {
  const id = await enter('Edith');
  const before = await toldTom();
  const answer = await tom('/hand-over', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ to: idOf('Tom Okoro'), ids: [id] }),
  });
  expect([answer.status, await ownerOf(id), await toldTom()]).toEqual([200, 'Tom Okoro', before]);
});

test('nothing to hand over, somebody retired and somebody unknown are refused; a viewer hands nothing over', async () => {
  const id = await enter('Femke', { owner: 'Tom Okoro' });
  const refusedAs = async (body: object) => (await refusal(hand(body))).code;
  expect(await refusedAs({ to: idOf('Tom Okoro'), ids: [id] })).toBe('nothingToHand');
  expect(await refusedAs({ to: 9999, ids: [id] })).toBe('noSuchAccount');
  await app.signedInAs('editor', 'Gone Already');
  ({ accounts } = await app.json<People>('/people'));
  await app.json(`/people/${idOf('Gone Already')}/retire`, 'POST', {});
  expect(await refusedAs({ to: idOf('Gone Already'), ids: [id] })).toBe('retired');
  expect((await app.json<Owner[]>('/owners')).map(({ name }) => name)).toEqual(['Ines Carvalho', 'Tom Okoro']);
  const viewer = await app.signedInAs('viewer', 'Vera Lund');
  expect((await viewer('/hand-over', { method: 'POST' })).status).toBe(403);
});

test('owners that are no account are listed with whom they likely are, and become that account', async () => {
  const [one, other] = [
    await enter('Gerda', { owner: 'Okoro' }),
    await enter('Hanne', { owner: 'Somebody of the yard' }),
  ];
  const { strangers } = await app.json<People>('/people');
  expect(strangers).toEqual([
    { name: 'Okoro', owns: 1, likely: idOf('Tom Okoro') },
    { name: 'Somebody of the yard', owns: 1, likely: null },
  ]);
  const match = (name: string) =>
    app.json<{ runId: number }>('/people/owners', 'POST', { name, to: idOf('Tom Okoro') });
  const { runId } = await match('Somebody of the yard');
  await match('Okoro');
  expect([await ownerOf(one), await ownerOf(other)]).toEqual(['Tom Okoro', 'Tom Okoro']);
  expect((await refusal(match('Okoro'))).code).toBe('noSuchOwner');
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect(await ownerOf(other)).toBe('Somebody of the yard');
});

test('an owner in a file or at entry is the account of that name or e-mail, however it is written', async () => {
  const typed = await enter('Ida', { owner: 'tom okoro' });
  expect(await ownerOf(typed)).toBe('Tom Okoro');
  const rows =
    'Name;E-mail;Owner\nJo Quay;jo@example.org;TOM OKORO\nKim Quay;kim@example.org;Tom.Okoro@quillhaven.example\nLu Quay;lu@example.org;Harbour office';
  const run = await runImport(app, await bringFile(app, 'owned.csv', rows));
  const { rows: people } = await app.json<ContactPage>(`/contacts?${where({ '@run': run.id })}`);
  expect(people.map(({ name, owner }) => [name, owner]).sort()).toEqual([
    ['Quay, Jo', 'Tom Okoro'],
    ['Quay, Kim', 'Tom Okoro'],
    ['Quay, Lu', 'Harbour office'],
  ]);
});
