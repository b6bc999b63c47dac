import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ContactDetail, HeldList, IntakeDetail, RowChoice, TrialRow } from '@gray-loom/wire';
import { NO_COLUMN, type ColumnMapping, type Mapping } from '@gray-loom/core/mapping';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

async function setMapping(id: number, change: (mapping: Mapping) => void): Promise<void> {
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${id}`);
  change(mapping);
  await app.json(`/intakes/${id}/mapping`, 'PUT', mapping);
}

async function trial(id: number): Promise<IntakeDetail> {
  await runTrial(app, id);
  return app.json<IntakeDetail>(`/intakes/${id}`);
}

const rowsOf = (id: number, outcome: string) => app.json<TrialRow[]>(`/intakes/${id}/trial?outcome=${outcome}`);
const choose = (id: number, row: number, choice: RowChoice | null) =>
  app.json(`/intakes/${id}/rows/${row}/choice`, 'PUT', { choice });
const person = async (id: number) => (await app.json<ContactDetail>(`/contacts/${id}`)).record.f;
const columnAt = (mapping: Mapping, at: number): ColumnMapping => {
  const column = mapping.columns[at];
  if (!column) throw new Error(`there is no column ${at}`);
  return column;
};

describe('a row, by a person at the trial', () => {
  test('is held, made somebody new, or given to one who is here; trial and import do the same', async () => {
    const { contactId: ana } = await app.enter({ givenName: 'Ana', familyName: 'Reis', email: 'reis@example.org' });
    const id = await bringFile(
      app,
      'choices.csv',
      'Given name,Family name,E-mail\nRui,Marsh,reis@example.org\nBela,Marsh,reis@example.org\nKo,Tanaka,ko@example.org\n',
    );
    expect((await trial(id)).trialCounts).toMatchObject({ new: 1, held: 2 });
    const held = await rowsOf(id, 'held');
    expect(held.map(({ fits }) => fits)).toEqual([
      [{ contactId: ana, name: 'Ana Reis', about: 'reis@example.org', deleted: false }],
      [{ contactId: ana, name: 'Ana Reis', about: 'reis@example.org', deleted: false }],
    ]);
    await choose(id, 1, 'new');
    await choose(id, 2, { contactId: ana, asked: 'keep' });
    await choose(id, 3, 'hold');
    expect(await app.json<IntakeDetail>(`/intakes/${id}`)).toMatchObject({ chosen: 3, chosenSinceTrial: 3 });
    const tried = await trial(id);
    expect(tried).toMatchObject({ chosen: 3, chosenSinceTrial: 0 });
    expect(tried.trialCounts).toEqual({ new: 1, fill: 0, replace: 0, same: 1, fold: 0, held: 1 });
    expect((await rowsOf(id, 'held'))[0]).toMatchObject({ row: 3, byHand: 'hold' });
    const run = await runImport(app, id);
    expect(run.counts).toEqual(tried.trialCounts);
    expect((await refusal(choose(id, 3, null))).status).toBe(409);
  });

  test.each([
    [1, 'keep'],
    [1, { contactId: 1 }],
    [1, { contactId: 99_999, asked: 'take' }],
  ])('row %j as %j is refused', async (row, choice) => {
    const id = await bringFile(app, 'refused.csv', 'Name,E-mail\nAna Reis,ana@example.org\n');
    expect((await refusal(app.json(`/intakes/${id}/rows/${row}/choice`, 'PUT', { choice }))).status).toBe(422);
  });

  test('a row that the file does not have is refused', async () => {
    const id = await bringFile(app, 'short.csv', 'Name,E-mail\nAna Reis,ana@example.org\n');
    expect((await refusal(choose(id, 2, 'hold'))).status).toBe(404);
  });
});

describe('rules for values that are there', () => {
  test('"ask" holds the row, says both values, and does as it is told', async () => {
    const { contactId } = await app.enter({
      givenName: 'Edith',
      familyName: 'Adair',
      email: 'edith@example.org',
      title: 'Bosun',
    });
    const text =
      'Given name,Family name,E-mail,Job title,Note\nEdith,Adair,edith@example.org,Skipper,likes early tides\n';
    const id = await bringFile(app, 'asks.csv', text);
    await setMapping(id, (mapping) => (columnAt(mapping, 3).rule = 'ask'));
    expect((await trial(id)).trialCounts).toMatchObject({ held: 1 });
    const [asked] = await rowsOf(id, 'held');
    expect(asked).toMatchObject({ asks: true, fits: [{ contactId, name: 'Edith Adair', about: 'edith@example.org' }] });
    expect(asked?.issues[0]).toContain("'Bosun' stands there, the file says 'Skipper'");
    const run = await runImport(app, id);
    expect(run.counts).toMatchObject({ held: 1 });
    expect((await person(contactId)).note).toBeUndefined();
    const [row] = await app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
    expect(row).toMatchObject({
      asks: contactId,
      fits: [{ contactId, name: 'Edith Adair', about: 'edith@example.org' }],
      cells: ['Edith', 'Adair', 'edith@example.org', 'Skipper', 'likes early tides'],
    });
    const letIn = (asked: 'take' | 'keep') =>
      app.json(`/held/${run.id}/1/let-in`, 'POST', { cells: row?.cells, as: contactId, asked });
    await letIn('take');
    expect((await person(contactId)).title?.[0]?.v).toBe('Skipper');
    expect((await person(contactId)).note?.[0]?.v).toBe('likes early tides');
  });

  test('"newest" goes by the column that says when a row was changed', async () => {
    const { contactId } = await app.enter({
      givenName: 'Rhys',
      familyName: 'Bowen',
      email: 'rhys@example.org',
      title: 'Rigger',
    });
    const bring = async (changed: string, title: string) => {
      const id = await bringFile(
        app,
        'newest.csv',
        `Name,E-mail,Job title,Last changed\nRhys Bowen,rhys@example.org,${title},${changed}\n`,
      );
      await setMapping(id, (mapping) => {
        mapping.writeRule = 'newest';
        mapping.changedColumn = 3;
        Object.assign(columnAt(mapping, 3), { target: null, dateOrder: 'iso' });
      });
      return (await runImport(app, id)).counts;
    };
    expect(await bring('2019-04-01', 'Deckhand')).toMatchObject({ same: 1 });
    expect((await person(contactId)).title?.[0]?.v).toBe('Rigger');
    expect(await bring('2031-04-01 10:30', 'Mate')).toMatchObject({ replace: 1 });
    // What came from 2031 is newer than what anybody says today.
    expect(await bring('', 'Cook')).toMatchObject({ same: 1 });
    expect((await person(contactId)).title?.[0]?.v).toBe('Mate');
  });
});

test('one column goes to two fields, and a value that no column has goes to every row; kept with the layout', async () => {
  const text = 'Name,E-mail,Boat\nKari Pike,kari@example.org,Gull\n';
  const id = await bringFile(app, 'boats.csv', text);
  await setMapping(id, (mapping) => {
    const boat = columnAt(mapping, 2);
    Object.assign(boat, { target: 'note', newField: null });
    mapping.columns.push({ ...boat, target: 'tags', label: null });
    mapping.columns.push({
      ...boat,
      column: NO_COLUMN,
      header: null,
      target: 'country',
      transforms: [{ kind: 'fixed', value: 'Portugal' }],
    });
  });
  await runImport(app, id);
  const [{ id: kari = 0 } = {}] = (await app.json<{ rows: { id: number }[] }>('/contacts?find=kari%40example.org'))
    .rows;
  const f = await person(kari);
  expect([f.note?.[0]?.v, f.tags?.[0]?.v, f.adr?.[0]?.v]).toEqual(['Gull', 'Gull', { country: 'PT' }]);
  const again = await app.json<IntakeDetail>(`/intakes/${await bringFile(app, 'boats-2.csv', text)}`);
  expect(again.mapping.columns.map(({ column, target }) => [column, target])).toEqual([
    [0, 'fullName'],
    [1, 'email'],
    [2, 'note'],
    [2, 'tags'],
    [NO_COLUMN, 'country'],
  ]);
  const preview = await app.json<{ rows: { cells: { raw: string; shown: string }[] }[] }>(
    `/intakes/${again.id}/preview`,
  );
  expect(preview.rows[0]?.cells.map(({ raw, shown }) => [raw, shown]).slice(2)).toEqual([
    ['Gull', 'Gull'],
    ['Gull', 'Gull'],
    ['', 'Portugal'],
  ]);
});
