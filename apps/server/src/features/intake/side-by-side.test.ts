import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { setTimeout as pause } from 'node:timers/promises';
import { LIFECYCLE, type Operation, type Value } from '@gray-loom/core/model';
import type { HeldList, RunSummary, SyncSetup } from '@gray-loom/wire';
import { LAW_TIMEOUT_MS, lawWithin } from '../../../../../packages/core/src/testing/law-budget';
import { applyChanges, lockContacts } from '../../book/write-contacts';
import { inTransaction, type Tx } from '../../db/connect';
import { handThread, startRun } from '../../runs/runs';
import { untruths } from '../../testing/import-truth';
import { bringFile, carryOn, runImport } from '../../testing/run-import';
import { startSyncedApp, type SyncedApp } from '../../testing/run-sync';
import type { TestApp } from '../../testing/start-test-app';

let synced: SyncedApp;
let app: TestApp;
/** Each case has people of its own. */
let era = 0;
beforeAll(async () => {
  synced = await startSyncedApp();
  app = synced.app;
});
afterAll(() => synced.end());
beforeEach(() => {
  era++;
});

const LETTERS = 'bcdfghklmnprstvz';
const word = (n: number) => [...n.toString(16)].map((digit) => `${LETTERS[parseInt(digit, 16)]}a`).join('');
const nameOf = (n: number) => [`Ka${word(n)}`, `Lo${word(era)}${word(n)}`] as const;
const mailOf = (n: number) => `${nameOf(n).join('.').toLowerCase()}@example.org`;

type Line = readonly [person: number, town: string, job: string];
const fileOf = (lines: readonly Line[]) =>
  ['First name,Last name,E-mail,Town,Job title,Tags']
    .concat(lines.map(([n, town, job]) => [...nameOf(n), mailOf(n), town, job, `crew ${era}`].join(',')))
    .join('\n');

const bring = (name: string, lines: readonly Line[], change: { allowNew?: boolean } = {}) =>
  bringFile(app, name, fileOf(lines), (mapping) => ({ ...mapping, writeRule: 'replace', ...change }));
const start = async (intakeId: number) =>
  (await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST')).runId;
const idsOf = async (from: number, to: number) => {
  const mails = Array.from({ length: to - from }, (_, i) => mailOf(from + i));
  const { rows } = await app.database.pool.query<{ id: number; email: string }>(
    `select id, email from contact where email = any($1::text[]) and state = 'live' order by id`,
    [mails],
  );
  const byMail = new Map(rows.map(({ id, email }) => [email, id]));
  return mails.map((mail) => byMail.get(mail) ?? 0);
};

/** Changes contacts in one transaction that holds them until `meanwhile` waits for it. */
async function beforeItCanWrite(
  ids: readonly number[],
  meanwhile: () => Promise<RunSummary>,
  change: (tx: Tx, runId: number) => Promise<unknown>,
): Promise<RunSummary> {
  let running: Promise<RunSummary> | undefined;
  await inTransaction(app.database, async (tx) => {
    await lockContacts(tx, ids);
    running = meanwhile();
    for (let waits = false; !waits; await pause(20)) {
      const { rows } = await app.database.pool.query<{ n: number }>(
        `select count(*)::int as n from pg_stat_activity where wait_event_type = 'Lock' and wait_event in ('transactionid', 'tuple')`,
      );
      waits = (rows[0]?.n ?? 0) > 0;
    }
    const runId = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      title: 'meanwhile',
    });
    await change(tx, runId);
  });
  if (!running) throw new Error('nothing was started');
  return running;
}

const gone = (target: number, run: number, into?: number): Operation => ({
  target,
  field: LIFECYCLE,
  slot: 0,
  before: null,
  after: { slot: 0, v: into ? { state: 'merged', into } : { state: 'deleted' }, run },
});
const rowsOf = async (runId: number) =>
  (
    await app.database.pool.query<{ outcome: string; contact_id: number | null }>(
      'select outcome, contact_id from import_row where run_id = $1 order by row',
      [runId],
    )
  ).rows;

describe('rows whose contact moved since they were planned', () => {
  const six: Line[] = [0, 1, 2, 3, 4, 5].map((n) => [n, 'Quillhaven', 'Skipper']);
  const changed: Line[] = [
    ...six.map(([n]): Line => [n, 'Marlow', 'Rigger']),
    [0, 'Marlow', 'Rigger'],
    [3, 'Marlow', 'Rigger'],
  ];

  test('go to whoever is there now, the one who was merged into or whoever has the mailbox; of one deleted they wait', async () => {
    await runImport(app, await bring('base.csv', six));
    const ids = await idsOf(0, 6);
    const [deleted = 0, merged = 0, into = 0, renamed = 0] = ids;
    const run = await start(await bring('second.csv', changed));
    const ended = await beforeItCanWrite(
      ids,
      () => carryOn(app, run),
      async (tx, runId) => {
        const { email, familyName } = (await lockContacts(tx, [renamed])).get(renamed)?.record.f ?? {};
        const other = (field: string, before: Value | undefined, v: string): Operation[] =>
          before
            ? [{ target: renamed, field, slot: before.slot, before, after: { slot: before.slot, v, run: runId } }]
            : [];
        await applyChanges(tx, runId, [
          { contactId: deleted, operations: [gone(deleted, runId)] },
          { contactId: merged, operations: [gone(merged, runId, into)] },
          {
            contactId: renamed,
            operations: [
              ...other('email', email?.[0], `else${era}@example.org`),
              ...other('familyName', familyName?.[0], 'Else'),
            ],
          },
        ]);
      },
    );
    expect(ended.error).toBeNull();
    const rows = await rowsOf(run);
    // Whoever was merged away left the mailbox with the record: nobody has it now.
    expect(rows.map(({ outcome }) => outcome)).toEqual([
      'held',
      'new',
      'replace',
      'new',
      'replace',
      'replace',
      'held',
      'fold',
    ]);
    expect(rows[7]?.contact_id).toBe(rows[3]?.contact_id);
    const held = await app.json<HeldList>(`/held?run=${run}`);
    expect(held.rows.map(({ issues }) => issues[0]?.text)).toEqual([
      expect.stringContaining('was deleted'),
      expect.stringContaining('The same person as row 1'),
    ]);
    expect(rows.slice(0, 4).map(({ contact_id: id }) => ids.indexOf(id ?? 0))).toEqual([-1, -1, 2, -1]);
    expect(await untruths(app, [run])).toEqual([]);
  });

  test('are held with the reason where nobody new may come in, and so are further rows of the same person', async () => {
    await runImport(app, await bring('base.csv', six));
    const ids = await idsOf(0, 6);
    const [deleted = 0] = ids;
    const run = await start(await bring('second.csv', changed, { allowNew: false }));
    const ended = await beforeItCanWrite(
      ids,
      () => carryOn(app, run),
      (tx, runId) => applyChanges(tx, runId, [{ contactId: deleted, operations: [gone(deleted, runId)] }]),
    );
    expect(ended.counts).toMatchObject({ held: 2, replace: 5, fold: 1 });
    const held = await app.json<HeldList>(`/held?run=${run}`).then(({ rows }) => rows);
    expect(held.map(({ row, issues }) => [row, issues.map(({ text }) => text.split('.')[0])])).toEqual([
      [1, [expect.stringContaining('Nobody here fits this row')]],
      [7, [expect.stringContaining('The same person as row 1')]],
    ]);
    expect(await untruths(app, [run])).toEqual([]);
  });
});

type Act =
  | { act: 'delete' | 'edit'; person: number }
  | { act: 'merge'; person: number; other: number }
  | { act: 'undoBase' | 'batch' | 'sync' | 'enter' };

const PEOPLE = 60;
const someone = fc.nat(PEOPLE - 1);
const anyAct: fc.Arbitrary<Act & { afterMs: number }> = fc
  .tuple(
    fc.oneof(
      {
        weight: 3,
        arbitrary: fc.record({ act: fc.constantFrom('delete' as const, 'edit' as const), person: someone }),
      },
      { weight: 2, arbitrary: fc.record({ act: fc.constant('merge' as const), person: someone, other: someone }) },
      {
        weight: 3,
        arbitrary: fc.record({ act: fc.constantFrom('batch' as const, 'sync' as const, 'enter' as const) }),
      },
      { weight: 1, arbitrary: fc.record({ act: fc.constant('undoBase' as const) }) },
    ),
    fc.nat(250),
  )
  .map(([act, afterMs]) => ({ ...act, afterMs }));
/** Enough rows for several chunks: most of them are of people whom nothing else is about. */
function someFile(seed: number, from: number): Line[] {
  let state = seed;
  const upTo = (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * n);
  };
  return Array.from({ length: 60 + upTo(60) }, (_, i) => [
    ...Array.from({ length: 8 }, (_none, j): Line => [from + i * 8 + j, 'Wells', 'Crew']),
    [upTo(PEOPLE + 40), ['Marlow', 'Hythe', ''][upTo(3)] ?? '', ['Rigger', 'Cook', ''][upTo(3)] ?? ''] as const,
  ]).flat();
}

describe('two imports, an undo, merges, edits, deletes, a batch and a sync at once', () => {
  const live = async (n: number) => (await idsOf(n, n + 1))[0] ?? 0;

  /** Does one thing of a history; what is refused because somebody else was quicker did not happen. */
  async function doAct(act: Act, baseRun: number): Promise<number | null> {
    const { pool } = app.database;
    switch (act.act) {
      case 'delete':
        await app.json(`/contacts/${await live(act.person)}`, 'DELETE');
        return null;
      case 'edit': {
        const id = await live(act.person);
        const { record } = await app.json<{ record: { f: Record<string, Value[]> } }>(`/contacts/${id}`);
        const before = record.f.email?.[0] ?? null;
        await app.edit(id, { field: 'email', slot: before?.slot, before, text: `moved.${mailOf(act.person)}` });
        return null;
      }
      case 'merge': {
        const members = [await live(act.person), await live(act.other)].filter(Boolean).sort((a, b) => a - b);
        if (members.length < 2 || members[0] === members[1]) return null;
        const { rows } = await pool.query<{ id: number }>(
          `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
           values ('person', $1, $2, 'open', 'likely', 0.95, 5, 'Somebody', 0)
           on conflict (member_key) do update set state = 'open' returning id`,
          [members.join(','), members],
        );
        await app.json(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
          memberIds: members,
          keepId: null,
          choices: {},
          versions: {},
        });
        return null;
      }
      case 'enter': {
        const [givenName, familyName] = nameOf(PEOPLE + 3);
        await app.enter({ givenName, familyName, email: mailOf(PEOPLE + 3) });
        return null;
      }
      case 'batch': {
        const { runId } = await app.json<{ runId: number }>('/picks/merge', 'POST', {
          list: 'tag',
          from: `crew ${era}`,
          into: `crew of ${era}`,
        });
        const { state } = await app.json<RunSummary>(`/runs/${runId}`);
        if (state === 'queued') await app.work(runId);
        return runId;
      }
      case 'sync':
        return (await synced.run()).id;
      case 'undoBase': {
        const { undoRunId, finished } = await app.json<{ undoRunId: number; finished: boolean }>(
          `/runs/${baseRun}/undo`,
          'POST',
        );
        if (!finished) await app.work(undoRunId);
        return undoRunId;
      }
    }
  }

  test(
    'every row became what it says, nobody wrote into anybody who was gone, and nobody was made twice',
    async () => {
      await synced.setup((setup): SyncSetup => ({ ...setup, newThere: false, whenGoneHere: 'keep' }));
      await fc.assert(
        fc.asyncProperty(
          fc.nat(2 ** 31),
          fc.nat(2 ** 31),
          fc.array(anyAct, { minLength: 3, maxLength: 12 }),
          async (first, second, acts) => {
            era++;
            const base = Array.from({ length: PEOPLE }, (_, n): Line => [n, 'Quillhaven', 'Skipper']);
            const { id: baseRun } = await runImport(app, await bring('base.csv', base));
            for (let n = 0; n < PEOPLE; n += 3)
              synced.put(`${word(era)}${n}.vcf`, {
                UID: `${era}-${n}`,
                FN: nameOf(n).join(' '),
                N: `${nameOf(n)[1]};${nameOf(n)[0]};;;`,
                EMAIL: mailOf(n),
                TITLE: 'Mate',
              });
            const imports = [
              await start(await bring('first.csv', someFile(first, 200))),
              await start(await bring('second.csv', someFile(second, 600))),
            ];
            const acting = acts.map(async ({ afterMs, ...act }) => {
              await pause(afterMs);
              // Whoever comes too late is told so: that is an answer, and nothing was done.
              await doAct(act, baseRun).catch((error: unknown) => {
                if (![404, 409, 422].includes((error as { status?: number }).status ?? 0)) throw error;
              });
            });
            await Promise.all([...imports.map((runId) => carryOn(app, runId)), ...acting]);
            expect(await untruths(app, [baseRun, ...imports])).toEqual([]);
            const { rows: twice } = await app.database.pool.query<{ email: string }>(
              `select email from contact where state = 'live' and kind = 'person' and email <> '' group by email having count(*) > 1`,
            );
            expect(twice).toEqual([]);
          },
        ),
        { ...lawWithin(25, 30), endOnFailure: true },
      );
    },
    LAW_TIMEOUT_MS,
  );
});

test('a value that no two may share is had by one person after two imports and entries at once', async () => {
  await app.json('/fields/tel', 'PATCH', { unique: 'refuse' });
  const phone = (n: number) => `+44 7700 9${String(n).padStart(5, '0')}`;
  const file = (from: number) =>
    ['First name,Last name,E-mail,Phone']
      .concat(Array.from({ length: 700 }, (_, i) => [...nameOf(from + i), mailOf(from + i), phone(i)].join(',')))
      .join('\n');
  const imports = [
    await start(await bringFile(app, 'first.csv', file(0))),
    await start(await bringFile(app, 'second.csv', file(1000))),
  ];
  const entering = [3, 300, 690].map(async (n) => {
    await pause(n / 2);
    const [givenName, familyName] = nameOf(2000 + n);
    await app.enter({ givenName, familyName, tel: phone(n) }).catch((error: unknown) => {
      if ((error as { status?: number }).status !== 409) throw error;
    });
  });
  await Promise.all([...imports.map((runId) => carryOn(app, runId)), ...entering]);
  expect(await untruths(app, imports)).toEqual([]);
  const { rows } = await app.database.pool.query<{ tel: string; n: number }>(
    `select tel, count(*)::int as n from contact where state = 'live' and tel like '+44 7700 9%' group by tel`,
  );
  expect([rows.length, rows.filter(({ n }) => n > 1)]).toEqual([700, []]);
});
