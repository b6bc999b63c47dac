import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, ContactPage, WeightsInForce, WeightsTrial, Worklist } from '@gray-loom/wire';
import { keepBookState } from '../worklist/statements/worklist';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let ona: number;
beforeAll(async () => {
  app = await startTestApp();
  ona = (await app.enter({ givenName: 'Ona', familyName: 'Quay', email: 'ona@example.org' })).contactId;
  await app.enter({ givenName: 'Ida', tel: '+44 1632 960111' });
  await app.enter({ organization: 'Quay Chandlery', kind: 'organization' }).catch(() => null);
});
afterAll(() => app.end());

const share = async (id: number) => (await app.json<ContactDetail>(`/contacts/${id}`)).completeness;

test('weights are tried on everybody, put in force, and hold for what comes in later', async () => {
  expect(await share(ona)).toBe(30);
  const weights = { email: 6, tel: 3, familyName: 1, bday: 0 };
  const trial = await app.json<WeightsTrial>('/completeness/trial', 'POST', { weights });
  expect(trial).toEqual({ mean: 50, bands: [0, 1, 0, 1, 0] });
  expect(await share(ona)).toBe(30);
  // So few are worked out at once, in the request.
  await app.json('/completeness', 'PUT', { weights });
  const { weights: kept, now } = await app.json<WeightsInForce>('/completeness');
  expect([kept, now]).toEqual([{ email: 6, tel: 3, familyName: 1 }, trial]);
  const detail = await app.json<ContactDetail>(`/contacts/${ona}`);
  expect([detail.completeness, detail.addNext]).toEqual([70, ['tel']]);
  const { contactId } = await app.enter({ givenName: 'Eve', familyName: 'Abara' });
  expect(await share(contactId)).toBe(10);
  const answer = await app.upload('more.csv', 'Given name,Family name,E-mail\nTom,Reis,tom@example.org\nBo,Reis,\n');
  const intake = (await answer.json()) as { id: number };
  const imported = await app.json<{ runId: number }>(`/intakes/${intake.id}/import`, 'POST', {});
  await app.work(imported.runId);
  const page = await app.json<ContactPage>('/contacts?find=reis');
  expect(page.rows.map(({ name, completeness }) => [name, completeness])).toEqual([
    ['Reis, Bo', 10],
    ['Reis, Tom', 70],
  ]);
});

test('what cannot weigh is refused in words', async () => {
  for (const [weights, words] of [
    [{ email: 0 }, 'At least one field'],
    [{ nothing: 2 }, "no field 'nothing'"],
    [{ email: 99 }, 'whole number from 0 to 9'],
  ] as const)
    await expect(app.json('/completeness', 'PUT', { weights })).rejects.toThrow(words);
});

test('the worklist tells how complete and fresh everybody is, in bands that add up to everybody, and over days', async () => {
  const { pool } = app.database;
  await pool.query(`update contact set touched_at = now() - interval '100 days' where id = $1`, [ona]);
  await pool.query(`insert into book_state (day, people, completeness, fresh) values (current_date - 3, 2, 41.6, 1)`);
  await keepBookState(pool);
  const list = await app.json<Worklist>('/worklist');
  expect(list.freshness).toEqual([4, 0, 1, 0, 0]);
  expect(list.completeness.bands.reduce((sum, n) => sum + n, 0)).toBe(5);
  expect(list.trend.map(({ complete, fresh, people }) => [complete, fresh, people])).toEqual([
    [42, 50, 2],
    [list.completeness.mean, 100, 5],
  ]);
  const where = encodeURIComponent(
    JSON.stringify({
      field: '@changed',
      op: 'span',
      value: { from: { n: -365, unit: 'day' }, to: { n: -91, unit: 'day' } },
    }),
  );
  expect((await app.json<ContactPage>(`/contacts?where=${where}`)).rows.map(({ name }) => name)).toEqual(['Quay, Ona']);
});
