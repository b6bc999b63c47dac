import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, ContactPage, HeldList, IntakeDetail, RowChoice, TrialRow } from '@gray-loom/wire';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const HEADING = 'Given name,Family name,E-mail,Job title';
const fileOf = (...rows: string[]) => [HEADING, ...rows].join('\n');
const rowsOf = (id: number, outcome: string) => app.json<TrialRow[]>(`/intakes/${id}/trial?outcome=${outcome}`);
const choose = (id: number, row: number, choice: RowChoice) =>
  app.json(`/intakes/${id}/rows/${row}/choice`, 'PUT', { choice });
const undo = (runId: number) => app.json(`/runs/${runId}/undo`, 'POST');
const held = (runId: number) => app.json<HeldList>(`/held?run=${runId}`).then(({ rows }) => rows);
const letIn = (runId: number, row: number, cells: string[], as: 'check' | 'new' | number) =>
  app.json<{ runId: number; contactId: number }>(`/held/${runId}/${row}/let-in`, 'POST', { cells, as, asked: 'keep' });
const isLive = async (id: number) => {
  const page = await app.json<ContactPage>('/contacts?limit=500');
  return page.rows.some((row) => row.id === id);
};

async function enterAndDelete(givenName: string, familyName: string, email: string): Promise<number> {
  const { contactId } = await app.enter({ givenName, familyName, email });
  await app.json(`/contacts/${contactId}`, 'DELETE');
  return contactId;
}

test('a deleted person who comes again is held, with who deleted them; brought back or somebody new by a word at the trial', async () => {
  const ana = await enterAndDelete('Ana', 'Reis', 'ana@example.org');
  const tom = await enterAndDelete('Tom', 'Okoro', 'tom@example.org');
  const id = await bringFile(
    app,
    'again.csv',
    fileOf('Ana,Reis,ana@example.org,Rigger', 'Tom,Okoro,tom@example.org,Caulker', 'Kari,Pike,kari@example.org,'),
  );
  await runTrial(app, id);
  const { trialCounts } = await app.json<IntakeDetail>(`/intakes/${id}`);
  expect(trialCounts).toMatchObject({ new: 1, held: 2 });
  const [first] = await rowsOf(id, 'held');
  expect(first).toMatchObject({ unclear: true, fits: [{ contactId: ana, name: 'Ana Reis', deleted: true }] });
  expect(first?.issues[0]).toMatch(/was deleted by .+ on \d+ \w+ \d{4}\. The row is held; bring them back/);

  // Whoever does not say that they come back does not bring them back.
  expect((await refusal(choose(id, 1, { contactId: ana, asked: 'keep' }))).status).toBe(422);
  await choose(id, 1, { contactId: ana, asked: 'keep', back: true });
  await choose(id, 2, 'new');
  await runTrial(app, id);
  const tried = await app.json<IntakeDetail>(`/intakes/${id}`);
  expect(tried.trialCounts).toMatchObject({ new: 2, fill: 1, held: 0 });
  expect(await isLive(ana)).toBe(false);
  const run = await runImport(app, id);
  expect(run.counts).toEqual(tried.trialCounts);
  const { record } = await app.json<ContactDetail>(`/contacts/${ana}`);
  expect(record.f.title?.[0]?.v).toBe('Rigger');
  expect([await isLive(ana), await isLive(tom)]).toEqual([true, false]);
  await undo(run.id);
  expect(await isLive(ana)).toBe(false);
});

test('one that was held is brought back from Held rows, as one run with its undo', async () => {
  const rhys = await enterAndDelete('Rhys', 'Adair', 'rhys@example.org');
  const id = await bringFile(app, 'rhys.csv', fileOf('Rhys,Adair,rhys@example.org,Cook'));
  const run = await runImport(app, id);
  const [row] = await held(run.id);
  const cells = row?.cells ?? [];
  expect((await refusal(letIn(run.id, 1, cells, 'check'))).detail).toContain('was deleted');
  const brought = await letIn(run.id, 1, cells, rhys);
  expect([brought.contactId, await isLive(rhys)]).toEqual([rhys, true]);
  await undo(brought.runId);
  expect([await isLive(rhys), (await held(run.id)).length]).toEqual([false, 1]);
});

test('whom the undo of an import took away comes again without a question', async () => {
  const text = fileOf('Ida,Moor,ida@example.org,Purser');
  await undo((await runImport(app, await bringFile(app, 'ida.csv', text))).id);
  const again = await runImport(app, await bringFile(app, 'ida.csv', text));
  expect(again.counts).toMatchObject({ new: 1, held: 0 });
});

test('a rename that reaches deleted records neither deletes them nor brings them to mind', async () => {
  const una = await enterAndDelete('Lise', 'Thorn', 'lise@example.org');
  const text = fileOf('Odd,Moor,odd@example.org,Purser,Trialist', 'Lise,Thorn,lise@example.org,,');
  const withStage = text.replace('Job title', 'Job title,Stage');
  await app.json('/picks', 'POST', { kind: 'stage', label: 'Trialist' });
  const first = await runImport(app, await bringFile(app, 'odd.csv', withStage));
  expect(first.counts).toMatchObject({ new: 1, held: 1 });
  await undo(first.id);
  await app.json('/picks/merge', 'POST', { list: 'stage', from: 'Trialist', into: 'Taster' });
  const renamed = withStage.replace('Trialist', 'Taster');
  const again = await bringFile(app, 'odd.csv', renamed);
  await runTrial(app, again);
  expect((await app.json<IntakeDetail>(`/intakes/${again}`)).trialCounts).toMatchObject({ new: 1, held: 1 });
  expect((await rowsOf(again, 'held'))[0]?.fits[0]?.contactId).toBe(una);
});

test('somebody else with the mailbox of one who was deleted is new', async () => {
  await enterAndDelete('Una', 'Vale', 'office@example.org');
  const run = await runImport(app, await bringFile(app, 'office.csv', fileOf('Bertil,Krone,office@example.org,')));
  expect(run.counts).toMatchObject({ new: 1, held: 0 });
});
