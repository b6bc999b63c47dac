import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, HeldRow, MendPreview, RunSummary } from '@gray-loom/wire';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

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

const held = () => app.json<HeldRow[]>(`/held?run=${run.id}`);
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
  expect(await mend('Friend', 'Nobody')).toEqual({ letIn: 0, held: 3, more: false });
  expect((await held()).map((row) => row.cells[2])).toEqual(['Friend', 'Friend', 'Friend', 'friend']);
  expect(await mend('Friend', 'Donor')).toEqual({ letIn: 2, held: 1, more: false });
  expect((await held()).map(({ row, cells }) => [row, cells[2]])).toEqual([
    [3, 'Friend'],
    [5, 'friend'],
  ]);
  const { rows } = await app.json<ContactPage>('/contacts?stage=Donor');
  expect(rows.map((row) => row.givenFirst).sort()).toEqual(['Ana Reis', 'Rhys Bowen', 'Tom Okoro']);
  // Once more finds nothing that it could let in twice.
  expect(await mend('Friend', 'Donor')).toEqual({ letIn: 0, held: 1, more: false });
});

test('each row that was let in is taken back on its own', async () => {
  const runs = await app.json<{ runs: RunSummary[] }>('/runs?limit=20');
  const mended = runs.runs.find((one) => one.title.startsWith('Row 1 of friends.csv'));
  expect(mended?.counts).toEqual({ new: 1 });
  await app.json(`/runs/${mended?.id}/undo`, 'POST');
  const { rows } = await app.json<ContactPage>('/contacts?stage=Donor');
  expect(rows.map((row) => row.givenFirst).sort()).toEqual(['Rhys Bowen', 'Tom Okoro']);
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
  const waiting = () => app.json<HeldRow[]>(`/held?run=${id}`);
  expect((await waiting()).map(({ row, meant }) => [row, meant?.[1] ?? null])).toEqual([
    [1, 'oskar@example.org'],
    [2, 'femke.roux@example.org'],
    [3, 'sigrid@example.org'],
    [4, null],
  ]);
  expect((await waiting())[0]?.issues[0]?.text).toContain('perhaps oskar@example.org is meant');
  const letIn = (rows: number[]) => app.json<{ letIn: number; held: number }>(`/held/${id}/meant`, 'POST', { rows });
  // Only those that were looked at; the third has a day that does not exist, the fourth tells nothing.
  expect(await letIn([1, 3, 4])).toEqual({ letIn: 1, held: 1 });
  expect((await waiting()).map(({ row }) => row)).toEqual([2, 3, 4]);
  expect(await letIn([1, 2])).toEqual({ letIn: 1, held: 0 });
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
