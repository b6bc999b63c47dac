import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyEdits, anyHistory, anyOwnEdits, SyncWorld } from '../testing/sync-world';

const RUNS = Number(process.env.SYNC_HISTORIES ?? 1000);

describe('three tools and us, whatever happens', () => {
  test(`come to rest, and every law holds (${RUNS} histories)`, async () => {
    await fc.assert(
      fc.asyncProperty(anyHistory, async (history) => {
        const world = new SyncWorld(history);
        await world.begin();
        for (const step of history.steps) await world.step(step);
        const rounds = await world.rest(12);
        expect(rounds).not.toBeNull();
        expect(world.broken()).toEqual([]);
      }),
      { numRuns: RUNS },
    );
  }, 600_000);

  test(`no edit is lost where both sides are asked about (${RUNS / 2} histories)`, async () => {
    await fc.assert(
      fc.asyncProperty(anyEdits, async (history) => {
        const world = new SyncWorld(history);
        await world.begin();
        for (const step of history.steps) await world.step(step);
        expect(await world.rest(12)).not.toBeNull();
        expect(world.lost()).toEqual([]);
      }),
      { numRuns: RUNS / 2 },
    );
  }, 600_000);

  test(`nobody is asked where only one side is edited (${RUNS / 4} histories)`, async () => {
    await fc.assert(
      fc.asyncProperty(anyOwnEdits, async (history) => {
        const world = new SyncWorld(history);
        for (let i = 0; i < 3; i++) await world.step({ kind: 'newHere' });
        for (const step of history.steps) await world.step(step);
        expect(await world.rest(12)).not.toBeNull();
        expect(world.asked()).toEqual([]);
      }),
      { numRuns: RUNS / 4 },
    );
  }, 600_000);
});
