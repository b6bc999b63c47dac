import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { casesWithin, LAW_TIMEOUT_MS } from '../../../../../packages/core/src/testing/law-budget';
import { KilledSync } from '../../testing/killed-sync';

const SEED = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);

let sync: KilledSync;
beforeAll(async () => {
  sync = await KilledSync.start(['dialer', 'mailer']);
});
afterAll(() => sync.end());

test(
  `ten histories with three tools, with faults, tokens that end, jobs and kills (seed ${SEED}): the laws hold after each`,
  async () => {
    for (const i of casesWithin(120, 10)) {
      const faults = await sync.history(SEED + i, 6);
      expect({ seed: SEED + i, faults }).toEqual({ seed: SEED + i, faults: [] });
    }
  },
  LAW_TIMEOUT_MS,
);
