import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactPage, HeldList, RunSummary } from '@gray-loom/wire';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
let run: RunSummary;
beforeAll(async () => {
  app = await startTestApp();
  const file = [
    'Name,Email,Phone,Town,Membership number',
    'Maya & Sam Okafor,maya@example.org,07700 900123,Tidemouth,M-1',
    'Jonas & Eva Brandt,brandts@example.org,,Oldhaven,M-2',
    'Mr & Mrs Reis,reis@example.org,,Oldhaven,M-3',
    'The Adairs,adairs@example.org,,Oldhaven,M-4',
    'Kari & Kari Pike,kari@example.org,,Oldhaven,',
  ].join('\n');
  run = await runImport(app, await bringFile(app, 'couples.csv', file));
});
afterAll(() => app.end());

const held = () => app.json<HeldList>(`/held?run=${run.id}`).then(({ rows }) => rows);
const letInTwo = (row: number, people: string[][]) =>
  app.json<{ runId: number; contactIds: number[] }>(`/held/${run.id}/${row}/let-in-two`, 'POST', { people });
const named = async (name: string) =>
  (await app.json<ContactPage>('/contacts')).rows.filter(({ givenFirst }) => givenFirst.includes(name));

test('a row that names two is offered as the rows of both: what is known to be of one is not given to the other', async () => {
  const rows = await held();
  expect(rows.map(({ row, two }) => [row, two])).toEqual([
    [
      1,
      [
        ['Maya Okafor', 'maya@example.org', '07700 900123', 'Tidemouth', 'M-1'],
        ['Sam Okafor', '', '07700 900123', 'Tidemouth', ''],
      ],
    ],
    [
      2,
      [
        ['Jonas Brandt', 'brandts@example.org', '', 'Oldhaven', 'M-2'],
        ['Eva Brandt', 'brandts@example.org', '', 'Oldhaven', ''],
      ],
    ],
    [3, [expect.arrayContaining(['Mr Reis']), expect.arrayContaining(['Mrs Reis'])]],
    [4, null],
    [5, expect.anything()],
  ]);
});

test('both come in by one run, from the same row, and are taken back by one undo', async () => {
  const [first] = await held();
  const { runId, contactIds } = await letInTwo(1, first?.two ?? []);
  expect(new Set(contactIds).size).toBe(2);
  expect((await named('Okafor')).map(({ givenFirst }) => givenFirst).sort()).toEqual(['Maya Okafor', 'Sam Okafor']);
  expect(await app.json<RunSummary>(`/runs/${runId}`)).toMatchObject({
    title: 'Row 1 of couples.csv, as two people',
    counts: { new: 2 },
  });
  expect((await held()).map(({ row }) => row)).toEqual([2, 3, 4, 5]);
  expect(await refusal(letInTwo(1, first?.two ?? []))).toMatchObject({ status: 409, code: 'settled' });
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect(await named('Okafor')).toEqual([]);
});

test('two who share one mailbox are two', async () => {
  const second = (await held()).find(({ row }) => row === 2);
  expect((await letInTwo(2, second?.two ?? [])).contactIds).toHaveLength(2);
  expect((await named('Brandt')).map(({ givenFirst }) => givenFirst).sort()).toEqual(['Eva Brandt', 'Jonas Brandt']);
});

test('of two who let a row in at the same time one does, and the other is told', async () => {
  const [first] = await held();
  expect(first?.row).toBe(1);
  const both = await Promise.allSettled([1, 2].map(() => letInTwo(1, first?.two ?? [])));
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  const lost = both.find((one) => one.status === 'rejected');
  expect(lost?.reason).toMatchObject({ problem: { status: 409, code: 'settled' } });
  expect((await named('Okafor')).map(({ givenFirst }) => givenFirst).sort()).toEqual(['Maya Okafor', 'Sam Okafor']);
});

test('where one of them cannot come in, neither does, and it is said which', async () => {
  const before = (await app.json<ContactPage>('/contacts')).rows.length;
  const good = ['Rosa Reis', 'rosa@example.org', '', 'Oldhaven', 'M-3'];
  const wrong = await refusal(letInTwo(3, [good, ['Tom Reis', 'tom at', '', '', '']]));
  expect(wrong).toMatchObject({ status: 422, code: 'invalidEmail', facts: { person: 1, column: 1 } });
  const same = await refusal(letInTwo(5, [good, good]));
  expect(same).toMatchObject({ status: 422, code: 'samePerson' });
  const oneOnly = await refusal(letInTwo(3, [good]));
  expect(oneOnly.status).toBe(422);
  expect((await app.json<ContactPage>('/contacts')).rows.length).toBe(before);
  expect((await held()).map(({ row }) => row)).toEqual([3, 4, 5]);
});
