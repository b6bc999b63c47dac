import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { allOf, isOneOf, type Condition } from '@gray-loom/core/segments';
import type { SegmentEvents, SegmentList, SegmentLook, SegmentSummary } from '@gray-loom/wire';
import { consumers } from '../../consumers';
import { FeedReaders } from '../../feed/consumer';
import { createLogger } from '../../log';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { reviewSegments } from './review-segments';

let app: TestApp;
let readers: FeedReaders;
beforeAll(async () => {
  app = await startTestApp();
  readers = new FeedReaders(app.database, consumers, createLogger('test', 'silent'));
  await readers.open();
});
afterAll(() => app.end());

const make = async (name: string, condition: Condition, more: object = {}) =>
  (await app.json<{ id: number }>('/segments', 'POST', { name, condition, ...more })).id;
const detail = (id: number) => app.json<SegmentSummary>(`/segments/${id}`);
const events = async (id: number) =>
  (await app.json<SegmentEvents>(`/segments/${id}/events`)).events.map(({ entered, cause, name, run }) => ({
    entered,
    cause,
    name,
    run,
  }));
const settle = async (day?: string) => {
  await readers.readAll();
  await reviewSegments(app.database, day);
};
const look = (condition: Condition, more: object = {}) =>
  app.json<SegmentLook>('/segments/look', 'POST', { condition, ...more });
const enter = async (givenName: string, more: Record<string, string> = {}) =>
  (await app.enter({ givenName, familyName: `Quay ${givenName}`, ...more })).contactId;
const edit = (id: number, field: string, text: string | null, before: unknown = null) =>
  app.json<{ id: number }>(`/contacts/${id}`, 'PATCH', {
    edits: [{ field, text, before, slot: before ? (before as { slot: number }).slot : null }],
  });

test('who is in it, who enters and leaves by which change, and what an undo does', async () => {
  const ana = await enter('Ana', { source: 'Regatta' });
  const id = await make('Of the regatta', isOneOf('source', 'Regatta'));
  expect((await detail(id)).members).toBeNull();
  await settle();
  expect(await detail(id)).toMatchObject({ members: 1, problem: '', entered: 0, isShared: true, isMine: true });
  const ben = await enter('Ben', { source: 'Regatta' });
  await settle();
  const [entered] = await events(id);
  expect(entered).toMatchObject({ entered: true, cause: 'change', name: 'Ben Quay Ben' });
  const { runId } = await app.json<{ runId: number }>(`/contacts/${ben}`, 'DELETE', {});
  await settle();
  expect([(await events(id))[0], (await detail(id)).members]).toMatchObject([
    { entered: false, name: 'Ben Quay Ben' },
    1,
  ]);
  await app.json(`/runs/${runId}/undo`, 'POST');
  await settle();
  expect([(await events(id))[0]?.entered, (await detail(id)).members]).toEqual([true, 2]);
  expect((await detail(id)).days.at(-1)?.n).toBe(2);
  expect(ana).toBeGreaterThan(0);
});

test('a changed condition is worked out anew, with those that ask for it', async () => {
  await enter('Cleo', { source: 'Fair', email: 'cleo@example.org' });
  await enter('Dara', { source: 'Fair' });
  const fair = await make('Of the fair', isOneOf('source', 'Fair'));
  const others = await make(
    'Not of the fair',
    allOf({ ...isOneOf('@segment', String(fair)), not: true }, { field: 'email', op: 'present' }),
  );
  await settle();
  expect([(await detail(fair)).members, (await detail(others)).members]).toEqual([2, 0]);
  await app.json(`/segments/${fair}`, 'PATCH', {
    condition: allOf(isOneOf('source', 'Fair'), { field: 'email', op: 'missing' }),
  });
  await settle();
  expect([(await detail(fair)).members, (await detail(others)).members]).toEqual([1, 1]);
  const { rows } = await app.database.pool.query<{ cause: string; entered: boolean }>(
    'select cause, entered from segment_event where segment_id = $1',
    [others],
  );
  expect([rows, await events(others)]).toEqual([[{ cause: 'condition', entered: true }], []]);
});

test('days that pass let people enter and leave', async () => {
  const id = await make('Birthday soon', { field: 'bday', op: 'comes', value: 7 });
  const soon = await enter('Edith');
  await edit(soon, 'bday', '--07-14');
  await readers.readAll();
  await reviewSegments(app.database, '2026-01-01');
  expect((await detail(id)).members).toBe(0);
  await reviewSegments(app.database, '2026-07-08');
  expect([(await detail(id)).members, (await events(id))[0]]).toMatchObject([1, { entered: true, cause: 'day' }]);
  await reviewSegments(app.database, '2026-07-15');
  expect([(await detail(id)).members, (await events(id))[0]]).toMatchObject([0, { entered: false, cause: 'day' }]);
});

describe('what is refused', () => {
  const code = async (asked: Promise<unknown>) => {
    const { status, code } = await refusal(asked);
    return `${status} ${code}`;
  };
  test('a name that is taken, a condition that is none, a field that is not there', async () => {
    await make('Taken', isOneOf('tags', 'a'));
    expect(await code(make('taken', isOneOf('tags', 'a')))).toBe('409 nameTaken');
    expect(await code(make('No condition', { join: 'some' } as never))).toBe('422 condition');
    expect(await code(make('No field', isOneOf('custom.gone', 'a')))).toBe('422 condition');
    expect(await code(look({ field: 'note', op: 'contains', value: 'x'.repeat(10_000) }))).toBe('422 condition');
  });
  test('one that asks for itself, directly or by another', async () => {
    const a = await make('A', isOneOf('tags', 'a'));
    const b = await make('B', isOneOf('@segment', String(a)));
    const change = (id: number, condition: Condition) => app.json(`/segments/${id}`, 'PATCH', { condition });
    expect(await code(change(a, isOneOf('@segment', String(a))))).toBe('409 segmentInItself');
    expect(await code(change(a, allOf(isOneOf('tags', 'b'), isOneOf('@segment', String(b)))))).toBe(
      '409 segmentInItself',
    );
    expect(await code(app.json(`/segments/${a}`, 'DELETE'))).toBe('409 askedFor');
    await app.json(`/segments/${b}`, 'DELETE');
    await app.json(`/segments/${a}`, 'DELETE');
    expect(await code(detail(a))).toBe('404 noSuchSegment');
  });
  test('to see or change one that is somebody else’s', async () => {
    const own = await make('Own', isOneOf('tags', 'a'), { isShared: false });
    const shared = await make('Shared', isOneOf('tags', 'a'));
    const tom = await app.signedInAs('editor', 'Tom Okoro');
    const of = async (path: string, method = 'GET') =>
      (
        await tom(path, {
          method,
          headers: { 'Content-Type': 'application/json' },
          ...(method === 'GET' ? {} : { body: '{}' }),
        })
      ).status;
    expect([
      await of(`/segments/${own}`),
      await of(`/segments/${shared}`),
      await of(`/segments/${shared}`, 'PATCH'),
    ]).toEqual([404, 200, 409]);
    const { segments } = (await (await tom('/segments')).json()) as SegmentList;
    expect(segments.map(({ name }) => name)).not.toContain('Own');
    expect(segments.map(({ name }) => name)).toContain('Shared');
  });
});

test('a retired field counts on, and is told; a renamed tag is followed', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Berth', type: 'text' });
  const id = await make('With a berth', { field: key, op: 'present' });
  const flora = await enter('Flora');
  await edit(flora, key, 'A 14');
  await app.json(`/fields/${encodeURIComponent(key)}`, 'PATCH', { retired: true });
  await settle();
  expect(await detail(id)).toMatchObject({
    members: 1,
    problem: 'It asks for Berth, which is retired; what is there counts on.',
  });
  await enter('Gwen', { tags: 'slipway' });
  const tagged = await make('Slipway', isOneOf('tags', 'slipway'));
  await app.json('/picks/merge', 'POST', { list: 'tag', from: 'slipway', into: 'slip' });
  await settle();
  expect(await detail(tagged)).toMatchObject({ members: 1, condition: isOneOf('tags', 'slip') });
});

describe('a look', () => {
  test('counts the whole, each test alone, and shows the first', async () => {
    await enter('Hanna', { source: 'Look', email: 'hanna@example.org' });
    await enter('Ida', { source: 'Look' });
    const found = await look(allOf(isOneOf('source', 'Look'), { field: 'email', op: 'missing' }));
    expect(found).toMatchObject({ total: 1, isEstimate: false, rows: [{ name: 'Quay Ida, Ida' }] });
    expect(found.tests[0]).toBe(2);
  });
  test('a blank that is answered shows who is just beside it', async () => {
    const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Boat length', type: 'range' });
    for (const [name, range] of [
      ['Jo', '10 to 12'],
      ['Kit', '13 to 15'],
      ['Lou', '20 to 22'],
    ] as const)
      await edit(await enter(name), key, range);
    const condition: Condition = { field: key, op: 'holds', value: { ask: 'Boat length?' } };
    expect((await look(condition)).near).toEqual([]);
    const found = await look(condition, { answers: { 'Boat length?': 14 } });
    expect(found.total).toBe(1);
    expect(found.near.map(({ name, value }) => `${name}: ${value}`)).toEqual([
      'Jo Quay Jo: 10 to 12',
      'Lou Quay Lou: 20 to 22',
    ]);
    expect((await refusal(look(condition, { answers: { 'Boat length?': 'long' } }))).code).toBe('condition');
  });
});

test.each([
  [13, 'condition'],
  [50, 'tooDeep'],
])('%s groups within groups are refused as just that', async (levels, code) => {
  let condition: Condition = { field: 'email', op: 'present' };
  for (let i = 0; i < levels; i++) condition = { join: 'all', of: [condition] };
  const refused = await refusal(app.json('/segments', 'POST', { name: `Deep ${levels}`, condition }));
  expect(refused.code).toBe(code);
  expect(refused.detail).toMatch(/levels deep/);
});
