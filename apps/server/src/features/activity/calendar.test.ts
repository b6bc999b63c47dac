import { afterAll, beforeAll, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import type { Owner } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let ana: number;
beforeAll(async () => {
  app = await startTestApp();
  ({ contactId: ana } = await app.enter({ givenName: 'Ana', familyName: 'Reis' }));
});
afterAll(() => app.end());

const DAY_MS = 86_400_000;
const inDays = (n: number) => new Date(Date.now() + n * DAY_MS).toISOString().slice(0, 10);
const add = (parts: object) =>
  app.json<{ id: number }>(`/contacts/${ana}/activities`, 'POST', { kind: 'appointment', ...parts });
/** Events of a calendar as another library reads them. */
const eventsOf = (text: string) =>
  new ICAL.Component(ICAL.parse(text) as never).getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
const feed = async (path: string) => {
  const answer = await app.anonymous(path.replace('/api', ''));
  return { status: answer.status, type: answer.headers.get('content-type'), text: await answer.text() };
};

test('appointments and tasks are read by another library as they are, also across a change of clocks', async () => {
  const year = new Date().getUTCFullYear() + 1;
  // In London clocks go forward on the last Sunday of March, at one in the night.
  const last = new Date(Date.UTC(year, 2, 31));
  last.setUTCDate(31 - last.getUTCDay());
  const night = last.toISOString().slice(0, 10);
  await add({ what: 'Night watch', at: `${night}T00:30:00Z`, end: `${night}T02:30:00Z`, place: 'Slip 2; quay, east' });
  await add({ what: 'Regatta', at: inDays(20), end: inDays(21), text: 'Bring oil\nand rope' });
  await add({ kind: 'task', what: 'Ring back', at: inDays(3) });
  await add({ kind: 'task', what: 'Some time' });
  const { path } = await app.json<{ path: string }>('/me/calendar', 'POST');
  const { status, type, text } = await feed(path);
  expect([status, type]).toEqual([200, expect.stringContaining('text/calendar')]);
  const events = new Map(eventsOf(text).map((event) => [event.summary, event]));
  expect([...events.keys()].sort()).toEqual([
    'Night watch, Ana Reis',
    'Regatta, Ana Reis',
    'To do: Ring back, Ana Reis',
  ]);
  // A task takes nobody's time, and nothing is said that only one program reads.
  const busy = (summary: string) => events.get(summary)?.component.getFirstPropertyValue('transp');
  expect([busy('To do: Ring back, Ana Reis'), busy('Regatta, Ana Reis')]).toEqual(['TRANSPARENT', 'OPAQUE']);
  expect(text.match(/^X-(?!WR-|PUBLISHED-)/gm)).toBeNull();
  const watch = events.get('Night watch, Ana Reis');
  expect(watch?.startDate.toJSDate().toISOString()).toBe(`${night}T00:30:00.000Z`);
  expect(watch?.endDate.toJSDate().toISOString()).toBe(`${night}T02:30:00.000Z`);
  expect(watch?.location).toBe('Slip 2; quay, east');
  const regatta = events.get('Regatta, Ana Reis');
  expect([regatta?.startDate.isDate, regatta?.startDate.toString()]).toEqual([true, inDays(20)]);
  // An end is the day behind the last one.
  expect(regatta?.endDate.toString()).toBe(inDays(22));
  expect(regatta?.description).toBe('Bring oil\nand rope');
});

test('an address is good until it is renewed, and for an account that is not retired', async () => {
  const first = await app.json<{ path: string }>('/me/calendar', 'POST');
  const second = await app.json<{ path: string }>('/me/calendar', 'POST');
  expect((await feed(first.path)).status).toBe(404);
  expect((await feed(second.path)).status).toBe(200);
  const asTom = await app.signedInAs('editor', 'Tom Okoro');
  const { path } = (await (await asTom('/me/calendar', { method: 'POST' })).json()) as { path: string };
  expect(eventsOf((await feed(path)).text)).toEqual([]);
  const tom = (await app.json<Owner[]>('/owners')).find(({ name }) => name === 'Tom Okoro')?.id ?? 0;
  await app.json(`/people/${tom}/retire`, 'POST', {});
  expect((await feed(path)).status).toBe(404);
});

test('one appointment is a file, which is another one when it has changed', async () => {
  const { id } = await add({ what: 'Yard visit', at: '2026-05-04T09:00:00Z' });
  const one = async () => eventsOf(await (await app.request(`/activities/${id}.ics`)).text())[0];
  const before = await one();
  await app.json(`/activities/${id}`, 'PATCH', { version: 1, at: '2026-05-05T09:00:00Z' });
  const after = await one();
  expect(after?.uid).toBe(before?.uid);
  expect((after?.sequence ?? 0) > (before?.sequence ?? 0)).toBe(true);
  expect(after?.startDate.toJSDate().toISOString()).toBe('2026-05-05T09:00:00.000Z');
  expect((await app.request('/activities/999999.ics')).status).toBe(404);
});
