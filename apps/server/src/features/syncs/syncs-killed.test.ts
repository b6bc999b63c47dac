import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { KilledSync } from '../../testing/killed-sync';

const SEED = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);
const HISTORIES = 20;

let sync: KilledSync;
beforeAll(async () => {
  sync = await KilledSync.start();
}, 60_000);
afterAll(() => sync.end());

test(`${HISTORIES} histories over HTTP with faults, server and worker killed (seed ${SEED}): the laws hold after each`, async () => {
  for (let i = 0; i < HISTORIES; i++) {
    const faults = await sync.history(SEED + i, 6);
    expect({ seed: SEED + i, faults }).toEqual({ seed: SEED + i, faults: [] });
  }
}, 400_000);
