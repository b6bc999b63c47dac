import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { GroupList, IntakeDetail } from '@gray-loom/wire';
import { bringFile, runImport } from '../../testing/run-import';
import { runScan } from '../../testing/run-scan';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { checkContacts } from './check-contacts';
import { duplicateChecks } from './due-checks';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  for (let i = 0; i < 12; i++)
    await app.enter({ givenName: `Given${i}`, familyName: `Family${i}`, email: `p${i}@example.org` });
  await runScan(app);
});
afterAll(() => app.end());

const due = async () =>
  (await app.database.pool.query<{ id: number }>('select contact_id as id from match_due order by 1')).rows.map(
    ({ id }) => id,
  );
const namesOfGroups = async () => (await app.json<GroupList>('/duplicates')).groups.map(({ name }) => name);

/** A pool that does something else once, before the first statement that begins so. */
function meanwhile(beginning: string, act: () => Promise<unknown>) {
  const { pool } = app.database;
  let isDone = false;
  const query = pool.query.bind(pool) as (...args: unknown[]) => unknown;
  const meddled = Object.create(pool) as typeof pool;
  meddled.query = ((text: unknown, ...rest: unknown[]) => {
    if (isDone || typeof text !== 'string' || !text.startsWith(beginning)) return query(text, ...rest);
    isDone = true;
    return act().then(() => query(text, ...rest));
  }) as typeof pool.query;
  return { pool: meddled, done: () => isDone };
}

test('whoever comes in is checked; a field that nobody is known by checks nobody', async () => {
  await app.readFeed();
  const { contactId } = await app.enter(
    { givenName: 'Given3', familyName: 'Family3', email: 'p3@example.org' },
    { despite: true },
  );
  await app.readFeed();
  expect(await due()).toEqual([]);
  expect(await namesOfGroups()).toContain('Family3, Given3');
  await app.edit(contactId, { field: 'note', text: 'Called about the regatta.' });
  await duplicateChecks.handle({ client: app.database.pool, db: app.database.db, actor: app.database.actor } as never, [
    { id: '1.1', kind: 'values', contactId, version: 2, runId: 1, actorId: 1, fields: ['note'], at: new Date() },
  ]);
  expect(await due()).toEqual([]);
});

test('somebody who is changed again while being checked stays to be checked again', async () => {
  const { contactId, runId } = await app.enter({ givenName: 'Odile', familyName: 'Brandt', email: 'o@example.org' });
  const { pool } = app.database;
  await app.readFeed();
  await pool.query('insert into match_due (contact_id, run_id) values ($1, $2)', [contactId, runId]);
  // The next change comes between the look at who is due and the end of the check.
  const meddled = meanwhile('delete from match_due', () =>
    pool.query('update match_due set run_id = run_id + 1 where contact_id = $1', [contactId]),
  );
  await duplicateChecks.then?.({ ...app.database, pool: meddled.pool });
  expect(meddled.done()).toBe(true);
  expect(await due()).toEqual([contactId]);
});

test('somebody who is deleted while being checked leaves no group behind', async () => {
  const { contactId } = await app.enter(
    { givenName: 'Given8', familyName: 'Family8', email: 'p8@example.org' },
    { despite: true },
  );
  // Who could be the same is read first; the reader of the feed finds no group to close, for there is none yet.
  const meddled = meanwhile('select w.key::text', async () => {
    await app.json(`/contacts/${contactId}`, 'DELETE');
    await app.readFeed();
  });
  await checkContacts({ ...app.database, pool: meddled.pool }, [contactId]);
  expect(meddled.done()).toBe(true);
  expect(await namesOfGroups()).not.toContain('Family8, Given8');
});

test('a group whose people went with the undo of what brought them goes as well', async () => {
  const file = ['Given name,Family name,E-mail', 'Given5,Family5,p5@example.org', 'Given6,Family6,p6@example.org'].join(
    '\n',
  );
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${await bringFile(app, 'twins.csv', file)}`);
  const id = await bringFile(app, 'twins.csv', file, () => ({ ...mapping, recognise: [] }));
  const { id: runId } = await runImport(app, id);
  await app.readFeed();
  expect(await namesOfGroups()).toEqual(expect.arrayContaining(['Family5, Given5', 'Family6, Given6']));
  await app.json(`/runs/${runId}/undo`, 'POST');
  await app.readFeed();
  const left = await namesOfGroups();
  expect(left).not.toContain('Family5, Given5');
  expect(left).not.toContain('Family6, Given6');
});
