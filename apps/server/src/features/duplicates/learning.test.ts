import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { GroupList, LearningLook, MatchBoard } from '@gray-loom/wire';
import { bringFile, runImport } from '../../testing/run-import';
import { runScan } from '../../testing/run-scan';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
const SYLLABLES = 'bar dol fen gri hul kes lom mar nus pel'.split(' ');
const family = (i: number) => `${SYLLABLES[i % 10]}${SYLLABLES[(i * 7 + 3) % 10]}${SYLLABLES[Math.floor(i / 10)]}`;

const groups = async () => (await app.json<GroupList>('/duplicates')).groups;
const look = () => app.json<LearningLook>('/duplicates/learning');

/** Decides on the groups of some people: those with an even number are one, the others two. */
async function decide(from: number, to: number): Promise<number[]> {
  const runs: number[] = [];
  const open = await groups();
  for (let i = from; i < to; i++) {
    const group = open.find(({ name }) => name.toLowerCase().startsWith(family(i)));
    if (!group) throw new Error(`no group of ${family(i)}`);
    const board = await app.json<MatchBoard>(`/duplicates/${group.id}`);
    const memberIds = board.members.map(({ id }) => id);
    const { runId } =
      i % 2
        ? await app.json<{ runId: number }>(`/duplicates/${group.id}/apart`, 'POST', { memberIds, sharedLines: [] })
        : await app.json<{ runId: number }>(`/duplicates/${group.id}/merge`, 'POST', {
            memberIds,
            keepId: board.keepId,
            choices: {},
            versions: Object.fromEntries(board.members.map(({ id, version }) => [id, version])),
          });
    runs.push(runId);
  }
  return runs;
}
const bitsOf = async (i: number) => {
  const group = (await groups()).find(({ name }) => name.toLowerCase().startsWith(family(i)));
  const board = group && (await app.json<MatchBoard>(`/duplicates/${group.id}`));
  return board?.reasons[0]?.bits ?? null;
};

beforeAll(async () => {
  app = await startTestApp();
  const rows = Array.from({ length: 30 }, (_, i) => {
    const phone = `+44 7700 9${String(10_000 + i).slice(-5)}`;
    // Even: one person with another mailbox. Odd: namesakes of one line in different streets.
    const home = `${i + 1} Quay Street`;
    return [
      `${i % 2 ? 'Maren' : 'Tove'},${family(i)},a${i}@example.org,${phone},${home},Quillhaven`,
      `${i % 2 ? 'Maren' : 'Tove'},${family(i)},${i % 2 ? 'x' : 'b'}${i * 3}@example.net,${phone},${i % 2 ? `${i + 50} Mill Lane` : home},Quillhaven`,
    ].join('\n');
  });
  const text = `Given name,Family name,E-mail,Phone,Street,Town\n${rows.join('\n')}\n`;
  const intake = await bringFile(app, 'all.csv', text);
  await app.json(`/intakes/${intake}/mapping`, 'PUT', {
    ...(await app.json<{ mapping: Record<string, unknown> }>(`/intakes/${intake}`)).mapping,
    recognise: ['externalId'],
  });
  await runImport(app, intake);
  await runScan(app);
});
afterAll(() => app.end());

describe('decisions of people', () => {
  test('are counted, and too few teach nothing', async () => {
    await decide(0, 12);
    expect(await look()).toMatchObject({ same: 6, apart: 6, adopted: null, trial: null });
    await expect(app.json('/duplicates/learning', 'POST')).rejects.toMatchObject({
      status: 409,
      problem: { code: 'tooFewDecisions' },
    });
  });
  test('that are taken back count no more', async () => {
    const [runId] = await decide(12, 13);
    expect((await look()).same).toBe(7);
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect((await look()).same).toBe(6);
  });
  test('are shown with what would move before they are adopted, and weigh from then on', async () => {
    await decide(12, 24);
    const { trial, same, apart } = await look();
    expect({ same, apart }).toEqual({ same: 12, apart: 12 });
    expect(trial?.right.then).toBeGreaterThanOrEqual(trial?.right.now ?? 99);
    expect(trial?.pairs).toBe(6);
    const before = { one: await bitsOf(24), two: await bitsOf(25) };
    const { scanId } = await app.json<{ scanId: number }>('/duplicates/learning', 'POST');
    await app.work(scanId);
    expect((await look()).adopted).toMatchObject({ same: 12, apart: 12 });
    const after = { one: await bitsOf(24), two: await bitsOf(25) };
    // What people keep apart weighs less than before, by more than what they merge does.
    expect((after.two ?? -99) - (before.two ?? 0)).toBeLessThan(-0.5);
    expect((after.one ?? -99) - (before.one ?? 0)).toBeGreaterThan((after.two ?? -99) - (before.two ?? 0));
    const { scanId: again } = await app.json<{ scanId: number }>('/duplicates/learning', 'DELETE');
    await app.work(again);
    // The scan has learned the data anew, which the merges changed.
    expect(((await bitsOf(25)) ?? -99) - (after.two ?? 0)).toBeGreaterThan(0.5);
    await expect(app.json('/duplicates/learning', 'DELETE')).rejects.toMatchObject({ status: 409 });
  });
});
