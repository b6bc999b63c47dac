import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { KILLED_ROWS, killedImport } from '../../testing/killed-import';
import { RealApp } from '../../testing/real-app';

const SEED = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);

let app: RealApp;
beforeAll(async () => {
  app = await RealApp.start();
});
afterAll(() => app.end());

test(`worker, server and database killed five times in an import (seed ${SEED}): each row is in exactly once`, async () => {
  const found = await killedImport(app, SEED, 'Given');
  expect([found.state, found.error]).toEqual(['done', null]);
  expect(found.killed).toBeGreaterThanOrEqual(3);
  expect(found.counts).toEqual(found.trialCounts);
  expect(found).toMatchObject({ rows: KILLED_ROWS, differentRows: KILLED_ROWS, mailboxesTwice: 0, lost: 0 });
  expect([found.people, found.keptPeople]).toEqual([found.counts.new, found.counts.new]);
});
