import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, HeldList, MendPreview, RunSummary } from '@gray-loom/wire';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';
import { where } from '../../../testing/where';

let app: TestApp;
let run: RunSummary;
beforeAll(async () => {
  app = await startTestApp();
  const file = [
    'Name,Email,Stage',
    'Ana Reis,ana@example.org,Friend',
    'Tom Okoro,tom@example.org,Friend',
    'Kari Pike,kari(at)example.org,Friend',
    'Rhys Bowen,rhys@example.org,Donor',
    'Edith Adair,edith@example.org,friend',
  ].join('\n');
  run = await runImport(app, await bringFile(app, 'friends.csv', file));
});
afterAll(() => app.end());

const held = () => app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
const mend = (from: string, to: string, column = 2) =>
  app.json<{ letIn: number; held: number; more: boolean }>(`/held/${run.id}/alike`, 'POST', { column, from, to });

test('a cell that takes one of a few is shown with what it may say, until it says that', async () => {
  const preview = (stage: string) =>
    app.json<MendPreview[]>(`/held/${run.id}/1/preview`, 'POST', { cells: ['Ana Reis', 'ana@example.org', stage] });
  const [name, , friend] = await preview('Friend');
  expect(name).toEqual({ shown: 'given Ana · family Reis', issue: null, answers: [] });
  expect(friend?.issue).toContain("no stage 'Friend'");
  expect(friend?.answers).toContain('Donor');
  expect((await preview('Donor'))[2]).toMatchObject({ shown: 'Donor', issue: null, answers: [] });
});

test('one value is written for another in every held row that has it; what else is wrong keeps its row held', async () => {
  expect(run.counts).toMatchObject({ new: 1, held: 4 });
  expect(await mend('Friend', 'Nobody')).toEqual({ letIn: 0, held: 3, runId: null });
  expect((await held()).map((row) => row.cells[2])).toEqual(['Friend', 'Friend', 'Friend', 'friend']);
  const done = await mend('Friend', 'Donor');
  expect(done).toEqual({ letIn: 2, held: 1, runId: expect.any(Number) });
  expect((await held()).map(({ row, cells }) => [row, cells[2]])).toEqual([
    [3, 'Friend'],
    [5, 'friend'],
  ]);
  const { rows } = await app.json<ContactPage>(`/contacts?${where({ stage: 'Donor' })}`);
  expect(rows.map((row) => row.givenFirst).sort()).toEqual(['Ana Reis', 'Rhys Bowen', 'Tom Okoro']);
  // Once more finds nothing that it could let in twice.
  expect(await mend('Friend', 'Donor')).toEqual({ letIn: 0, held: 1, runId: null });
});

test('what one press let in is one run, belongs to its import, and goes as one', async () => {
  const { runs } = await app.json<{ runs: RunSummary[] }>('/runs?limit=20');
  const mended = runs.filter((one) => one.title.includes('of friends.csv, mended'));
  expect(mended).toMatchObject([{ title: '2 rows of friends.csv, mended', counts: { new: 2 } }]);
  const ofImport = async () => (await app.json<ContactPage>(`/contacts?${where({ '@run': run.id })}`)).rows.length;
  expect(await ofImport()).toBe(3);
  const before = (await held()).length;
  await app.json(`/runs/${mended[0]?.id}/undo`, 'POST');
  const { rows } = await app.json<ContactPage>(`/contacts?${where({ stage: 'Donor' })}`);
  expect(rows.map((row) => row.givenFirst)).toEqual(['Rhys Bowen']);
  expect((await held()).length).toBe(before + 2);
});

test('rows that were let in later go with their import', async () => {
  const file = 'Name,Email,Stage\nIda Voss,ida@example.org,Donor\nKaj Holm,kaj@example.org,Freund\n';
  const { id } = await runImport(app, await bringFile(app, 'later.csv', file));
  await app.json(`/held/${id}/alike`, 'POST', { column: 2, from: 'Freund', to: 'Donor' });
  const names = async () => (await app.json<ContactPage>(`/contacts?find=`)).rows.map(({ givenFirst }) => givenFirst);
  expect(await names()).toEqual(expect.arrayContaining(['Ida Voss', 'Kaj Holm']));
  await app.json(`/runs/${id}/undo`, 'POST');
  const left = await names();
  expect(left).not.toContain('Ida Voss');
  expect(left).not.toContain('Kaj Holm');
});

test('what is most likely meant is offered, and lets in what nothing else stands against', async () => {
  const file = [
    'Name,Email,Birthday',
    'Oskar Quist,oskar (at) example.org,',
    'Femke Roux,"femke,roux@example.org",',
    'Sigrid Pike,sigrid @ example.org,31.02.1990',
    'Rowan Adair,rowan,',
  ].join('\n');
  const { id } = await runImport(app, await bringFile(app, 'meant.csv', file));
  const waiting = () => app.json<HeldList>(`/held?run=${id}`).then(({ rows }) => rows);
  expect((await waiting()).map(({ row, meant }) => [row, meant?.[1] ?? null])).toEqual([
    [1, 'oskar@example.org'],
    [2, 'femke.roux@example.org'],
    [3, 'sigrid@example.org'],
    [4, null],
  ]);
  expect((await waiting())[0]?.issues[0]?.text).toContain('perhaps oskar@example.org is meant');
  const letIn = (rows: number[]) => app.json<{ letIn: number; held: number }>(`/held/${id}/meant`, 'POST', { rows });
  // Only those that were looked at; the third has a day that does not exist, the fourth tells nothing.
  expect(await letIn([1, 3, 4])).toMatchObject({ letIn: 1, held: 1 });
  expect((await waiting()).map(({ row }) => row)).toEqual([2, 3, 4]);
  expect(await letIn([1, 2])).toMatchObject({ letIn: 1, held: 0 });
  const { rows } = await app.json<ContactPage>('/contacts?find=femke');
  expect(rows.map(({ email }) => email)).toEqual(['femke.roux@example.org']);
  for (const bad of [[], [0], ['x'], undefined])
    expect((await refusal(app.json(`/held/${id}/meant`, 'POST', { rows: bad }))).status).toBe(422);
});

test.each([
  [{ column: -1, from: 'a', to: 'b' }, 422],
  [{ column: 1, from: 'a' }, 422],
  [{ from: 'a', to: 'b' }, 422],
])('%j is refused', async (request, status) =>
  expect((await refusal(app.json(`/held/${run.id}/alike`, 'POST', request))).status).toBe(status),
);
