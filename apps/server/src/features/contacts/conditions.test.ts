import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { foldText, summarise } from '@gray-loom/core/fields';
import type { ContactRecord } from '@gray-loom/core/model';
import { factsOf, meets, type Condition, type Subject } from '@gray-loom/core/segments';
import { person, recordOf, TODAY, TOUCH, tree } from '../../../../../packages/core/src/testing/random-conditions';
import { activityOf, daysOverdue, lastTouch, rhythmOf } from '@gray-loom/core/activity';
import { addActivities } from '../../book/activities';
import { setSetting } from '../../book/statements/settings';
import { TOUCH as TOUCH_KEY } from '../../book/touch-settings';
import { insertContacts } from '../../book/write-contacts';
import { inTransaction } from '../../db/connect';
import { handThread, startRun } from '../../runs/runs';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { channelStates } from './permissions';
import { readyCondition } from './ready-filter';
import { contactConditions } from './contact-filter';
import { countAll } from './statements/contact-list';

/** The statement that the database answers is held to the plain evaluator, on random books and trees. */
let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
  await setSetting(app.database.pool, TOUCH_KEY, TOUCH);
});
afterAll(() => app.end());

interface Kept {
  id: number;
  record: ContactRecord;
  subject: Subject;
}

/** How somebody stands with keeping in touch, by the core. */
function touchOf(
  one: (typeof person extends fc.Arbitrary<infer T> ? T : never) | undefined,
  { f }: ContactRecord,
  cameIn: Date,
): Pick<Subject, 'touch' | 'overdue'> {
  const activities = (one?.activities ?? []).map(({ kind, ...known }) => activityOf(kind, known));
  const touch = lastTouch(activities, TOUCH.kinds, TODAY);
  const every = rhythmOf(TOUCH, { stage: String(f.stage?.[0]?.v ?? ''), segments: new Set(one?.isClose ? [7] : []) });
  const overdue = every === null ? null : daysOverdue(every, touch, cameIn.toISOString().slice(0, 10), TODAY);
  return { touch, overdue };
}

/** Writes a random book, and gives what the evaluator needs of it. */
async function bookOf(
  people: (typeof person extends fc.Arbitrary<infer T> ? T : never)[],
): Promise<{ kept: Kept[]; runId: number }> {
  const { database } = app;
  const { ids, runId, threadId } = await inTransaction(database, async (tx) => {
    const threadId = await handThread(tx);
    const runId = await startRun(tx, { kind: 'edit', state: 'done', threadId, title: 'A random book' });
    const records = people.map(({ drafts, isOrganization }) => ({ record: recordOf(drafts, isOrganization) }));
    const ids = await insertContacts(tx, runId, records);
    const activities = people.flatMap((one, i) =>
      [...one.activities, ...one.results].map(({ kind, ...known }) => ({
        contactId: ids[i] ?? 0,
        activity: activityOf(kind, known),
      })),
    );
    if (activities.length) await addActivities(tx, runId, activities);
    for (const [i, { daysAgo, said, band }] of people.entries()) {
      await tx.client.query(
        `update contact set created_at = ($2::date - 10 - $3::int) + time '12:00', touched_at = ($2::date - $3::int) + time '23:30' where id = $1`,
        [ids[i], TODAY, daysAgo],
      );
      if (said)
        await tx.client.query(
          `insert into permission_evidence (contact_id, address_key, channel, state, how, stated_at, run_id)
           select case when key is null then $1::bigint end, key, $2, $3, 'said so', now(), $4 from (select max(k.key) as key
             from contact_key k where $5 and k.contact_id = $1) found`,
          [ids[i], said.channel, said.state, runId, said.ofAddress],
        );
      if (people[i]?.isClose)
        await tx.client.query('insert into segment_member (segment_id, contact_id) values (7, $1)', [ids[i]]);
      if (band)
        await tx.client.query(
          `insert into match_group (member_key, member_ids, state, band, probability01, bits, name, model_version)
           values ($1, array[$2::bigint], 'open', $3, 1, 1, '', 1)`,
          [`${runId}.${i}`, ids[i], band],
        );
    }
    return { ids, runId, threadId };
  });
  const { rows } = await database.pool.query<{ id: number; created_at: Date; touched_at: Date; completeness: number }>(
    'select id, created_at, touched_at, completeness from contact where id = any($1)',
    [ids],
  );
  const columns = new Map(rows.map((row) => [row.id, row]));
  const records = ids.map((id, i) => ({
    id,
    record: recordOf(people[i]?.drafts ?? [], people[i]?.isOrganization ?? false),
  }));
  const states = await channelStates(database, records);
  return {
    runId,
    kept: records.map(({ id, record }, i) => ({
      id,
      record,
      subject: {
        ...touchOf(people[i], record, columns.get(id)?.created_at ?? new Date()),
        facts: factsOf(record),
        createdMs: columns.get(id)?.created_at.getTime() ?? 0,
        changedMs: columns.get(id)?.touched_at.getTime() ?? 0,
        completeness: columns.get(id)?.completeness ?? 0,
        area: '',
        searchText: summarise(record).searchText,
        runs: new Set([String(runId)]),
        threads: new Set([String(threadId)]),
        permissions: states.get(id) ?? {},
        syncs: {},
        duplicate: people[i]?.band ?? null,
        segments: new Set(),
        activities: [
          ...(people[i]?.activities ?? []),
          ...(people[i]?.results ?? []).map((one) => ({ ...one, amount: null })),
        ]
          .filter(({ gone }) => !gone)
          .map(({ kind, at, what, amount, outcome }) => ({
            kind,
            day: at.slice(0, 10),
            atMs: Date.parse(at),
            what: foldText(what),
            outcome,
            amount: amount?.amount ?? null,
            currency: amount?.currency ?? null,
          })),
      },
    })),
  };
}

test('what the database finds is what the evaluator finds, for 2,000 random pairs of book and condition', async () => {
  let pairs = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.array(person, { minLength: 4, maxLength: 14 }),
      fc.array(tree, { minLength: 25, maxLength: 25 }),
      async (people, trees) => {
        const { kept, runId } = await bookOf(people);
        const { pool } = app.database;
        for (const asked of trees) {
          const condition = JSON.parse(JSON.stringify(asked).replaceAll('"RUN"', `"${runId}"`)) as Condition;
          const ready = await readyCondition(pool, condition, { day: TODAY });
          for (const kind of ['person', 'organization'] as const) {
            const filter = { find: '', kind, deleted: false, ...ready };
            const wanted = kept.filter(
              ({ record, subject }) =>
                (record.f.kind ? 'organization' : 'person') === kind && meets(condition, subject, TODAY),
            );
            const mine = {
              join: 'all' as const,
              of: [condition, { field: '@run', op: 'is' as const, value: [String(runId)] }],
            };
            for (const walking of [false, true]) {
              const { where, values } = contactConditions({ ...filter, condition: mine }, { walking });
              const { rows } = await pool.query<{ id: number }>(
                `select c.id from contact c where ${where} order by c.id`,
                values,
              );
              expect({ condition, kind, walking, ids: rows.map(({ id }) => id) }).toEqual({
                condition,
                kind,
                walking,
                ids: wanted.map(({ id }) => id),
              });
            }
            expect({ condition, kind, n: await countAll(pool, { ...filter, condition: mine }) }).toEqual({
              condition,
              kind,
              n: wanted.length,
            });
          }
          pairs++;
        }
      },
    ),
    { numRuns: 80, endOnFailure: true },
  );
  expect(pairs).toBe(2000);
});
