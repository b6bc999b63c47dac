import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LAW_TIMEOUT_MS, lawWithin } from '../testing/law-budget';
import { anyEdits, anyHistory, anyOwnEdits, SyncWorld } from '../testing/sync-world';

describe('three tools and us, whatever happens', () => {
  test(
    'come to rest, and every law holds',
    async () => {
      await fc.assert(
        fc.asyncProperty(anyHistory, async (history) => {
          const world = new SyncWorld(history);
          await world.begin();
          for (const step of history.steps) await world.step(step);
          const rounds = await world.rest(12);
          expect(rounds).not.toBeNull();
          expect(world.broken()).toEqual([]);
        }),
        lawWithin(12, 1000),
      );
    },
    LAW_TIMEOUT_MS,
  );

  test(
    'no edit is lost where both sides are asked about',
    async () => {
      await fc.assert(
        fc.asyncProperty(anyEdits, async (history) => {
          const world = new SyncWorld(history);
          await world.begin();
          for (const step of history.steps) await world.step(step);
          expect(await world.rest(12)).not.toBeNull();
          expect(world.lost()).toEqual([]);
        }),
        lawWithin(8, 500),
      );
    },
    LAW_TIMEOUT_MS,
  );

  test(
    'nobody is asked where only one side is edited',
    async () => {
      await fc.assert(
        fc.asyncProperty(anyOwnEdits, async (history) => {
          const world = new SyncWorld(history);
          for (let i = 0; i < 3; i++) await world.step({ kind: 'newHere' });
          for (const step of history.steps) await world.step(step);
          expect(await world.rest(12)).not.toBeNull();
          expect(world.asked()).toEqual([]);
        }),
        lawWithin(5, 250),
      );
    },
    LAW_TIMEOUT_MS,
  );
});
