import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ContactDetail } from '@gray-loom/wire';
import { LAW_TIMEOUT_MS, lawWithin } from '../../../../../packages/core/src/testing/law-budget';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

const PEOPLE = 9;

let app: TestApp;
let ids: number[];

/** People who share some of everything that a merge has to bring along. */
beforeAll(async () => {
  app = await startTestApp();
  ids = [];
  for (let i = 0; i < PEOPLE; i++) {
    const { contactId } = await app.json<{ contactId: number }>('/contacts', 'POST', {
      despite: true,
      values: [
        { field: 'givenName', text: i % 3 ? 'Kate' : 'Katherine' },
        { field: 'familyName', text: i % 2 ? 'Pike' : 'Pyke' },
        { field: 'email', text: `kate${i % 4}@example.org`, label: i % 2 ? 'home' : 'work' },
        { field: 'email', text: `pike${i}@example.net` },
        { field: 'tel', text: `+44 7700 9001${String(i % 5).padStart(2, '0')}` },
        ...(i % 3 === 1 ? [{ field: 'organization', text: `Tern Joinery ${i}` }] : []),
        ...(i % 4 === 0 ? [{ field: 'stage', text: i % 8 ? 'Donor' : 'Enquiry' }] : []),
        { field: 'note', text: `Note ${i}` },
        { field: 'tags', text: `crew ${i % 3}` },
        { field: 'adr', value: { street: `${i % 4} Quay Street`, locality: 'Quillhaven', country: 'GB' } },
      ],
    });
    ids.push(contactId);
    await app.json(`/contacts/${contactId}/permissions`, 'POST', {
      channel: ['email', 'text', 'post'][i % 3],
      state: i % 2 ? 'optedOut' : 'allowed',
      how: 'By letter',
    });
    await app.json(`/contacts/${contactId}/activities`, 'POST', { kind: 'note', text: `Heard of ${i}` });
  }
  for (const [from, to] of [
    [0, 1],
    [2, 3],
    [3, 2],
    [4, 8],
  ] as const)
    await app.edit(ids[from] ?? 0, { field: 'related', value: { relation: 'colleague', to: ids[to] ?? 0 } });
  await app.json('/opportunities', 'POST', {
    contactId: ids[2],
    name: 'Clinker course',
    pipeline: 'Opportunities',
    stage: 'Enquiry',
    amount: 1450,
    currency: 'GBP',
  });
  await app.json('/households', 'POST', { memberIds: [ids[0], ids[5]], name: '' });
});
afterAll(() => app.end());

/** All live data: what people see, and all that finds or counts them. History and versions only go forward. */
async function everything(): Promise<Record<string, unknown>> {
  const { pool } = app.database;
  const rows = async (text: string) => (await pool.query(text)).rows as unknown[];
  const columns = await pool.query<{ name: string }>(
    `select column_name as name from information_schema.columns where table_name = 'contact'
     and column_name not in ('version', 'touched_at', 'last_run', 'record') order by 1`,
  );
  return {
    contacts: await rows(
      `select ${columns.rows.map(({ name }) => `"${name}"`).join(', ')}, record->'f' as values from contact order by id`,
    ),
    keys: await rows('select key::text, contact_id from contact_key order by 1, 2'),
    search: await rows('select contact_id, text from contact_search order by 1'),
    counts: await rows(
      'select who, kind, label, sum(n)::int as n from tally group by 1, 2, 3 having sum(n) <> 0 order by 1, 2, 3',
    ),
    households: await rows('select * from household order by id'),
    activities: await rows('select id, contact_id, holder_id, record from activity order by id'),
    permissions: await Promise.all(
      ids.map(async (id) => (await app.json<ContactDetail>(`/contacts/${id}`)).permissions.channels),
    ),
    sheets: await Promise.all(
      ids.map(async (id) => {
        const { relatedBy, related, letterLine, household, state } = await app.json<ContactDetail>(`/contacts/${id}`);
        const opportunities = await app.json<unknown[]>(`/contacts/${id}/opportunities`);
        return { relatedBy, related, letterLine, household, state, opportunities };
      }),
    ),
  };
}

/** Merges the people with these numbers, as they stand now, through a group that has just them; null where too few are left. */
async function merge(numbers: readonly number[], keep: number): Promise<number | null> {
  const { rows } = await app.database.pool.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and state = 'live' order by id`,
    [numbers.map((n) => ids[n % PEOPLE])],
  );
  const members = rows.map(({ id }) => id);
  if (members.length < 2) return null;
  const group = await app.database.pool.query<{ id: number }>(
    `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
     values ('person', $1, $2, 'open', 'likely', 0.95, 5, 'Pike', 0)
     on conflict (member_key) do update set state = 'open' returning id`,
    [members.join(','), members],
  );
  const { runId } = await app.json<{ runId: number }>(`/duplicates/${group.rows[0]?.id}/merge`, 'POST', {
    memberIds: members,
    keepId: keep % 2 ? null : (members[keep % members.length] ?? null),
    choices: {},
    versions: {},
  });
  return runId;
}

type Step = { merge: number[]; keep: number } | { undo: number } | { redo: number };
const anyStep: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({
      merge: fc.uniqueArray(fc.nat(PEOPLE - 1), { minLength: 2, maxLength: 5 }),
      keep: fc.nat(8),
    }),
  },
  { weight: 2, arbitrary: fc.record({ undo: fc.nat(9) }) },
  { weight: 1, arbitrary: fc.record({ redo: fc.nat(9) }) },
);

test(
  'merges of merges, taken back and done again in any order, leave the same live data once all are taken back',
  async () => {
    const before = await everything();
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyStep, { minLength: 1, maxLength: 7 }),
        fc.infiniteStream(fc.nat(9)),
        async (steps, order) => {
          const standing: number[] = [];
          const undone: { runId: number; undoRunId: number }[] = [];
          const takeBack = async (n: number) => {
            const [runId = 0] = standing.splice(n % standing.length, 1);
            const { undoRunId } = await app.json<{ undoRunId: number }>(`/runs/${runId}/undo`, 'POST');
            undone.push({ runId, undoRunId });
          };
          for (const step of steps) {
            if ('merge' in step) {
              const runId = await merge(step.merge, step.keep);
              if (runId !== null) standing.push(runId);
            } else if ('undo' in step) {
              if (standing.length) await takeBack(step.undo);
            } else if (undone.length) {
              const [back] = undone.splice(step.redo % undone.length, 1);
              await app.json(`/runs/${back?.undoRunId}/undo`, 'POST');
              if (back) standing.push(back.runId);
            }
            const strays = await app.database.pool.query(
              'select id from activity where holder_id <> public.root_of(contact_id)',
            );
            expect(strays.rows).toEqual([]);
          }
          while (standing.length) await takeBack(order.next().value as number);
          expect(await everything()).toEqual(before);
        },
      ),
      {
        ...lawWithin(20, 25),
        endOnFailure: true,
        ...(process.env.MERGE_SEED ? { seed: Number(process.env.MERGE_SEED) } : {}),
      },
    );
  },
  LAW_TIMEOUT_MS,
);
