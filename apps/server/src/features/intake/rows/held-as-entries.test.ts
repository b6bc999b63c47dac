import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Mapping } from '@gray-loom/core/mapping';
import type { ActivityPage, ContactPage, HeldList, RunSummary } from '@gray-loom/wire';
import { bringFile, runImport } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const FILE = [
  'Name,Email,Pledge,Date,Fund',
  'Ana Reis,ana@example.org,50,2026-01-04,Tiller',
  'Ana Reis,ana@example.org,70,2026-02-04,Bursary',
  'Ana Reis,ana@example.org,90,2026-03-04,Tiller',
  'Tom Okoro,tom@example.org,20,2026-01-09,Tiller',
  'Tom Okoro,tom@example.org,25,soon,Tiller',
].join('\n');

/** As a file was read before entries had a place: the amount is a field of one's own, and further rows of a person wait. */
const asBefore =
  (key: string) =>
  (mapping: Mapping): Mapping => ({
    ...mapping,
    columns: mapping.columns.map((column) => ({
      ...column,
      target: { Name: 'fullName', Email: 'email', Pledge: key }[column.header ?? ''] ?? null,
      newField: null,
    })),
  });

test('rows that waited for want of a place come in as entries, in one run that goes back as one', async () => {
  const pledge = { name: 'Pledge', type: 'money', currency: 'GBP' };
  const { key } = await app.json<{ key: string }>('/fields', 'POST', pledge);
  const id = await bringFile(app, 'pledges.csv', FILE, asBefore(key));
  const run = await runImport(app, id);
  expect(run.counts).toMatchObject({ new: 2, held: 3 });
  const held = () => app.json<HeldList>(`/held?run=${run.id}`);
  const before = await held();
  expect([before.total, before.more]).toEqual([
    3,
    [{ runId: run.id, fileName: 'pledges.csv', count: 3, kind: expect.any(String) as unknown }],
  ]);

  const done = await app.json<{ letIn: number; held: number; runId: number }>(`/held/${run.id}/entries`, 'POST', {
    kind: 'gift',
  });
  // A day that is none holds its row as it would at import.
  expect([done.letIn, done.held, (await held()).total]).toEqual([2, 1, 1]);
  const { rows } = await app.json<ContactPage>('/contacts?find=ana@');
  const gifts = async () =>
    (await app.json<ActivityPage>(`/contacts/${rows[0]?.id}/activities`)).entries.map(({ activity }) => [
      activity.kind,
      activity.at,
      activity.what,
      activity.amount?.amount,
    ]);
  expect(await gifts()).toEqual([
    ['gift', '2026-03-04', 'Tiller', 90],
    ['gift', '2026-02-04', 'Bursary', 70],
  ]);
  expect((await app.json<ContactPage>('/contacts')).total).toBe(2);
  expect((await app.json<RunSummary>(`/runs/${done.runId}`)).words).toBe(
    '2 rows of pledges.csv, mended: 2 same, 2 gifts',
  );

  await app.json<RunSummary>(`/runs/${done.runId}/undo`, 'POST');
  expect([await gifts(), (await held()).total]).toEqual([[], 3]);
});
