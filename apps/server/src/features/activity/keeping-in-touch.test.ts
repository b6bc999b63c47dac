import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, ActivityPage, Due, Owner, SegmentSummary, TouchRhythms } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { reviewSegments } from '../segments';

let app: TestApp;
let tom: number;
let ids: Record<string, number>;
beforeAll(async () => {
  app = await startTestApp();
  await app.signedInAs('editor', 'Tom Okoro');
  tom = (await app.json<Owner[]>('/owners')).find(({ name }) => name === 'Tom Okoro')?.id ?? 0;
  ids = {};
  for (const [name, stage] of [
    ['Ona', 'Donor'],
    ['Ida', 'Donor'],
    ['Eve', 'Enquiry'],
  ] as const) {
    const { contactId } = await app.enter({ givenName: name, familyName: 'Quay', stage, owner: 'Tom Okoro' });
    ids[name] = contactId;
  }
  await app.database.pool.query(`update contact set created_at = now() - interval '400 days'`);
});
afterAll(() => app.end());

const inDays = (n: number) => new Date(Date.now() + n * 86_400_000).toISOString().slice(0, 10);
const add = (name: string, body: object) =>
  app.json<{ id: number }>(`/contacts/${ids[name]}/activities`, 'POST', { who: tom, ...body });
const put = (settings: object) =>
  app.request('/keeping-in-touch', {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(settings),
  });
const save = (rhythms: object[]) => put({ kinds: ['talk', 'appointment'], rhythms });
const due = async () => (await app.json<Due>('/due?of=team')).toHearFrom;

test('whoever was not heard from for so long waits, until somebody was in touch or something is planned', async () => {
  expect(await due()).toEqual([]);
  expect((await save([{ stage: 'Donor', everyDays: 90 }])).status).toBe(204);
  await add('Ida', { kind: 'talk', way: 'call', at: inDays(-100) });
  expect((await due()).map(({ contact, last, by, overdue }) => [contact.name, last, by, overdue])).toEqual([
    ['Ona Quay', '', '', 310],
    ['Ida Quay', inDays(-100), 'Tom Okoro', 10],
  ]);
  const { rhythms } = await app.json<TouchRhythms>('/keeping-in-touch');
  expect(rhythms).toEqual([{ stage: 'Donor', everyDays: 90, people: 2, overdue: 2 }]);
  // A note is no touch; an appointment ahead is a plan.
  await add('Ona', { kind: 'note', text: 'Moved house.' });
  await add('Ona', { kind: 'appointment', what: 'Yard visit', at: inDays(3) });
  expect((await due()).map(({ contact }) => contact.name)).toEqual(['Ida Quay']);
  await add('Ida', { kind: 'talk', way: 'call', at: inDays(-1) });
  expect(await due()).toEqual([]);
  const { touch } = await app.json<ActivityPage>(`/contacts/${ids.Ida}/activities`);
  expect(touch).toEqual({ last: inDays(-1), by: 'Tom Okoro', overdue: -89 });
});

test('last touch, by whom and how overdue are columns, orders and conditions', async () => {
  await save([{ stage: 'Donor', everyDays: 90 }]);
  const list = (query: string) => app.json<ContactPage>(`/contacts?fields=@touch,@touchBy,@overdue${query}`);
  const { rows } = await list('&sort=@overdue:back');
  expect(rows.map(({ name, extra }) => [name, extra['@touchBy'], extra['@overdue']])).toEqual([
    ['Quay, Ona', '', '310'],
    ['Quay, Ida', 'Tom Okoro', ''],
    ['Quay, Eve', '', ''],
  ]);
  const where = async (condition: object) =>
    (await list(`&where=${encodeURIComponent(JSON.stringify(condition))}`)).rows.map(({ name }) => name);
  expect(await where({ field: '@touchBy', op: 'is', value: [String(tom)] })).toEqual(['Quay, Ida']);
  expect(await where({ field: '@overdue', op: 'number', value: { from: 100 } })).toEqual(['Quay, Ona']);
  expect(await where({ field: '@touch', op: 'missing' })).toEqual(['Quay, Eve', 'Quay, Ona']);
});

test('a segment has a rhythm too, the shortest counts, and a renamed stage keeps its own', async () => {
  const segment = await app.json<SegmentSummary>('/segments', 'POST', {
    name: 'Close',
    condition: { field: 'givenName', op: 'is', value: ['Ida'] },
  });
  await reviewSegments(app.database);
  await save([
    { stage: 'Donor', everyDays: 900 },
    { segmentId: segment.id, everyDays: 1 },
  ]);
  expect((await due()).map(({ contact, overdue }) => [contact.name, overdue])).toEqual([['Ida Quay', 0]]);
  const drop = await app.request(`/segments/${segment.id}`, { method: 'DELETE' });
  expect([drop.status, await drop.text()]).toEqual([409, expect.stringContaining('Take its rhythm out')]);
  await app.json('/picks/merge', 'POST', { list: 'stage', from: 'Donor', into: 'Enquiry' });
  const { rhythms } = await app.json<TouchRhythms>('/keeping-in-touch');
  expect(rhythms.map(({ stage, segmentId }) => stage ?? segmentId)).toEqual(['Enquiry', segment.id]);
});

test.each([
  ['nothing that counts', { kinds: [], rhythms: [] }, 'at least one kind'],
  ['half a day', { kinds: ['talk'], rhythms: [{ stage: 'Donor', everyDays: 0.5 }] }, 'whole number of days'],
  ['nobody', { kinds: ['talk'], rhythms: [{ everyDays: 5 }] }, 'which stage or segment'],
  ['a stage that is not there', { kinds: ['talk'], rhythms: [{ stage: 'Pirate', everyDays: 5 }] }, 'no stage'],
  ['a segment that is gone', { kinds: ['talk'], rhythms: [{ segmentId: 999, everyDays: 5 }] }, 'gone'],
])('%s is refused in words', async (_, settings, words) => {
  const answer = await put(settings);
  expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining(words)]);
});

test('a segment that asks how overdue somebody is has no rhythm', async () => {
  const segment = await app.json<SegmentSummary>('/segments', 'POST', {
    name: 'Overdue',
    condition: { field: '@overdue', op: 'number', value: { from: 0 } },
  });
  const answer = await save([{ segmentId: segment.id, everyDays: 5 }]);
  expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining('round in a circle')]);
});
