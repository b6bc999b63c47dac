import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, HeldList, RunSummary } from '@gray-loom/wire';
import { bringFile, carryOn, runImport, runTrial } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const FILE = [
  'First name,Last name,Email,Born',
  'Ana,Reis,ana@example.org,31/02/1990',
  'Tom,Okoro,tom@example.org,14/03/1988',
  'Ana,Reis,ANA@example.org,',
  'Kari,Pike,ana@example.org,',
  'Tom,Okoro,tom@example.org,',
].join('\n');

test('a row that repeats one that is held waits with it; whoever else has its mailbox does not', async () => {
  const id = await bringFile(app, 'fair.csv', FILE);
  expect(await runTrial(app, id)).toMatchObject({ new: 2, held: 2, fold: 1 });
  const run = await runImport(app, id);
  expect(run.counts).toMatchObject({ new: 2, held: 2, fold: 1 });
  const held = await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
  expect(held.map(({ row, issues }) => [row, issues.map(({ text }) => text)])).toEqual([
    [1, [expect.stringContaining('a day that does not exist')]],
    [3, [expect.stringContaining('The same person as row 1, which is held')]],
  ]);
  // Kari has Ana's mailbox, so that somebody has to say who Ana is; the second row is the same person then.
  const letIn = (row: number, cells: string[] | undefined, as: 'check' | 'new' = 'check') =>
    app.json<{ contactId: number }>(`/held/${run.id}/${row}/let-in`, 'POST', { cells, as });
  const first = await letIn(1, ['Ana', 'Reis', 'ana@example.org', '28/02/1990'], 'new');
  expect((await letIn(3, held[1]?.cells)).contactId).toBe(first.contactId);
  const { rows } = await app.json<ContactPage>('/contacts?find=reis');
  expect(rows.map(({ givenFirst }) => givenFirst)).toEqual(['Ana Reis']);
});

test('an import that goes on after an interruption knows the rows that it held before', async () => {
  const people = Array.from({ length: 5000 }, (_, i) => `Wenna${i},Nance${i},wenna${i}@example.org,`);
  const file = [
    'First name,Last name,Email,Born',
    'Jory,Angove,jory@example.org,soon',
    ...people,
    'Jory,Angove,jory@example.org,',
  ].join('\n');
  const id = await bringFile(app, 'long.csv', file);
  const { runId } = await app.json<{ runId: number }>(`/intakes/${id}/import`, 'POST');
  await app.json(`/runs/${runId}/pause`, 'POST');
  const rests: RunSummary = await carryOn(app, runId);
  expect(rests).toMatchObject({ state: 'paused', counts: { held: 1 } });
  expect(rests.progress.done).toBeLessThan(people.length);
  await app.json(`/runs/${runId}/go-on`, 'POST');
  expect((await carryOn(app, runId)).counts).toMatchObject({ new: people.length, held: 2 });
});
