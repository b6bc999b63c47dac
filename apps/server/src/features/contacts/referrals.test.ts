import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, Referrals } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const enter = async (givenName: string) => (await app.enter({ givenName, familyName: 'Moor' })).contactId;
const relate = (id: number, value: object) => app.edit(id, { field: 'related', value });
const pounds = (amount: number) => ({ amount, currency: 'GBP' });

test('referrals are listed by referrer with what is owed, from either side, and summed for each currency', async () => {
  expect(await app.json<Referrals>('/referrals')).toEqual({ rows: [], sums: [], more: false });
  const [ana, ben, cleo] = [await enter('Ana'), await enter('Ben'), await enter('Cleo')];
  await relate(ben, { relation: 'referred by', to: ana, owed: pounds(40.1), fee: 'on enrolment' });
  await relate(cleo, { relation: 'referred by', to: ana, owed: pounds(80.2) });
  await relate(ana, { relation: 'referred', to: null, name: 'Dara Vale', owed: { amount: 15, currency: 'EUR' } });
  await relate(cleo, { relation: 'sibling', to: ben });
  const { rows, sums } = await app.json<Referrals>('/referrals');
  expect(sums).toEqual([{ amount: 15, currency: 'EUR' }, pounds(120.3)]);
  expect(rows.map(({ referrer, referred, owed, fee }) => [referrer.name, referred, owed?.amount, fee])).toEqual([
    ['Ana Moor', { id: ben, name: 'Ben Moor' }, 40.1, 'on enrolment'],
    ['Ana Moor', { id: cleo, name: 'Cleo Moor' }, 80.2, ''],
    ['Ana Moor', { id: null, name: 'Dara Vale' }, 15, ''],
  ]);
  const { relatedBy } = await app.json<ContactDetail>(`/contacts/${ana}`);
  expect(relatedBy.map(({ owed }) => owed)).toEqual([pounds(40.1), pounds(80.2)]);
  // Whoever is deleted is listed no more.
  await app.json(`/contacts/${cleo}`, 'DELETE');
  expect((await app.json<Referrals>('/referrals')).sums).toEqual([{ amount: 15, currency: 'EUR' }, pounds(40.1)]);
});

test.each([
  ['less than nothing', 'Una', { amount: -4, currency: 'GBP' }],
  ['no currency', 'Vera', { amount: 4, currency: 'pounds' }],
  ['words', 'Wim', { amount: '5 %', currency: 'GBP' }],
])('a fee of %s is refused', async (_, name, owed) => {
  const id = await enter(name);
  const refused = await refusal(relate(id, { relation: 'referred by', to: null, name: 'Ida', owed }));
  expect([refused.status, refused.code]).toEqual([422, 'noAmount']);
});
