import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyChanges, insertContacts, lockContacts } from '../book/write-contacts';
import { inTransaction, type Tx } from '../db/connect';
import { handThread, startRun } from '../runs/runs';
import { LAW_TIMEOUT_MS, lawWithin } from '../../../../packages/core/src/testing/law-budget';
import { startTestApp, type TestApp } from '../testing/start-test-app';
import { createLogger } from '../log';
import { FeedReaders, type Consumer } from './consumer';
import { BEGINNING, changesSince, contactsChangedSince, endOfFeed } from './read-changes';
import { dropPosition, ensurePosition, pruneFeed } from './positions';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  await app.database.pool.query(
    'create table handled (consumer text, id text, contact_id bigint, version int, nth serial)',
  );
});
afterAll(() => app.end());

const log = createLogger('test', 'silent');

/** Keeps what it is given where a test can see it; `fails` says whether it breaks off after it has written. */
const keeper = (name: string, fails: () => boolean = () => false): Consumer => ({
  name,
  sentence: 'Keeps what it is given.',
  from: 'now',
  batch: 7,
  handle: async (tx, changes) => {
    await tx.client.query(
      `insert into handled (consumer, id, contact_id, version) select $1, * from unnest($2::text[], $3::bigint[], $4::int[])`,
      [
        name,
        changes.map(({ id }) => id),
        changes.map(({ contactId }) => contactId),
        changes.map(({ version }) => version),
      ],
    );
    if (fails()) throw new Error('broken off');
  },
});

const begin = (tx: Tx) =>
  handThread(tx).then((threadId) => startRun(tx, { kind: 'edit', state: 'done', threadId, title: 'test' }));

/** Somebody new, by COPY. */
async function bring(tx: Tx, count: number): Promise<number[]> {
  const run = await begin(tx);
  return insertContacts(
    tx,
    run,
    Array.from({ length: count }, () => ({ record: { f: { familyName: [{ slot: 0, v: 'Okafor', run }] }, n: 1 } })),
  );
}

/** Another nickname for somebody who is here. */
async function rename(tx: Tx, contactId: number, nickname: string): Promise<void> {
  const run = await begin(tx);
  const before = (await lockContacts(tx, [contactId])).get(contactId)?.record.f.nickname?.[0] ?? null;
  await applyChanges(tx, run, [
    {
      contactId,
      operations: [{ target: contactId, field: 'nickname', slot: 0, before, after: { slot: 0, v: nickname, run } }],
    },
  ]);
}

/** Every version of every contact, as the history has it. */
async function written(): Promise<string[]> {
  const { rows } = await app.database.pool.query<{ one: string }>(
    `select contact_id || '.' || version as one from operation order by contact_id, version`,
  );
  return rows.map(({ one }) => one);
}

async function handledBy(consumer: string): Promise<string[]> {
  const { rows } = await app.database.pool.query<{ one: string }>(
    `select contact_id || '.' || version as one from handled where consumer = $1 order by contact_id, nth`,
    [consumer],
  );
  return rows.map(({ one }) => one);
}

interface Step {
  what: 'bring' | 'rename' | 'rollBack' | 'read' | 'crash';
  /** Steps that go by before it commits. */
  late: number;
}
const step: fc.Arbitrary<Step> = fc.record({
  what: fc.constantFrom<Step['what']>('bring', 'bring', 'rename', 'rename', 'rollBack', 'read', 'read', 'crash'),
  late: fc.integer({ min: 0, max: 6 }),
});

// Law: with writers that commit late, roll back and race, readers that crash, and two processes of each reader.
test(
  'every change is handled once and none is passed over, in order, whoever writes and fails how',
  async () => {
    let nth = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 24 }), async (steps) => {
        const before = new Set(await written());
        const names = [`steady${++nth}`, `broken${nth}`];
        let crashes = 0;
        const consumers = [keeper(names[0] ?? ''), keeper(names[1] ?? '', () => crashes-- > 0)];
        const processes = [
          new FeedReaders(app.database, consumers, log),
          new FeedReaders(app.database, consumers, log),
        ];
        await processes[0]?.open();
        const [first = 0] = await inTransaction(app.database, (tx) => bring(tx, 3));
        const open: { until: number; commit: () => void; done: Promise<unknown> }[] = [];
        const close = async (at: number) => {
          for (const one of open.splice(0).sort((a, b) => a.until - b.until)) {
            if (one.until > at) open.push(one);
            else {
              one.commit();
              await one.done;
            }
          }
        };
        for (const [i, { what, late }] of steps.entries()) {
          await close(i);
          if (what === 'read') await Promise.all(processes.map((process) => process.readAll()));
          else if (what === 'crash') crashes = 1;
          else {
            let commit = () => undefined as void;
            const mayCommit = new Promise<void>((resolve) => (commit = resolve));
            const done = inTransaction(app.database, async (tx) => {
              // Two that wait for one contact wait for each other's commit; a contact of its own each time keeps them apart.
              if (what === 'rename') await rename(tx, first + (open.length % 3), `N${i}`);
              else await bring(tx, 1 + (i % 3));
              await mayCommit;
              if (what === 'rollBack') throw new Error('rolled back');
            }).catch(() => undefined);
            open.push({ until: i + late, commit, done });
            // A rename may wait for the one before it.
            if (what === 'rename') await close(i + late);
          }
        }
        await close(Infinity);
        // Whoever failed waits a while; here it goes on at once.
        await app.database.pool.query('update feed_consumer set next_try_at = null');
        for (let turn = 0; turn < 4; turn++) {
          for (const process of processes) await process.readAll();
          await app.database.pool.query('update feed_consumer set next_try_at = null');
        }
        const expected = (await written()).filter((one) => !before.has(one));
        for (const name of names) {
          const handled = (await handledBy(name)).filter((one) => expected.includes(one));
          expect(handled).toEqual(expected);
        }
        for (const name of names) await dropPosition(app.database.pool, name);
      }),
      lawWithin(25, 25),
    );
  },
  LAW_TIMEOUT_MS,
);

test('a late commit is not passed over by a reader that saw what came after it', async () => {
  const { pool } = app.database;
  const from = await endOfFeed(pool);
  let commit = () => undefined as void;
  const mayCommit = new Promise<void>((resolve) => (commit = resolve));
  let lateId = 0;
  let wrote = () => undefined as void;
  const hasWritten = new Promise<void>((resolve) => (wrote = resolve));
  const late = inTransaction(app.database, async (tx) => {
    [lateId = 0] = await bring(tx, 1);
    wrote();
    await mayCommit;
  });
  await hasWritten;
  const [early = 0] = await inTransaction(app.database, (tx) => bring(tx, 1));
  expect((await changesSince(pool, from, 100)).changes).toEqual([]);
  // Whoever goes on from the end of the feed is given the early one now, and may be given it again.
  expect(await contactsChangedSince(pool, from, { exceptThread: 0, kinds: ['values'] })).toEqual([early]);
  commit();
  await late;
  const { changes } = await changesSince(pool, from, 100);
  expect(changes.map(({ contactId }) => contactId)).toEqual([lateId, early]);
});

test('a change names its fields, its run and whoever made it; what was new names none', async () => {
  const from = await endOfFeed(app.database.pool);
  const { contactId, runId } = await app.enter({
    givenName: 'Odile',
    familyName: 'Brandt',
    email: 'odile@example.org',
  });
  await app.edit(contactId, { field: 'nickname', text: 'Odi' });
  await app.json(`/contacts/${contactId}/permissions`, 'POST', {
    channel: 'email',
    state: 'optedOut',
    how: 'on the phone',
  });
  const { changes } = await changesSince(app.database.pool, from, 100);
  expect(changes).toMatchObject([
    { contactId, runId, version: 1, fields: null, kind: 'values', actorId: 1 },
    { contactId, version: 2, fields: ['nickname'], kind: 'values', actorId: 1 },
    { contactId, version: null, fields: [], kind: 'permission', actorId: 1 },
  ]);
  expect(new Set(changes.map(({ id }) => id)).size).toBe(3);
});

test('a consumer that fails is passed by the others, says since when, and goes on where it was', async () => {
  let broken = true;
  const consumers = [keeper('ill', () => broken), keeper('well')];
  const readers = new FeedReaders(app.database, consumers, log);
  await readers.open();
  await inTransaction(app.database, (tx) => bring(tx, 3));
  await readers.readAll();
  expect(await handledBy('ill')).toEqual([]);
  expect(await handledBy('well')).toHaveLength(3);
  const state = async () =>
    (
      await app.database.pool.query<{ failures: number; waits: boolean }>(
        `select failures, next_try_at > now() as waits from feed_consumer where name = 'ill'`,
      )
    ).rows[0];
  expect(await state()).toEqual({ failures: 1, waits: true });
  broken = false;
  await readers.readAll();
  expect(await handledBy('ill')).toEqual([]);
  await app.database.pool.query('update feed_consumer set next_try_at = now()');
  await readers.readAll();
  expect(await handledBy('ill')).toHaveLength(3);
  expect(await state()).toMatchObject({ failures: 0 });
});

test('a follow-up that fails waits as well, and what stood against it is forgotten once it is done', async () => {
  let tries = 0;
  let broken = true;
  const follower: Consumer = {
    ...keeper('follower'),
    then: async () => {
      tries++;
      if (broken) throw new Error('broken off');
      return 'done';
    },
  };
  const readers = new FeedReaders(app.database, [follower], log);
  await readers.open();
  const error = async () =>
    (await app.database.pool.query<{ error: string | null }>(`select error from feed_consumer where name = 'follower'`))
      .rows[0]?.error;
  await inTransaction(app.database, (tx) => bring(tx, 1));
  await readers.readAll();
  await readers.readAll();
  expect(tries).toBe(1);
  expect(await error()).toBe('Error');
  broken = false;
  await app.database.pool.query(`update feed_consumer set next_try_at = now() where name = 'follower'`);
  await readers.readAll();
  await readers.readAll();
  expect(tries).toBe(2);
  expect(await error()).toBeNull();
});

test('the feed is kept for the slowest reader and a month more', async () => {
  const { pool } = app.database;
  const count = async () => (await pool.query<{ n: number }>('select count(*)::int as n from change')).rows[0]?.n ?? 0;
  await pool.query('delete from feed_consumer');
  await inTransaction(app.database, (tx) => bring(tx, 1));
  await ensurePosition(pool, 'slow', 'now');
  await inTransaction(app.database, (tx) => bring(tx, 1));
  const all = await count();
  expect(await pruneFeed(pool)).toBe(0);
  await pool.query(`update change set at = now() - interval '2 months'`);
  expect(await pruneFeed(pool)).toBe(all - 1);
  expect((await changesSince(pool, BEGINNING, 10)).changes).toHaveLength(1);
});
