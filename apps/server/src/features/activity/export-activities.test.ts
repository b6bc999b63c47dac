import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ActivityPage, ContactPage } from '@gray-loom/wire';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let other: TestApp;
beforeAll(async () => {
  [app, other] = await Promise.all([startTestApp(), startTestApp()]);
});
afterAll(() => Promise.all([app.end(), other.end()]));

const streams = async (of: TestApp) => {
  const { rows } = await of.json<ContactPage>('/contacts');
  const all = await Promise.all(
    rows.map(async ({ id, name }) =>
      (await of.json<ActivityPage>(`/contacts/${id}/activities`)).entries.map(
        ({ activity: { kind, at, what, text, amount, quantity } }) => ({
          name,
          kind,
          at,
          what,
          text,
          amount,
          quantity,
        }),
      ),
    ),
  );
  return all.flat();
};

test('the activity of contacts goes out as a table that changes nothing here, and brings all of it elsewhere', async () => {
  const ids: number[] = [];
  for (const [givenName, email] of [
    ['Ona', 'ona@example.org'],
    ['Ida', 'ida@example.org'],
  ] as const)
    ids.push((await app.enter({ givenName, familyName: 'Quay', email })).contactId);
  const add = (of: number, body: object) => app.json(`/contacts/${ids[of]}/activities`, 'POST', body);
  const amount = { amount: 1234.56, currency: 'NOK' };
  await add(0, { kind: 'gift', what: 'Tiller fund', at: '2026-01-04', amount });
  await add(0, { kind: 'gift', what: 'Tiller fund', at: '2026-01-04', amount });
  await add(0, { kind: 'note', at: '2026-02-01T09:30:00.000Z', text: 'Said “larch”,\nand, later, oak.' });
  await add(1, { kind: 'talk', way: 'call', what: '=1+1', at: '2026-03-04T10:00:00.000Z', text: 'Rang twice.' });
  await add(1, { kind: 'purchase', what: 'Rope', at: '2026-03-05', quantity: 2.5 });
  const before = await streams(app);
  expect(before).toHaveLength(5);

  const table = await (await app.request('/activities.csv')).text();
  expect(table.split('\n')[0]).toContain('Activity: when,Activity: kind,Activity: what');
  const again = await runImport(app, await bringFile(app, 'activity.csv', table));
  expect(again.words).toContain('5 entries here already');
  expect(await streams(app)).toEqual(before);

  await runImport(other, await bringFile(other, 'activity.csv', table));
  const key = (one: object) => JSON.stringify(one);
  expect((await streams(other)).map(key).sort()).toEqual(before.map(key).sort());
});

test('lines of JSON hold it as well, within a filter', async () => {
  const where = encodeURIComponent(JSON.stringify({ field: 'givenName', op: 'is', value: ['Ida'] }));
  const lines = (await (await app.request(`/contacts.jsonl?where=${where}`)).text()).trim().split('\n');
  expect(lines).toHaveLength(1);
  const { activities } = JSON.parse(lines[0] ?? '{}') as { activities: { kind: string }[] };
  expect(activities.map(({ kind }) => kind)).toEqual(['talk', 'purchase']);
});

test('the table goes on past a thousand people and more with whom nothing happened', async () => {
  const rows = Array.from({ length: 2100 }, (_, n) => `Quiet,Person ${n},quiet${n}@example.org`);
  await runImport(app, await bringFile(app, 'quiet.csv', ['Given name,Family name,E-mail', ...rows].join('\n')));
  const { contactId } = await app.enter({ givenName: 'Last', familyName: 'Of all', email: 'last@example.org' });
  await app.json(`/contacts/${contactId}/activities`, 'POST', { kind: 'note', at: '2026-04-01', text: 'Came late.' });
  const table = await (await app.request('/activities.csv')).text();
  expect(table).toContain('Came late.');
  expect(table.trim().split('\n')).toHaveLength(1 + 5 + 1 + 1);
});
