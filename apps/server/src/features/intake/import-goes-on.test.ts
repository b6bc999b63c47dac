import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ContactPage, HeldList, IntakeDetail, RunSummary } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, carryOn, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { where } from '../../testing/where';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const post = <T>(path: string) => app.json<T>(path, 'POST');
const heldOf = (run: number) => app.json<HeldList>(`/held?run=${run}`).then(({ rows }) => rows);
const found = async (text: string) => (await app.json<ContactPage>(`/contacts?find=${encodeURIComponent(text)}`)).total;
const download = async (path: string) => (await app.request(path)).text();

function people(n: number, from = 0): string {
  const lines = Array.from({ length: n }, (_, i) => `Crew${from + i},Paused${from + i},crew${from + i}@example.org`);
  return `Given name,Family name,E-mail\n${lines.join('\n')}\n`;
}

describe('an import that is paused', () => {
  test('waits at its marker, goes on from there, and has each row once', async () => {
    const id = await bringFile(app, 'paused.csv', people(5000));
    const { runId } = await post<{ runId: number }>(`/intakes/${id}/import`);
    expect(await post(`/runs/${runId}/pause`)).toEqual({ pausing: true });
    const rests = await carryOn(app, runId);
    expect(rests).toMatchObject({ state: 'paused', pausable: true, undoable: false });
    expect(rests.progress.done).toBeLessThan(5000);
    expect(rests.counts.new).toBe(rests.progress.done);
    expect((await app.json<{ running: RunSummary[] }>('/tape')).running.map((one) => one.id)).toContain(runId);
    expect(await post(`/runs/${runId}/go-on`)).toEqual({ goesOn: true });
    const ended = await carryOn(app, runId);
    expect(ended).toMatchObject({ state: 'done', counts: { new: 5000 }, pausable: false });
    expect(await app.json<IntakeDetail>(`/intakes/${id}`)).toMatchObject({ state: 'done' });
    const { rows } = await app.database.pool.query<{ n: number }>(
      'select count(distinct contact_id)::int as n from import_row where run_id = $1',
      [runId],
    );
    expect(rows[0]?.n).toBe(5000);
  });

  test('can be stopped while it waits, and then taken back', async () => {
    const id = await bringFile(app, 'stopped.csv', people(5000, 10_000));
    const { runId } = await post<{ runId: number }>(`/intakes/${id}/import`);
    await post(`/runs/${runId}/pause`);
    const { counts } = await carryOn(app, runId);
    expect(await post(`/runs/${runId}/stop`)).toMatchObject({ stopping: true });
    const ended = await carryOn(app, runId);
    expect(ended).toMatchObject({ state: 'stopped', counts, undoable: true });
    expect(await app.json<IntakeDetail>(`/intakes/${id}`)).toMatchObject({ state: 'stopped' });
  });

  test('what is done is neither paused nor does it go on', async () => {
    const { id } = await runImport(app, await bringFile(app, 'done.csv', people(2, 30_000)));
    expect(await post(`/runs/${id}/pause`)).toEqual({ pausing: false });
    expect(await post(`/runs/${id}/go-on`)).toEqual({ goesOn: false });
  });
});

describe('held rows that come back in a file', () => {
  const text =
    'Name,E-mail,Stage\nIda Moor,ida@example.org,Friend\nOle Fjord,ole(at)example.org,Donor\nPia Reed,pia@example.org,Donor\n';

  test('are read as their file was, take the place of the held ones, and wait again when that is undone', async () => {
    const run = await runImport(
      app,
      await bringFile(app, 'quay.csv', text, (mapping) => ({
        ...mapping,
        wholeFile: { ...mapping.wholeFile, tags: ['quay list'] },
      })),
    );
    expect(run.counts).toMatchObject({ new: 1, held: 2 });
    const mended = (await download(`/runs/${run.id}/held.csv`)).replaceAll('ole(at)example.org', 'ole@example.org');
    expect(mended.split('\r\n')[0]).toBe(`Row of import ${run.id},Outcome,Reasons,Name,E-mail,Stage`);
    const id = await bringFile(app, 'quay-mended.csv', mended);
    const intake = await app.json<IntakeDetail>(`/intakes/${id}`);
    expect(intake).toMatchObject({ mends: run.id, readAs: { name: 'quay.csv', added: [] } });
    expect(intake.mapping.columns.map(({ target }) => target)).toEqual([
      null,
      null,
      null,
      'fullName',
      'email',
      'stage',
    ]);
    const back = await runImport(app, id);
    expect(back.counts).toMatchObject({ new: 1, held: 1 });
    // Ole is in and Ida is held by the file that came last; neither waits twice.
    expect(await heldOf(run.id)).toEqual([]);
    expect((await heldOf(back.id)).map(({ cells }) => cells[3])).toEqual(['Ida Moor']);
    expect((await app.json<ContactPage>(`/contacts?${where({ tags: 'quay list' })}`)).total).toBe(2);
    await post(`/runs/${back.id}/undo`);
    expect((await heldOf(run.id)).map(({ row }) => row)).toEqual([1, 2]);
    expect(await found('ole@example.org')).toBe(0);
  });

  test('one that was let in meanwhile does not come in twice', async () => {
    const run = await runImport(
      app,
      await bringFile(app, 'twice.csv', 'Given name,Family name,Born\nEno,Tide,31.31.1980\n'),
    );
    const file = await download(`/runs/${run.id}/held.csv`);
    await app.json(`/held/${run.id}/1/let-in`, 'POST', { cells: ['Eno', 'Tide', ''] });
    const back = await runImport(
      app,
      await bringFile(app, 'twice-back.csv', file.replaceAll('31.31.1980', '1.1.1980')),
    );
    expect(back.counts).toMatchObject({ new: 0, held: 1 });
    expect((await heldOf(back.id))[0]?.issues[0]?.text).toContain('was let in, dropped or brought back before');
    expect(await found('Eno Tide')).toBe(1);
  });
});

test('a file can be brought in once more, by another mapping, and nobody comes in twice', async () => {
  const id = await bringFile(app, 'again.csv', 'Name,E-mail,Berth\nUna Kell,una@example.org,A4\n', (mapping) => ({
    ...mapping,
    columns: mapping.columns.map((column) => (column.header === 'Berth' ? { ...column, target: null } : column)),
  }));
  await runImport(app, id);
  const { id: secondId } = await post<{ id: number }>(`/intakes/${id}/again`);
  const second = await app.json<IntakeDetail>(`/intakes/${secondId}`);
  expect(second).toMatchObject({ name: 'again.csv', state: 'read', importRun: null, rowCount: 1 });
  await app.json(`/intakes/${secondId}/mapping`, 'PUT', {
    ...second.mapping,
    columns: second.mapping.columns.map((column) =>
      column.header === 'Berth' ? { ...column, target: 'note' } : column,
    ),
  });
  expect((await runImport(app, secondId)).counts).toMatchObject({ new: 0, fill: 1 });
  expect(await found('una@example.org')).toBe(1);
});

test('the trial says what is odd about the file as a whole', async () => {
  const rows = Array.from(
    { length: 12 },
    (_, i) =>
      `Given${i},Other${i}${'abcdefghijkl'[i]},desk@example.org,4.47912E+11,0${(i % 9) + 1}/0${((i + 3) % 9) + 1}/1980`,
  );
  const id = await bringFile(app, 'odd.csv', `First name,Last name,Mail,Telephone,Date of birth\n${rows.join('\n')}\n`);
  await runTrial(app, id);
  const { warnings } = await app.json<IntakeDetail>(`/intakes/${id}`);
  expect(warnings).toEqual([
    'Phones in scientific notation: 12 rows have lost digits. Have the file made anew, with the phone column as text.',
    expect.stringContaining("The order of day and month in 'Date of birth' is unclear: "),
    '12 of 12 rows would be held. Look at the meanings of the columns first.',
  ]);
});

test('a database without room is said, with nothing half done', async () => {
  await app.database.pool.query(
    `create function no_room() returns trigger language plpgsql as $$ begin raise exception 'no space left' using errcode = '53100'; end $$;
     create trigger no_room before insert on contact_search for each row execute function no_room()`,
  );
  try {
    const before = (await app.json<ContactPage>('/contacts')).total;
    const refused = await refusal(app.enter({ givenName: 'Ned', familyName: 'Roomless' }));
    expect([refused.status, refused.code]).toEqual([507, 'outOfRoom']);
    expect(refused.detail).toContain('The disk of the database is full. Nothing was changed.');
    expect((await app.json<ContactPage>('/contacts')).total).toBe(before);
  } finally {
    await app.database.pool.query('drop trigger no_room on contact_search; drop function no_room()');
  }
});
