import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, IntakeDetail, Lists, SavedMapping } from '@gray-loom/wire';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const FIRST = ['Who;Mob;Berth', 'Ana Reis;01632 960111;north', 'Tom Okoro;01632 960112;south'].join('\n');
const detail = (id: number) => app.json<IntakeDetail>(`/intakes/${id}`);
const targets = ({ mapping }: IntakeDetail) => mapping.columns.map(({ header, target }) => [header, target]);

test('the next file of a layout is read as the last one was, and what differs is said', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Berth', type: 'text' });
  const first = await bringFile(app, 'moorings-2025.csv', FIRST, (mapping) => ({
    ...mapping,
    wholeFile: { ...mapping.wholeFile, tags: ['moorings'] },
    columns: mapping.columns.map((column) => ({
      ...column,
      target: { Who: 'fullName', Mob: 'tel', Berth: key }[column.header ?? ''] ?? null,
      label: column.header === 'Mob' ? 'mobile' : null,
    })),
  }));
  expect((await detail(first)).readAs).toBeNull();
  await runImport(app, first);

  const rows = [
    'MOB;who;E-mail',
    ...Array.from({ length: 8 }, (_, i) => `01632 96020${i};Person ${i};p${i}@example.org`),
  ];
  const second = await detail(await bringFile(app, 'moorings-2026.csv', rows.join('\n')));
  expect(second.readAs).toBeNull();

  const same = await detail(
    await bringFile(app, 'moorings-2026.csv', ['WHO;mob ;berth', 'Kari Pike;;east'].join('\n')),
  );
  expect(same.readAs).toMatchObject({
    name: 'moorings-2025.csv',
    rows: 2,
    added: [],
    missing: [],
    lost: [],
    doubtful: [],
  });
  expect(targets(same)).toEqual([
    ['WHO', 'fullName'],
    ['mob', 'tel'],
    ['berth', key],
  ]);
  expect(same.mapping.columns[1]?.label).toBe('mobile');
  expect(same.mapping.wholeFile.tags).toEqual(['moorings']);

  const wider = await detail(
    await bringFile(app, 'moorings-2027.csv', ['Berth;Who;Mob;E-mail', 'west;Rhys Adair;;rhys@example.org'].join('\n')),
  );
  expect(wider.readAs).toMatchObject({ added: ['E-mail'], missing: [] });
  expect(targets(wider)).toContainEqual(['E-mail', 'email']);

  const guessed = await app.json<IntakeDetail>(`/intakes/${wider.id}/guess`, 'POST');
  expect(guessed.readAs).toBeNull();
  expect(guessed.mapping.wholeFile.tags).toEqual([]);
});

test('what every row of the last file got is shown, and taken out for the next', async () => {
  const rows = 'Skipper;Mooring mail\nAna Reis;ana.berth@example.org';
  const id = await bringFile(app, 'berths.csv', rows, (mapping) => ({
    ...mapping,
    wholeFile: { ...mapping.wholeFile, tags: ['berth', 'winter'], source: 'Harbour office' },
    columns: mapping.columns.map((column) => ({ ...column, target: column.column === 0 ? 'fullName' : 'email' })),
  }));
  await runImport(app, id);
  const saved = async () =>
    (await app.json<SavedMapping[]>('/saved-mappings')).find(({ name }) => name === 'berths.csv');
  const { id: savedId, settings } = (await saved()) ?? { settings: [] };
  expect(settings).toEqual([
    { what: 'tags', value: 'berth' },
    { what: 'tags', value: 'winter' },
    { what: 'source', value: 'Harbour office' },
  ]);
  await app.json(`/saved-mappings/${savedId}`, 'PATCH', { without: { what: 'tags', value: 'winter' } });
  expect((await saved())?.settings).toHaveLength(2);
  const next = await detail(await bringFile(app, 'berths.csv', rows));
  expect(next.mapping.wholeFile).toMatchObject({ tags: ['berth'], source: 'Harbour office' });
});

test('a field that was retired is said, and a forgotten mapping is guessed again', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Mooring fee', type: 'number' });
  const first = await bringFile(app, 'fees.csv', 'Name;Email;Fee\nAna Reis;ana@example.org;12', (mapping) => ({
    ...mapping,
    columns: mapping.columns.map((column) => (column.header === 'Fee' ? { ...column, target: key } : column)),
  }));
  await runImport(app, first);
  await app.json(`/fields/${key}`, 'PATCH', { retired: true });
  const next = await detail(await bringFile(app, 'fees.csv', 'Name;Email;Fee\nAna Reis;ana@example.org;13'));
  expect(next.readAs?.lost).toEqual(['Fee']);
  const saved = await app.json<SavedMapping[]>('/saved-mappings');
  const fees = saved.find((one) => one.name === 'fees.csv');
  await app.json(`/saved-mappings/${fees?.id}`, 'PATCH', { name: 'Fees of the year' });
  expect((await app.json<SavedMapping[]>('/saved-mappings')).map((one) => one.name)).toContain('Fees of the year');
  await app.json(`/saved-mappings/${fees?.id}`, 'DELETE');
  expect((await detail(await bringFile(app, 'fees.csv', 'Name;Email;Fee\nA B;a@example.org;1'))).readAs).toBeNull();
});

test('a field of our own is known by its name, a heading by what was said of it in another file', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Sail colour', type: 'text' });
  const first = await bringFile(
    app,
    'crews.csv',
    'Name;Email;Ring\nAna Reis;ana@example.org;01632 960111',
    (mapping) => ({
      ...mapping,
      columns: mapping.columns.map((column) =>
        column.header === 'Ring' ? { ...column, target: 'tel', label: 'mobile' } : column,
      ),
    }),
  );
  await runImport(app, first);
  const other = await detail(
    await bringFile(app, 'sails.csv', 'Sail colour,Ring,First name,Email\nred,01632 960112,Tom,tom@example.org'),
  );
  expect(other.readAs).toBeNull();
  expect(targets(other)).toEqual([
    ['Sail colour', key],
    ['Ring', 'tel'],
    ['First name', 'givenName'],
    ['Email', 'email'],
  ]);
  expect(other.guesses[1]).toMatchObject({ learnedFrom: 'crews.csv', label: 'mobile' });
  expect(other.mapping.columns[1]?.label).toBe('mobile');
  const guessed = await app.json<IntakeDetail>(`/intakes/${other.id}/guess`, 'POST');
  expect(targets(guessed)).toEqual(targets(other));
});

test('a stage that got another name is still what an old file says, and comes back under its new one', async () => {
  const bring = async (name: string, stage: string) => {
    const text = `Name,Email,Standing\n${name},${name.toLowerCase()}@example.net,${stage}`;
    const id = await bringFile(app, 'standing.csv', text, (mapping) => ({
      ...mapping,
      columns: mapping.columns.map((column) =>
        column.header === 'Standing' ? { ...column, target: 'stage' } : column,
      ),
    }));
    const { counts } = await runImport(app, id);
    const { rows } = await app.json<ContactPage>(`/contacts?find=${name}`);
    return [counts.held, rows[0]?.stage];
  };
  expect(await bring('Wilmot', 'Donor')).toEqual([0, 'Donor']);
  await app.json('/picks/merge', 'POST', { list: 'stage', from: 'Donor', into: 'Patron' });
  expect(await bring('Ivra', 'Donor')).toEqual([0, 'Patron']);
  const { stages } = await app.json<Lists>('/lists');
  expect(stages.map(({ label }) => label)).not.toContain('Donor');
  expect(await bring('Tamsin', 'Benefactor')).toEqual([1, undefined]);
});
