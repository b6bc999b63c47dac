import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { BatchStarted, BatchTrial, ContactDetail, ContactPage, RunSummary } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { where, whereText } from '../../testing/where';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const enter = async (givenName: string, more: Record<string, string> = {}) =>
  (await app.enter({ givenName, familyName: `Sheet ${givenName}`, ...more })).contactId;
const record = async (id: number) => (await app.json<ContactDetail>(`/contacts/${id}`)).record.f;
const said = async (id: number, field: string) => (await record(id))[field]?.map(({ v }) => v) ?? [];
const attempt = (what: object, change: object) => app.json<BatchTrial>('/batch/trial', 'POST', { what, change });
const batch = (what: object, change: object) => app.json<BatchStarted>('/batch', 'POST', { what, change });
const sentence = async (id: number) => (await app.json<RunSummary>(`/runs/${id}`)).words;
const undo = (id: number) => app.json(`/runs/${id}/undo`, 'POST');
const code = async (asked: Promise<unknown>) => {
  const { status, code } = await refusal(asked);
  return `${status} ${code}`;
};

describe('tags', () => {
  test('are added, taken off and replaced; the trial says the same as the run, and one undo takes all back', async () => {
    const ids = [await enter('Ana', { tags: 'press' }), await enter('Bo'), await enter('Cy', { tags: 'crew' })];
    const change = { kind: 'tags', add: ['press'], remove: ['crew'] };
    expect(await attempt({ ids }, change)).toMatchObject({
      concerns: 3,
      changes: 2,
      same: 1,
      refused: [],
      isSample: false,
    });
    const { runId, finished } = await batch({ ids }, change);
    expect([finished, await sentence(runId)]).toEqual([
      true,
      'Tag added: press; tag taken off: crew: 2 changed, 1 already so',
    ]);
    for (const id of ids) expect(await said(id, 'tags')).toEqual(['press']);
    expect(await code(batch({ ids }, change))).toBe('409 nothingToChange');
    await undo(runId);
    expect([await said(ids[1] ?? 0, 'tags'), await said(ids[2] ?? 0, 'tags')]).toEqual([[], ['crew']]);
    await batch({ ids }, { kind: 'tags', only: true, add: ['news'] });
    for (const id of ids) expect(await said(id, 'tags')).toEqual(['news']);
  });
});

describe('fields', () => {
  test('are set, filled where nothing is, and cleared, for all that a filter finds but some', async () => {
    const [dora, eli, finn] = [
      await enter('Dora', { source: 'Slip', title: 'Rigger' }),
      await enter('Eli', { source: 'Slip' }),
      await enter('Finn', { source: 'Slip' }),
    ];
    const what = { filter: { where: whereText({ source: 'Slip' }) }, except: [finn] };
    const fill = { kind: 'set', field: 'title', text: 'Sailmaker', how: 'fill' };
    expect(await attempt(what, fill)).toMatchObject({
      concerns: 2,
      changes: 1,
      same: 1,
      examples: [{ name: 'Eli Sheet Eli', before: '', after: 'Sailmaker' }],
    });
    await batch(what, fill);
    expect([await said(dora, 'title'), await said(eli, 'title'), await said(finn, 'title')]).toEqual([
      ['Rigger'],
      ['Sailmaker'],
      [],
    ]);
    await batch(what, { kind: 'set', field: 'title', text: 'Caulker' });
    const { runId } = await batch(what, { kind: 'clear', field: 'title' });
    expect([await said(dora, 'title'), await said(eli, 'title')]).toEqual([[], []]);
    await undo(runId);
    expect([await said(dora, 'title'), await said(eli, 'title')]).toEqual([['Caulker'], ['Caulker']]);
  });
  test('whoever would have nothing left to be told by is left', async () => {
    const id = (await app.enter({ email: 'skip@example.org' })).contactId;
    expect(await attempt({ ids: [id] }, { kind: 'clear', field: 'email' })).toMatchObject({
      changes: 0,
      refused: [{ why: 'nobody', n: 1 }],
    });
  });
});

describe('permissions', () => {
  test('are tightened at once; loosened with evidence, and not for those who said stop', async () => {
    const [gil, hope] = [
      await enter('Gil', { email: 'gil@example.org' }),
      await enter('Hope', { email: 'hope@example.org' }),
    ];
    await app.json(`/contacts/${gil}/permissions`, 'POST', { channel: 'email', state: 'optedOut', how: 'wrote so' });
    const allow = { kind: 'permission', channel: 'email', state: 'allowed' };
    expect(await code(attempt({ ids: [gil, hope] }, allow))).toBe('422 noEvidence');
    const how = 'Signed at the open yard day, 4 May';
    expect(await attempt({ ids: [gil, hope] }, { ...allow, how })).toMatchObject({
      changes: 1,
      refused: [{ why: 'optedOut', n: 1 }],
    });
    const { runId } = await batch({ ids: [gil, hope] }, { ...allow, how });
    expect(await sentence(runId)).toBe('Allowed, email: 1 changed, 1 refused: opted out');
    const states = async () =>
      Promise.all(
        [gil, hope].map(
          async (id) =>
            (await app.json<ContactDetail>(`/contacts/${id}`)).permissions.channels.find(
              ({ channel }) => channel === 'email',
            )?.state,
        ),
      );
    expect(await states()).toEqual(['optedOut', 'allowed']);
    const stop = await batch({ ids: [gil, hope] }, { ...allow, state: 'optedOut' });
    expect(await states()).toEqual(['optedOut', 'optedOut']);
    await undo(stop.runId);
    expect(await states()).toEqual(['optedOut', 'allowed']);
  });
});

test('contacts are deleted and brought back', async () => {
  const ids = [await enter('Ivy', { source: 'Gone' }), await enter('Jim', { source: 'Gone' })];
  const { runId } = await batch({ ids }, { kind: 'delete' });
  const here = async () => (await app.json<ContactPage>(`/contacts?${where({ source: 'Gone' })}`)).total;
  expect(await here()).toBe(0);
  expect(await attempt({ ids }, { kind: 'clear', field: 'source' })).toMatchObject({
    changes: 0,
    refused: [{ why: 'gone', n: 2 }],
  });
  await batch({ filter: { where: whereText({ source: 'Gone' }), deleted: true } }, { kind: 'restore' });
  expect(await here()).toBe(2);
  expect(runId).toBeGreaterThan(0);
});

test('more than a few are a job: whom it is about is fixed when it starts, and whoever is merged or deleted meanwhile is left', async () => {
  const rows = Array.from({ length: 620 }, (_, i) => `Kay${i},Hull${i},kay${i}@example.org,Fleet`);
  await runImport(app, await bringFile(app, 'fleet.csv', ['Given name,Family name,Email,Source', ...rows].join('\n')));
  const what = { filter: { where: whereText({ source: 'Fleet' }) } };
  const { runId, finished } = await batch(what, { kind: 'tags', add: ['fleet'] });
  expect(finished).toBe(false);
  const { rows: some } = await app.json<ContactPage>(`/contacts?${where({ source: 'Fleet' })}&limit=2`);
  await app.json(`/contacts/${some[0]?.id}`, 'DELETE');
  const late = await enter('Late', { source: 'Fleet' });
  await app.work(runId);
  expect(await sentence(runId)).toBe('Tag added: fleet: 619 changed, 1 refused: deleted or merged away');
  expect([await said(late, 'tags'), await said(some[1]?.id ?? 0, 'tags')]).toEqual([[], ['fleet']]);
  const undone = await app.json<{ undoRunId: number; finished: boolean }>(`/runs/${runId}/undo`, 'POST');
  if (!undone.finished) await app.work(undone.undoRunId);
  expect((await app.json<ContactPage>(`/contacts?${where({ tags: 'fleet' })}`)).total).toBe(0);
});

describe('what is refused', () => {
  test.each<[object, object, string]>([
    [{}, { kind: 'delete' }, '422 nobodyMeant'],
    [{ ids: [1] }, { kind: 'melt' }, '422 invalid'],
    [{ ids: [1] }, { kind: 'tags' }, '422 noTags'],
    [{ ids: [1] }, { kind: 'set', field: 'custom.9', text: 'a' }, '404 noSuchField'],
    [{ ids: [1] }, { kind: 'set', field: 'photo', text: 'a' }, '422 notInBatch'],
    [{ ids: [1] }, { kind: 'set', field: 'title', text: ' ' }, '422 noValue'],
    [{ ids: [1] }, { kind: 'set', field: 'owner', text: 'Nobody Here' }, '422 noSuchAccount'],
    [{ ids: [1] }, { kind: 'set', field: 'bday', text: 'some day' }, '422 invalidDate'],
    [{ ids: [1] }, { kind: 'sync', connectionId: 99, choice: 'send' }, '404 noSuchConnection'],
    [{ filter: { where: '{' } }, { kind: 'delete' }, '422 condition'],
  ])('%#', async (what, change, said) => expect(await code(attempt(what, change))).toBe(said));
});
