import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Mapping } from '@gray-loom/core/mapping';
import type { ActivityPage, ContactPage, IntakeDetail } from '@gray-loom/wire';
import { bringFile, runImport, runTrial } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const undo = (runId: number) => app.json(`/runs/${runId}/undo`, 'POST');
const idOf = async (find: string) =>
  (await app.json<ContactPage>(`/contacts?find=${encodeURIComponent(find)}`)).rows[0]?.id ?? 0;
const entries = async (find: string) =>
  (await app.json<ActivityPage>(`/contacts/${await idOf(find)}/activities`)).entries.map(({ activity }) => activity);
const amounts = async (find: string) => (await entries(find)).map(({ amount }) => amount?.amount).sort();

const GIFTS = [
  'Donor,Email,Date,Amount,Fund',
  'May Fair,may@example.net,2025-01-04,50,Tiller fund',
  'May Fair,may@example.net,2025-03-04,70,Tiller fund',
  // The same twice on one day: two gifts.
  'May Fair,may@example.net,2025-03-04,70,Tiller fund',
  'Oona Brack,oona@example.net,2025-03-09,20,Bursary',
  'Ned Quay,ned@example.net,2025-03-10,25,Bursary',
  'Ida Fjord,ida@example.net,2025-03-11,30,Bursary',
];

describe('a file in which people stand several times with an amount and a day', () => {
  test('brings each as a gift; the trial says so; it comes again as the same; it is taken back as one', async () => {
    const id = await bringFile(app, 'gifts.csv', GIFTS.join('\n'));
    const detail = await app.json<IntakeDetail>(`/intakes/${id}`);
    expect(detail.mapping.columns.map(({ target }) => target)).toEqual([
      'fullName',
      'email',
      'activityDate',
      'activityAmount',
      'activityWhat',
    ]);
    expect(await runTrial(app, id)).toMatchObject({ new: 4, fold: 2, held: 0, 'activity.gift': 6 });
    const run = await runImport(app, id);
    expect(run.words).toBe('gifts.csv: 4 new, 2 folded, 6 gifts');
    expect(await amounts('may@')).toEqual([50, 70, 70]);
    expect((await entries('oona@'))[0]).toMatchObject({ kind: 'gift', at: '2025-03-09', what: 'Bursary' });

    const again = await runImport(app, await bringFile(app, 'gifts.csv', GIFTS.join('\n')));
    expect(again.words).toBe('gifts.csv: 4 same, 2 folded, 6 entries here already');
    const more = [...GIFTS, 'May Fair,may@example.net,2025-04-01,10,Tiller fund'];
    const third = await runImport(app, await bringFile(app, 'gifts.csv', more.join('\n')));
    expect(third.counts['activity.gift']).toBe(1);
    expect(await amounts('may@')).toEqual([10, 50, 70, 70]);
    await undo(third.id);
    expect(await amounts('may@')).toEqual([50, 70, 70]);
    await undo(again.id);
    await undo(run.id);
    expect(await idOf('may@')).toBe(0);
    // What was taken back may come again.
    const last = await runImport(app, await bringFile(app, 'gifts.csv', GIFTS.join('\n')));
    expect(last.counts['activity.gift']).toBe(6);
    expect(await amounts('may@')).toEqual([50, 70, 70]);
  });

  test('with numbers of their own they are changed by what a later file says', async () => {
    const file = (amount: number) =>
      ['Customer,Email,Order no,Order date,Item,Total']
        .concat(
          Array.from(
            { length: 5 },
            (_, i) => `Una ${'abcde'[i]}marsh,una${i}@example.net,B-${i},2025-02-0${i + 1},Rope,${amount + i}`,
          ),
        )
        .join('\n');
    await runImport(app, await bringFile(app, 'orders.csv', file(40)));
    const second = await runImport(app, await bringFile(app, 'orders.csv', file(60)));
    expect(second.counts).toMatchObject({ same: 5, activitiesChanged: 5 });
    expect((await entries('una1@'))[0]).toMatchObject({ kind: 'purchase', outsideId: 'B-1', amount: { amount: 61 } });
    await undo(second.id);
    expect((await entries('una1@'))[0]).toMatchObject({ amount: { amount: 41 } });
  });

  test('a person merged since keeps them, and the same file brings none twice', async () => {
    const before = await entries('may@');
    const may = await idOf('may@');
    const { contactId } = await app.enter({ givenName: 'May', familyName: 'Fair' }, { despite: true });
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into match_group (member_key, member_ids, state, band, probability01, bits, name, model_version)
       values ('gifts.test', array[$1::bigint, $2::bigint], 'open', 'likely', 1, 1, 'Fair', 1) returning id`,
      [may, contactId],
    );
    await app.json(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [may, contactId],
      keepId: contactId,
      choices: {},
      versions: {},
    });
    expect(await idOf('may@')).toBe(contactId);
    const again = await runImport(app, await bringFile(app, 'gifts.csv', GIFTS.join('\n')));
    expect(again.counts.activitiesSame).toBe(6);
    expect(await entries('may@')).toEqual(before);
  });
});

describe('a remark that is put down with its date', () => {
  const withNote = (mapping: Mapping): Mapping => ({
    ...mapping,
    columns: mapping.columns.map((one) => (one.header === 'Comment' ? { ...one, target: 'datedNote' } : one)),
  });
  test('of two files both stand, each once, and the field for notes is left alone', async () => {
    const file = (text: string) => `Name,Email,Comment\nBo Strand,bo@example.net,${text}`;
    const bring = async (text: string) => runImport(app, await bringFile(app, 'visitors.csv', file(text), withNote));
    await bring('Asked for a berth');
    expect((await bring('Rang back')).words).toBe('visitors.csv: 1 same, 1 note');
    expect((await bring('Rang back')).words).toBe('visitors.csv: 1 same, 1 entry here already');
    expect((await entries('bo@')).map(({ text }) => text).sort()).toEqual(['Asked for a berth', 'Rang back']);
    expect((await entries('bo@'))[0]?.at).toMatch(/^\d{4}-\d{2}-\d{2}$/);
  });
  test('a text that every row gets is one for each', async () => {
    const id = await bringFile(
      app,
      'fair.csv',
      'Name,Email\nCy Weir,cy@example.net\nDi Weir,di@example.net',
      (mapping) => ({
        ...mapping,
        columns: [
          ...mapping.columns,
          {
            ...(mapping.columns[0] ?? ({} as never)),
            column: -1,
            header: null,
            target: 'datedNote',
            transforms: [{ kind: 'fixed', value: 'Met at the boat fair' }],
          },
        ],
      }),
    );
    expect(await runTrial(app, id)).toMatchObject({ new: 2, 'activity.note': 2 });
    await runImport(app, id);
    expect((await entries('cy@')).map(({ text }) => text)).toEqual(['Met at the boat fair']);
  });
});

test('of a file in many parts each counts, and none twice', async () => {
  const rows = ['Donor,Email,Date,Amount'];
  // Everybody three times, far apart, always the same.
  for (let round = 0; round < 3; round++)
    for (let i = 0; i < 1500; i++)
      rows.push(`Given${letters(i)} Family${letters(i * 7)},g${i}@example.net,2025-05-01,10`);
  const id = await bringFile(app, 'thrice.csv', rows.join('\n'));
  const run = await runImport(app, id);
  expect(run.counts).toMatchObject({ new: 1500, fold: 3000, 'activity.gift': 4500 });
  const again = await runImport(app, await bringFile(app, 'thrice.csv', rows.join('\n')));
  expect(again.counts.activitiesSame).toBe(4500);
});

const letters = (n: number): string =>
  [n % 26, Math.floor(n / 26) % 26, Math.floor(n / 676) % 26].map((k) => String.fromCharCode(97 + k)).join('');
