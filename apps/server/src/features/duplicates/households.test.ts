import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ContactDetail, Households, Labels } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';
import { inTransaction } from '../../db/connect';
import { proposeHouseholds } from './households';

let app: TestApp;
const ids: Record<string, number> = {};
const ADDRESS = { street: '4 Quay Street', locality: 'Quillhaven', postalCode: 'QH1 2AB', country: 'GB' };

beforeAll(async () => {
  app = await startTestApp();
  const people = [
    ['Ana', 'Reis', '+44 1632 960011'],
    ['Tom', 'Reis', '+44 1632 960011'],
    ['Eva', 'Reis', '+44 1632 960012'],
    ['Ada', 'Lund', '+44 1632 960013'],
  ] as const;
  for (const [givenName, familyName, tel] of people)
    ids[givenName] = (
      await app.json<{ contactId: number }>('/contacts', 'POST', {
        values: [
          { field: 'givenName', text: givenName },
          { field: 'familyName', text: familyName },
          { field: 'tel', text: tel },
          { field: 'adr', value: ADDRESS },
        ],
      })
    ).contactId;
});
afterAll(() => app.end());

const of = (...names: string[]) => names.map((name) => ids[name] ?? 0);
const propose = (...groups: number[][]) => inTransaction(app.database, (tx) => proposeHouseholds(tx, groups));
const list = () => app.json<Households>('/households');
const keep = (id: number, memberIds: number[], name = '') =>
  app.json<{ id: number; runId: number }>(`/households/${id}`, 'PUT', { memberIds, name });
const end = (id: number) => app.json<{ runId: number }>(`/households/${id}`, 'DELETE');
const undo = (runId: number) => app.json<{ undoRunId: number }>(`/runs/${runId}/undo`, 'POST');
const ana = () => app.json<ContactDetail>(`/contacts/${ids.Ana}`);
const names = (entries: Households['kept']) => entries.map(({ members }) => members.map(({ name }) => name));

describe('households', () => {
  let kept: number;
  test('what a scan found waits with what its people share', async () => {
    await propose(of('Ana', 'Tom'));
    const { proposed } = await list();
    expect(proposed).toMatchObject([
      { name: 'The Reis household', line: 'Ana and Tom Reis', shared: ['+44 1632 960011'], joins: null },
    ]);
    expect(proposed[0]?.address).toContain('4 Quay Street');
    expect((await ana()).household).toBeNull();
  });
  test('kept, it is used by letters and labels, which go to a home once', async () => {
    const [one] = (await list()).proposed;
    ({ id: kept } = await keep(one?.id ?? 0, of('Ana', 'Tom')));
    expect(await ana()).toMatchObject({
      letterLine: 'Ana and Tom Reis',
      salutation: 'Dear Ana and Tom,',
      household: { name: 'The Reis household' },
    });
    const { labels, together } = await app.json<Labels>('/labels?find=Reis');
    expect(labels.map(({ lines }) => lines[0])).toEqual(['Ana and Tom Reis', 'Eva Reis']);
    expect(together).toBe(1);
  });
  test('whoever wants no post is not named on the label', async () => {
    await app.json(`/contacts/${ids.Tom}/permissions`, 'POST', {
      channel: 'post',
      state: 'optedOut',
      how: 'By letter',
    });
    const { labels } = await app.json<Labels>('/labels?find=Reis');
    expect(labels.map(({ lines }) => lines[0])).toEqual(['Ana Reis', 'Eva Reis']);
  });
  test('the next scan does not ask again, and proposes who joins', async () => {
    expect(await propose(of('Ana', 'Tom'))).toBe(0);
    await propose(of('Ana', 'Tom', 'Eva'));
    const { proposed } = await list();
    expect(proposed).toMatchObject([{ joins: { id: kept, name: 'The Reis household' } }]);
    const { runId } = await keep(proposed[0]?.id ?? 0, of('Ana', 'Tom', 'Eva'));
    expect(names((await list()).kept)).toEqual([['Ana Reis', 'Tom Reis', 'Eva Reis']]);
    expect((await ana()).letterLine).toBe('The Reis household');
    await undo(runId);
    expect(names((await list()).kept)).toEqual([['Ana Reis', 'Tom Reis']]);
    expect((await list()).proposed).toHaveLength(1);
  });
  test('a name of its own is used, and taken back by undo and brought back by undoing that', async () => {
    const { runId } = await keep(kept, of('Ana', 'Tom'), 'Quay Cottage');
    expect((await ana()).letterLine).toBe('Quay Cottage');
    const { undoRunId } = await undo(runId);
    expect((await ana()).letterLine).toBe('Ana and Tom Reis');
    await undo(undoRunId);
    expect((await ana()).letterLine).toBe('Quay Cottage');
  });
  test('what was refused is not proposed again, until that is undone', async () => {
    await propose(of('Eva', 'Ada'));
    const waiting = (await list()).proposed.find(({ members }) => members.some(({ id }) => id === ids.Ada));
    const { runId } = await end(waiting?.id ?? 0);
    expect(await propose(of('Eva', 'Ada'))).toBe(0);
    await undo(runId);
    expect((await list()).proposed).toHaveLength(1);
    await expect(end(99_999)).rejects.toMatchObject({ status: 409, problem: { code: 'noHousehold' } });
  });
  test('a person is in one household: a second is refused, and one alone is none', async () => {
    const other = await app.json<{ id: number }>('/households', 'POST', { memberIds: of('Eva', 'Ada'), name: '' });
    await expect(app.json('/households', 'POST', { memberIds: of('Ana', 'Ada'), name: '' })).rejects.toMatchObject({
      status: 409,
      problem: { code: 'severalHomes' },
    });
    await expect(keep(other.id, of('Eva'))).rejects.toMatchObject({ status: 422, problem: { code: 'tooFew' } });
    await end(other.id);
  });
  test('a deleted member is left out, and one who was merged is the one who took them in', async () => {
    await app.json(`/contacts/${ids.Tom}`, 'DELETE');
    expect((await ana()).household?.members.map(({ name }) => name)).toEqual(['Ana Reis']);
    expect((await ana()).letterLine).toBe('Ana Reis');
    await app.json(`/contacts/${ids.Tom}/restore`, 'POST');
    expect((await ana()).household?.members).toHaveLength(2);
  });
});
