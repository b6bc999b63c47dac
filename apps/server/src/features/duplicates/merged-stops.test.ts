import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, MatchBoard } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const say = (id: number, state: 'allowed' | 'optedOut', statedAt: string) =>
  app.json(`/contacts/${id}/permissions`, 'POST', { channel: 'email', state, how: 'by letter', statedAt });
const email = async (id: number) => {
  const { permissions } = await app.json<ContactDetail>(`/contacts/${id}`);
  return {
    state: permissions.channels.find(({ channel }) => channel === 'email')?.state,
    how: permissions.evidence.map(({ how }) => how),
  };
};
async function groupOf(ids: number[]): Promise<number> {
  const { rows } = await app.database.pool.query<{ id: number }>(
    `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
     values ('person', $1, $2, 'open', 'likely', 0.95, 5, 'Pike', 0) returning id`,
    [ids.join(), ids],
  );
  return rows[0]?.id ?? 0;
}
async function mergeInto(keepId: number, ids: number[], groupId?: number): Promise<number> {
  const request = { memberIds: ids, keepId, choices: {}, versions: {} };
  const group = groupId ?? (await groupOf(ids));
  return (await app.json<{ runId: number }>(`/duplicates/${group}/merge`, 'POST', request)).runId;
}

test('a merge lifts no stop, whichever record stays; a person lifts it afterwards; the undo leaves both as they were', async () => {
  for (const staying of [0, 1]) {
    const ids: number[] = [];
    for (const n of [0, 1]) {
      const name = `pike${staying}${n}`;
      const entered = await app.enter({ givenName: `Kate ${name}`, email: `${name}@quillhaven.example` });
      ids.push(entered.contactId);
    }
    const [stopped = 0, allowed = 0] = ids;
    await say(stopped, 'optedOut', '2026-05-01T00:00:00Z');
    await say(allowed, 'allowed', '2026-06-01T00:00:00Z');
    const kept = ids[staying] ?? 0;
    const groupId = await groupOf(ids);
    // Whoever decides is told of it before.
    const board = await app.json<MatchBoard>(`/duplicates/${groupId}`);
    expect(board.stopsKept).toMatchObject([
      { channel: 'email', at: '2026-05-01T00:00:00.000Z', allowedAt: '2026-06-01T00:00:00.000Z' },
    ]);
    const runId = await mergeInto(kept, ids, groupId);
    const merged = await email(kept);
    expect(merged.state).toBe('optedOut');
    expect(merged.how).toContain('One of the merged records said stop on 1 May 2026; a merge lifts no stop');
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect([(await email(stopped)).state, (await email(allowed)).state]).toEqual(['optedOut', 'allowed']);
  }
});

test('records that agree are merged without a word, and a stop that was taken back before does not come again', async () => {
  const ids: number[] = [];
  for (const n of [0, 1]) {
    const { contactId } = await app.enter({ givenName: `Tom ${n}`, email: `tom${n}@quillhaven.example` });
    ids.push(contactId);
  }
  const [a = 0, b = 0] = ids;
  await say(a, 'optedOut', '2026-05-01T00:00:00Z');
  await say(a, 'allowed', '2026-05-02T00:00:00Z');
  await say(b, 'allowed', '2026-06-01T00:00:00Z');
  await mergeInto(a, ids);
  expect((await email(a)).state).toBe('allowed');
  expect((await email(a)).how.join()).not.toContain('merge lifts');
  await say(a, 'optedOut', '2026-07-01T00:00:00Z');
  expect((await email(a)).state).toBe('optedOut');
});
