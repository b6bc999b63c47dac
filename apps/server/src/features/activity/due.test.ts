import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ActivityPage, Due, Owner } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let tom: number;
let asTom: TestApp['request'];
beforeAll(async () => {
  app = await startTestApp();
  asTom = await app.signedInAs('editor', 'Tom Okoro');
  tom = (await app.json<Owner[]>('/owners')).find(({ name }) => name === 'Tom Okoro')?.id ?? 0;
});
afterAll(() => app.end());

const DAY_MS = 86_400_000;
const inDays = (n: number) => new Date(Date.now() + n * DAY_MS).toISOString().slice(0, 10);
const mine = async () => (await (await asTom('/due')).json()) as Due;
const names = (list: Due['tasks']) => list.map(({ activity }) => activity.what);

test('what is late comes first, what is far ahead not at all, and each sees their own or everybody’s', async () => {
  const { contactId } = await app.enter({ givenName: 'Ona', familyName: 'Quay' });
  const task = (what: string, at: string | null, who: number | null = tom) =>
    app.json(`/contacts/${contactId}/activities`, 'POST', { kind: 'task', what, at, who });
  await task('next week', inDays(7));
  await task('late', inDays(-3));
  await task('some time', null);
  await task('next year', inDays(300));
  await task('nobody’s', inDays(1), null);
  const found = await mine();
  expect(names(found.tasks)).toEqual(['late', 'next week', 'some time']);
  expect(found.totals).toMatchObject({ tasks: 3, late: 1 });
  const team = await app.json<Due>('/due?of=team');
  expect(names(team.tasks)).toEqual(['late', 'nobody’s', 'next week', 'some time']);
  const late = found.tasks[0];
  await app.json(`/activities/${late?.id}`, 'PATCH', { version: 1, isOpen: false });
  expect((await mine()).totals).toMatchObject({ tasks: 2, late: 0 });
});

test('what hangs on a contact that is deleted waits for nobody, until the contact is back', async () => {
  const { contactId } = await app.enter({ givenName: 'Gone', familyName: 'Quay' });
  await app.json(`/contacts/${contactId}/activities`, 'POST', {
    kind: 'task',
    what: 'of a deleted',
    at: inDays(0),
    who: tom,
  });
  const before = (await mine()).totals.tasks;
  await app.json(`/contacts/${contactId}`, 'DELETE');
  const after = await mine();
  expect([after.totals.tasks, names(after.tasks).includes('of a deleted')]).toEqual([before - 1, false]);
  await app.json(`/contacts/${contactId}/restore`, 'POST', {});
  expect((await mine()).totals.tasks).toBe(before);
});

test('enquiries wait until they are answered, the oldest first', async () => {
  const { contactId } = await app.enter({ givenName: 'Ida', familyName: 'Quay' });
  const ask = (what: string, at: string) =>
    app.json<{ id: number }>(`/contacts/${contactId}/activities`, 'POST', { kind: 'enquiry', what, at, who: tom });
  await ask('Larch', inDays(-1));
  const rope = await ask('Rope', inDays(-90));
  expect(names((await mine()).enquiries)).toEqual(['Rope', 'Larch']);
  await app.json(`/activities/${rope.id}`, 'PATCH', { version: 1, isOpen: false });
  expect(names((await mine()).enquiries)).toEqual(['Larch']);
});

test('an appointment is of whoever takes part', async () => {
  const { contactId } = await app.enter({ givenName: 'Eve', familyName: 'Quay' });
  await app.json(`/contacts/${contactId}/activities`, 'POST', {
    kind: 'appointment',
    what: 'Yard visit',
    at: `${inDays(2)}T09:00:00Z`,
    colleagues: [tom],
  });
  expect(names((await mine()).appointments)).toEqual(['Yard visit']);
});

test('birthdays of one’s own people are told ahead, also of those born on the 29th of February', async () => {
  const born = (givenName: string, bday: string, owner = 'Tom Okoro') =>
    app.enter({ givenName, familyName: 'Strand', bday, owner });
  await born('Soon', `1980${inDays(3).slice(4)}`);
  await born('Later', `1980${inDays(60).slice(4)}`);
  await born('Other', `1980${inDays(3).slice(4)}`, 'Administrator');
  const days = (await mine()).comingDays;
  expect(days.map(({ contact, on }) => [contact.name, on])).toEqual([['Soon Strand', inDays(3)]]);
  const team = await app.json<Due>('/due?of=team');
  expect(team.comingDays.map(({ contact }) => contact.name).sort()).toEqual(['Other Strand', 'Soon Strand']);
  await born('Leap', '1984-02-29');
  const year = (await (await asTom('/due?days=366')).json()) as Due;
  expect(year.comingDays.find(({ contact }) => contact.name === 'Leap Strand')?.on).toMatch(/-02-2[89]$/);
});

test('one is reminded of what has a time and is about to be, and of nothing that is done, far off or somebody else’s', async () => {
  const { contactId } = await app.enter({ givenName: 'Uma', familyName: 'Quay' });
  const at = (minutes: number) => new Date(Date.now() + minutes * 60_000).toISOString();
  const add = (body: object) =>
    app.json<{ id: number }>(`/contacts/${contactId}/activities`, 'POST', { who: tom, ...body });
  await add({ kind: 'task', what: 'soon', at: at(10) });
  const late = await add({ kind: 'task', what: 'an hour late', at: at(-60) });
  await add({ kind: 'task', what: 'tomorrow', at: at(24 * 60) });
  await add({ kind: 'task', what: 'some time today', at: inDays(0) });
  await add({ kind: 'task', what: 'of nobody', at: at(5), who: null });
  await add({ kind: 'appointment', what: 'with a colleague', at: at(12), who: null, colleagues: [tom] });
  await add({ kind: 'appointment', what: 'long over', at: at(-300) });
  const told = async () => names((await (await asTom('/reminders')).json()) as Due['tasks']);
  expect(await told()).toEqual(['an hour late', 'soon', 'with a colleague']);
  await app.json(`/activities/${late.id}`, 'PATCH', { version: 1, isOpen: false });
  expect(await told()).toEqual(['soon', 'with a colleague']);
  expect(await app.json('/reminders')).toEqual([]);
});

test('contacts that are handed over take along what their owner has to do with them, and an account that is retired all of it', async () => {
  await app.signedInAs('editor', 'Vera Lund');
  const vera = (await app.json<Owner[]>('/owners')).find(({ name }) => name === 'Vera Lund')?.id ?? 0;
  const of = async (id: number) =>
    (await app.json<ActivityPage>(`/contacts/${id}/activities`)).entries.map(({ activity, who }) => [
      activity.what,
      who,
    ]);
  const add = (id: number, parts: object) => app.json(`/contacts/${id}/activities`, 'POST', { kind: 'task', ...parts });
  const { contactId } = await app.enter({ givenName: 'Lea', familyName: 'Quay', owner: 'Tom Okoro' });
  await add(contactId, { what: 'Toms', who: tom });
  await add(contactId, { what: 'Done', who: tom, isOpen: false });
  await add(contactId, { what: 'Mine' });
  const { runId } = await app.json<{ runId: number }>('/hand-over', 'POST', { ids: [contactId], to: vera });
  const after = [
    ['Mine', 'Ines Carvalho'],
    ['Done', 'Tom Okoro'],
    ['Toms', 'Vera Lund'],
  ];
  expect((await of(contactId)).sort()).toEqual([...after].sort());
  await app.json(`/runs/${runId}/undo`, 'POST', {});
  expect(await of(contactId)).toContainEqual(['Toms', 'Tom Okoro']);
  const { contactId: other } = await app.enter({ givenName: 'Mo', familyName: 'Quay' });
  await add(other, { what: 'Of a stranger', who: tom });
  await app.json(`/people/${tom}/retire`, 'POST', { handTo: vera });
  expect(await of(other)).toEqual([['Of a stranger', 'Vera Lund']]);
  expect(await of(contactId)).toContainEqual(['Toms', 'Vera Lund']);
});
