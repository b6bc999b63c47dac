import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Lists, IntakeDetail } from '@gray-loom/wire';
import type { Mapping } from '@gray-loom/core/mapping';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const ROWS = 'Name;E-mail;Sail number\nAna Reis;ana@example.org;K 12\nTom Okoro;tom@example.org;K 14';
const withField =
  (name: string, despite = false) =>
  (mapping: Mapping): Mapping => ({
    ...mapping,
    columns: mapping.columns.map((column) =>
      column.header === 'Sail number'
        ? { ...column, target: null, newField: { name, type: 'text' as const, choices: [], despite } }
        : column,
    ),
  });
const fields = async () =>
  (await app.json<Lists>('/lists')).fields
    .filter(({ key }) => key.startsWith('custom.'))
    .map(({ name, retired }) => (retired ? `${name}, retired` : name));

test('a field made in a mapping goes when the file is dropped, or the column means something else', async () => {
  const first = await bringFile(app, 'sails.csv', ROWS, withField('Sail number'));
  expect(await fields()).toEqual(['Sail number']);
  await runTrial(app, first);
  await app.json(`/intakes/${first}`, 'DELETE');
  expect(await fields()).toEqual([]);

  const second = await bringFile(app, 'sails.csv', ROWS, withField('Sail number'));
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${second}`);
  const columns = mapping.columns.map((column) =>
    column.header === 'Sail number' ? { ...column, target: 'note' } : column,
  );
  await app.json(`/intakes/${second}/mapping`, 'PUT', { ...mapping, columns });
  expect(await fields()).toEqual([]);
  await app.json(`/intakes/${second}`, 'DELETE');
});

test('one that another file uses, or that was made in Settings, stays', async () => {
  await app.json('/fields', 'POST', { name: 'Hull colour', type: 'text' });
  const first = await bringFile(app, 'sails.csv', ROWS, withField('Sail number'));
  const second = await bringFile(app, 'hulls.csv', ROWS, withField('Sail number'));
  await app.json(`/intakes/${first}`, 'DELETE');
  expect(await fields()).toEqual(['Hull colour', 'Sail number']);
  await app.json(`/intakes/${second}`, 'DELETE');
});

test('one is asked about where there is something much like it', async () => {
  const id = await bringFile(app, 'hulls.csv', ROWS);
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${id}`);
  const refused = await refusal(app.json(`/intakes/${id}/mapping`, 'PUT', withField('Hull colours')(mapping)));
  expect([refused.status, refused.code, refused.facts]).toMatchObject([409, 'nearMiss', { like: 'Hull colour' }]);
  await app.json(`/intakes/${id}/mapping`, 'PUT', withField('Hull colours', true)(mapping));
  expect(await fields()).toContain('Hull colours');
  await app.json(`/intakes/${id}`, 'DELETE');
});

test('the undo of an import retires what it made and nobody uses; the undo of that brings it back', async () => {
  const id = await bringFile(app, 'sails.csv', ROWS, withField('Berth side'));
  const run = await runImport(app, id);
  const undo = (runId: number) => app.json<{ undoRunId: number }>(`/runs/${runId}/undo`, 'POST');
  const { undoRunId } = await undo(run.id);
  expect(await fields()).toContain('Berth side, retired');
  await undo(undoRunId);
  expect(await fields()).toContain('Berth side');

  const { contactId } = await app.enter({ givenName: 'Kari', familyName: 'Pike' });
  const field = (await app.json<Lists>('/lists')).fields.find(({ name }) => name === 'Berth side');
  await app.json(`/contacts/${contactId}`, 'PATCH', { edits: [{ field: field?.key, text: 'port' }] });
  await undo(run.id);
  expect(await fields()).toContain('Berth side');
});

test('a meaning that there is not, or not any more, is refused and never left out in silence', async () => {
  const file = await bringFile(app, 'sails.csv', ROWS);
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${file}`);
  const put = (target: string) =>
    app.json(`/intakes/${file}/mapping`, 'PUT', {
      ...mapping,
      columns: mapping.columns.map((column) => (column.header === 'Sail number' ? { ...column, target } : column)),
    });
  for (const target of ['nonsense', 'adr', 'custom.9999', 'constructor'])
    expect(await refusal(put(target))).toMatchObject({
      code: 'unknownMeaning',
      facts: { header: 'Sail number', target },
    });
  await put('note');
});
