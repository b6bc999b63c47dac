import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, HandedOver, IntakeDetail, Owner, UndoPreview, Worklist } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let ids: Record<string, number>;
beforeAll(async () => {
  app = await startTestApp();
  for (const name of ['Tom Okoro', 'Vera Lund', 'Kari Pike']) await app.signedInAs('editor', name);
  ids = Object.fromEntries((await app.json<Owner[]>('/owners')).map(({ id, name }) => [name, id]));
});
afterAll(() => app.end());

const give = (names: string[], byArea: { area: string; accountId: number | undefined }[] = []) =>
  app.json('/giving', 'PUT', { inTurn: names.map((name) => ids[name]), byArea });
const owned = async () => {
  const { rows } = await app.json<ContactPage>('/contacts?limit=500');
  const counts: Record<string, number> = {};
  for (const { owner } of rows) counts[owner] = (counts[owner] ?? 0) + 1;
  return counts;
};
const people = (word: string, n: number, column = '', cell = '') =>
  [
    `Given name,Family name,E-mail${column}`,
    ...Array.from({ length: n }, (_, i) => `${word}${i},Q${word}${i},${word}${i}@example.org${cell}`),
  ].join('\n');

/** Brings people in, to be given out; gives the run that gives them, where there is one. */
async function bringToGive(name: string, text: string, by: 'inTurn' | 'byArea'): Promise<number> {
  const intake = await bringFile(app, name, text, (mapping) => ({
    ...mapping,
    wholeFile: { ...mapping.wholeFile, give: by },
  }));
  return (await runImport(app, intake)).id;
}
const givingRuns = async () =>
  (
    await app.database.pool.query<{ id: number; state: string }>(
      `select id, state from run where kind = 'handOver' and title like '%given out' and undone_by is null order by id`,
    )
  ).rows;

test('an owner in a file who is no account is a question at the trial, and stands as written until it is answered', async () => {
  const text =
    'Given name,Family name,Owner\nAna,Moor,Tom Okoro\nBo,Moor,Callum\nCy,Moor,Callum\nDi,Moor,tom.okoro@quillhaven.example\n';
  const id = await bringFile(app, 'owners.csv', text);
  await runTrial(app, id);
  const detail = await app.json<IntakeDetail>(`/intakes/${id}`);
  expect(detail.warnings).toContainEqual(expect.stringContaining("no account: 'Callum' in 2 rows"));
  expect(detail.trialCounts).toMatchObject({ new: 4, held: 0 });
  const mapped = await bringFile(app, 'owners 2.csv', text, (mapping) => ({
    ...mapping,
    columns: mapping.columns.map((column) =>
      column.target === 'owner'
        ? { ...column, transforms: [{ kind: 'values', pairs: [['Callum', 'Vera Lund']] }] }
        : column,
    ),
  }));
  const run = await runImport(app, mapped);
  expect(await owned()).toEqual({ 'Tom Okoro': 2, 'Vera Lund': 2 });
  await app.json(`/runs/${run.id}/undo`, 'POST', {});
});

test('new people of two imports at once are given out in turn, as fairly as of one; who is retired is passed over', async () => {
  await give(['Tom Okoro', 'Vera Lund', 'Kari Pike']);
  await app.json(`/people/${ids['Kari Pike']}/retire`, 'POST', {});
  await Promise.all([
    bringToGive('one.csv', people('one', 31), 'inTurn'),
    bringToGive('two.csv', people('two', 30), 'inTurn'),
  ]);
  const counts = await owned();
  expect([counts['Kari Pike'], counts['']]).toEqual([undefined, undefined]);
  expect(Math.abs((counts['Tom Okoro'] ?? 0) - (counts['Vera Lund'] ?? 0))).toBe(1);
  const { handed } = await app.json<Worklist>('/worklist');
  expect(handed).toEqual([]);
  const runs = await givingRuns();
  expect(runs.map(({ state }) => state)).toEqual(['done', 'done']);
  await app.json(`/runs/${runs[0]?.id}/undo`, 'POST', {});
  expect((await owned())['']).toBeGreaterThanOrEqual(30);
});

test('a list is given out as a run; who has an owner keeps it', async () => {
  const before = await owned();
  const { count } = await app.json<HandedOver>('/hand-over', 'POST', { give: 'inTurn', filter: {} });
  expect(count).toBe(before['']);
  expect((await owned())['']).toBeUndefined();
  expect((await refusal(app.json('/hand-over', 'POST', { give: 'inTurn', filter: {} }))).code).toBe('nothingToHand');
});

test('by area, and elsewhere in turn; a renamed area keeps whoever has it', async () => {
  const areas = (name: string) => [{ name, rules: [{ country: 'NO', region: null, postalPrefix: null }] }];
  await app.json('/areas', 'PUT', { areas: areas('Norway') });
  await give(['Tom Okoro'], [{ area: 'Norway', accountId: ids['Vera Lund'] }]);
  await app.json('/areas', 'PUT', { areas: areas('Norway and north') });
  const text = [
    'Given name,Family name,E-mail,Street,Country',
    'Ida,Fjord,ida@example.org,Havnegata 1,Norway',
    'Una,Marsh,una@example.org,Slip Lane 1,United Kingdom',
  ].join('\n');
  await bringToGive('areas.csv', text, 'byArea');
  const { rows } = await app.json<ContactPage>('/contacts?limit=500');
  expect(rows.filter(({ email }) => /^(ida|una)@/.test(email)).map(({ name, owner }) => [name, owner])).toEqual([
    ['Fjord, Ida', 'Vera Lund'],
    ['Marsh, Una', 'Tom Okoro'],
  ]);
});

test('where nobody takes turns an import leaves people without an owner, and a list is refused', async () => {
  await give([]);
  await bringToGive('nobody.csv', people('nobody', 2), 'inTurn');
  expect((await owned())['']).toBe(2);
  expect((await refusal(app.json('/hand-over', 'POST', { give: 'inTurn', filter: {} }))).code).toBe('nobodyInTurn');
  expect((await refusal(app.json('/giving', 'PUT', { inTurn: [ids['Kari Pike']], byArea: [] }))).code).toBe(
    'noSuchAccount',
  );
});

test('an import whose people were given out is taken back with the giving, and the look before says so', async () => {
  await give(['Tom Okoro', 'Vera Lund']);
  const before = await owned();
  const brought = await bringToGive('back.csv', people('back', 6), 'inTurn');
  const look = await app.json<UndoPreview>(`/runs/${brought}/undo`);
  expect([look.removes, look.leaves]).toEqual([6, 0]);
  await app.json(`/runs/${brought}/undo`, 'POST', {});
  expect(await owned()).toEqual(before);
});
