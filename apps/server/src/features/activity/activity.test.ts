import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ActivityChanged, ActivityHistory, ActivityPage, ContactDetail, Owner, Worklist } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let ana: number;
let me: number;
let tom: number;
let asTom: TestApp['request'];
beforeAll(async () => {
  app = await startTestApp();
  asTom = await app.signedInAs('editor', 'Tom Okoro');
  const owners = await app.json<Owner[]>('/owners');
  tom = owners.find(({ name }) => name === 'Tom Okoro')?.id ?? 0;
  me = owners.find(({ id }) => id !== tom)?.id ?? 0;
  ({ contactId: ana } = await app.enter({ givenName: 'Ana', familyName: 'Reis', email: 'ana@example.org' }));
});
afterAll(() => app.end());

const stream = (id: number, query = '') => app.json<ActivityPage>(`/contacts/${id}/activities${query}`);
const add = (id: number, parts: object) =>
  app.json<{ id: number; runId: number; booked: string[] }>(`/contacts/${id}/activities`, 'POST', parts);
const change = (id: number, parts: object) => app.json<ActivityChanged>(`/activities/${id}`, 'PATCH', parts);
const undo = (runId: number) =>
  app.json<{ undoRunId: number; finished: boolean }>(`/runs/${runId}/undo`, 'POST').then(({ undoRunId }) => undoRunId);
const somebody = (givenName: string) =>
  app.enter({ givenName, familyName: 'Marsh' }).then(({ contactId }) => contactId);

describe('the stream of a contact', () => {
  test('a note is written down, changed with its history, removed, and each is taken back', async () => {
    const id = await somebody('Una');
    const note = await add(id, { kind: 'note', text: 'Likes larch' });
    const changed = await change(note.id, { version: 1, text: 'Likes oak' });
    const [entry] = (await stream(id)).entries;
    expect(entry).toMatchObject({ version: 2, by: 'Ines Carvalho', activity: { text: 'Likes oak' } });
    const history = await app.json<ActivityHistory>(`/activities/${note.id}/history`);
    expect(history.map(({ before }) => before?.text ?? null)).toEqual(['Likes larch', null]);
    const { runId } = await app.json<{ runId: number }>(`/activities/${note.id}`, 'DELETE');
    expect((await stream(id)).entries).toEqual([]);
    await undo(runId);
    await undo(changed.runId ?? 0);
    expect((await stream(id)).entries[0]?.activity.text).toBe('Likes larch');
    const undone = await undo(note.runId);
    expect((await stream(id)).counts).toEqual({});
    await undo(undone);
    expect((await stream(id)).counts).toEqual({ note: 1 });
  });

  test('a colleague who is named in a note is told, once, until they note it; whoever writes it is not', async () => {
    const id = await somebody('Wilf');
    const note = await add(id, { kind: 'note', text: 'Ask @Tom Okoro and @Ines Carvalho about the keel' });
    const told = async () =>
      ((await (await asTom('/worklist')).json()) as Worklist).handed.map(({ by, note: text, contact }) => [
        by,
        text,
        contact?.name,
      ]);
    const first = ['Ines Carvalho', 'Ask @Tom Okoro and @Ines Carvalho about the keel', 'Wilf Marsh'];
    expect(await told()).toEqual([first]);
    expect((await app.json<Worklist>('/worklist')).handed).toEqual([]);
    const { runId } = await change(note.id, { version: 1, text: 'Ask @tom okoro about the keel' });
    expect(await told()).toHaveLength(1);
    await undo(runId ?? 0);
    expect(await told()).toEqual([first]);
    await undo(note.runId);
    expect(await told()).toEqual([]);
  });

  test('two who change one entry: the second is told', async () => {
    const note = await add(ana, { kind: 'note', text: 'Rang twice' });
    await change(note.id, { version: 1, text: 'Rang three times' });
    const late = await refusal(change(note.id, { version: 1, text: 'Rang once' }));
    expect([late.status, late.code]).toEqual([409, 'changed']);
  });

  test('a talk with a change of stage is one run, and goes back as one', async () => {
    const id = await somebody('Rhys');
    const stages = (await app.json<{ stages: { label: string }[] }>('/lists')).stages;
    await app.edit(id, { field: 'stage', text: 'Enquiry' });
    await app.edit(ana, { field: 'stage', text: 'Donor' });
    expect(stages).toBeDefined();
    const talk = await add(id, { kind: 'talk', way: 'call', minutes: 12, outcome: 'will come', stage: 'Donor' });
    const stage = async () => (await app.json<ContactDetail>(`/contacts/${id}`)).record.f.stage?.[0]?.v;
    expect(await stage()).toBe('Donor');
    expect((await stream(id)).entries[0]).toMatchObject({ who: 'Ines Carvalho', activity: { minutes: 12 } });
    await undo(talk.runId);
    expect([await stage(), (await stream(id)).counts]).toEqual(['Enquiry', {}]);
    expect((await refusal(add(id, { kind: 'talk', stage: 'No such' }))).code).toBe('noSuchStage');
    expect((await stream(id)).counts).toEqual({});
  });

  test('a task that repeats comes again when it is done, and both go back with one undo', async () => {
    const id = await somebody('Ivo');
    const repeat = { every: 1, unit: 'month', first: '2026-01-31', zone: 'Europe/London', until: null };
    const task = await add(id, { kind: 'task', what: 'Ring about the mooring', at: '2026-01-31', who: tom, repeat });
    const done = await change(task.id, { version: 1, isOpen: false });
    const { entries } = await stream(id, '?kinds=task');
    expect(entries.map(({ activity: { isOpen } }) => isOpen)).toEqual([true, false]);
    expect(entries[0]?.activity.at?.slice(8)).toMatch(/^(31|30|29|28)$/);
    expect((entries[0]?.activity.at ?? '') > new Date().toISOString().slice(0, 10)).toBe(true);
    expect(entries[1]?.activity).toMatchObject({ closedBy: me });
    await undo(done.runId ?? 0);
    expect((await stream(id)).entries.map(({ id: one, activity }) => [one, activity.isOpen])).toEqual([
      [task.id, true],
    ]);
  });

  test('a colleague who is booked already is told of, and the appointment is kept all the same', async () => {
    const id = await somebody('Elin');
    const at = '2026-03-29T09:00:00Z';
    await add(id, { kind: 'appointment', what: 'Yard visit', at, end: '2026-03-29T10:00:00Z', who: tom });
    const beside = { kind: 'appointment', what: 'Sail fitting', who: me, colleagues: [tom] };
    const clash = await add(id, { ...beside, at: '2026-03-29T09:30:00Z', end: '2026-03-29T11:00:00Z' });
    expect(clash.booked).toEqual(['Tom Okoro has Yard visit at that time.']);
    const free = await add(id, { ...beside, at: '2026-03-29T11:00:00Z', end: '2026-03-29T12:00:00Z' });
    expect(free.booked).toEqual([]);
    expect((await add(id, { ...beside, at: '2026-03-29' })).booked).toHaveLength(5);
  });

  test('an appointment that is moved keeps its length', async () => {
    const times = { at: '2026-05-04T09:00:00Z', end: '2026-05-04T10:30:00Z' };
    const { id } = await add(ana, { kind: 'appointment', what: 'Fitting', ...times });
    await change(id, { version: 1, at: '2026-05-06T14:00:00Z' });
    expect((await stream(ana, '?kinds=appointment')).entries[0]?.activity.end).toBe('2026-05-06T15:30:00.000Z');
  });

  test.each<[string, object, string]>([
    ['a note without a text', { kind: 'note', text: ' ' }, 'text'],
    ['a note of a megabyte', { kind: 'note', text: 'x'.repeat(100_000) }, 'text'],
    ['an end before its start', { kind: 'appointment', what: 'x', at: '2026-02-02', end: '2026-02-01' }, 'end'],
    ['the 29th of February of another year', { kind: 'task', what: 'x', at: '2026-02-29' }, 'at'],
    ['an amount without a currency', { kind: 'gift', amount: { amount: 5, currency: '' } }, 'amount'],
    ['somebody who is nobody', { kind: 'task', what: 'x', who: 9999 }, 'who'],
    ['a guest who is nobody', { kind: 'appointment', what: 'x', at: '2026-02-01', people: [99_999] }, 'people'],
  ])('%s is refused with the field it is about', async (_, parts, field) => {
    const before = await stream(ana);
    expect(await refusal(add(ana, parts))).toMatchObject({ status: 422, facts: { field } });
    expect(await stream(ana)).toEqual(before);
  });

  test('a task for somebody who is retired is refused', async () => {
    await app.signedInAs('editor', 'Vera Lund');
    const vera = (await app.json<Owner[]>('/owners')).find(({ name }) => name === 'Vera Lund')?.id ?? 0;
    await app.json(`/people/${vera}/retire`, 'POST', {});
    expect((await refusal(add(ana, { kind: 'task', what: 'Ring', who: vera }))).code).toBe('retired');
  });

  test('pages go on where the one before ended, and kinds are filtered', async () => {
    const id = await somebody('Olga');
    for (let i = 1; i <= 7; i++)
      await add(id, { kind: i % 2 ? 'note' : 'enquiry', text: `No ${i}`, at: `2026-01-0${i}` });
    const texts = async (query: string) => (await stream(id, query)).entries.map(({ activity }) => activity.text);
    expect([...(await texts('?limit=4')), ...(await texts('?limit=4&skip=4'))]).toEqual(
      [7, 6, 5, 4, 3, 2, 1].map((n) => `No ${n}`),
    );
    expect(await texts('?kinds=enquiry')).toEqual(['No 6', 'No 4', 'No 2']);
    expect((await stream(id)).counts).toEqual({ note: 4, enquiry: 3 });
  });

  test('an organization shows what happens with its people, and whose each is', async () => {
    const { contactId: firm } = await app.enter({ organization: 'Tern Joinery' }, { kind: 'organization' });
    const { contactId: kit } = await app.enter({ givenName: 'Kit', familyName: 'Tern', organization: 'Tern Joinery' });
    await add(kit, { kind: 'note', text: 'Asks for larch' });
    await add(firm, { kind: 'enquiry', what: 'Rope by the metre' });
    expect((await stream(firm)).entries.map(({ contact }) => contact.name).sort()).toEqual([
      'Kit Tern',
      'Tern Joinery',
    ]);
  });
});

describe('within a remit', () => {
  test('entries of others are out of sight, and cannot be changed', async () => {
    const seer = await app.signedInAs('editor', 'Kari Pike', { tags: ['regatta'] });
    const id = await somebody('Bo');
    const note = await add(id, { kind: 'note', text: 'Not for everybody' });
    expect((await seer(`/contacts/${id}/activities`)).status).toBe(404);
    const init = { method: 'PATCH', body: JSON.stringify({ version: 1, text: 'x' }) };
    const sent = await seer(`/activities/${note.id}`, { ...init, headers: { 'Content-Type': 'application/json' } });
    expect(sent.status).toBe(404);
    expect((await seer(`/activities/${note.id}/history`)).status).toBe(404);
    await app.edit(id, { field: 'tags', text: 'regatta' });
    expect((await seer(`/contacts/${id}/activities`)).status).toBe(200);
  });
});

describe('with a merge', () => {
  test('the stream goes to whoever took the contact in, and back with the undo', async () => {
    const [a, b] = [await somebody('Nell'), await somebody('Nelly')];
    await add(a, { kind: 'note', text: 'Of the first' });
    await add(b, { kind: 'note', text: 'Of the second' });
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into match_group (member_key, member_ids, state, band, probability01, bits, name, model_version)
       values ('activity.test', array[$1::bigint, $2::bigint], 'open', 'likely', 1, 1, 'Nell', 1) returning id`,
      [a, b],
    );
    const { runId } = await app.json<{ runId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [a, b],
      keepId: a,
      choices: {},
      versions: {},
    });
    const texts = async (id: number) => (await stream(id)).entries.map(({ activity }) => activity.text).sort();
    expect(await texts(a)).toEqual(['Of the first', 'Of the second']);
    // Whoever asks for the one that is gone is led to the one that took it in.
    expect(await texts(b)).toEqual(['Of the first', 'Of the second']);
    await undo(runId);
    expect([await texts(a), await texts(b)]).toEqual([['Of the first'], ['Of the second']]);
  });
});
