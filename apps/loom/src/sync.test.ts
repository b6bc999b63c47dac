import { cardOf, KEY, startSyncedApp, type SyncedApp } from '@gray-loom/server/testing';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { syncByName } from './sync';

let synced: SyncedApp;
beforeAll(async () => {
  synced = await startSyncedApp([
    { name: 'ana.vcf', text: cardOf({ UID: 'u', FN: 'Ana Reis', N: 'Reis;Ana;;;', EMAIL: 'ana@example.org' }) },
  ]);
  process.env.GRAY_LOOM_KEY = KEY;
  process.env.GRAY_LOOM_STAND_INS = synced.app.config.standIns.join(',');
});
afterAll(() => synced.end());

const sync = (name: string, trial: boolean) =>
  syncByName(synced.app.database, synced.app.url, name, { trial, country: 'GB' });

describe('a connection from the command line', () => {
  test('one that is not there is said, with those that are', async () => {
    await expect(sync('Home', false)).rejects.toThrow(
      "There is no connection 'Home'; there are 'Office address book'.",
    );
  });
  test('is tried first, as on screen', async () => {
    await expect(sync('Office address book', false)).rejects.toMatchObject({ code: 'needsTrial' });
    const tried = await sync('office address book', true);
    expect(tried).toMatchObject({
      trial: true,
      counts: { madeHere: 1 },
      changes: [{ name: 'Ana Reis', kind: 'madeHere' }],
    });
  });
  test('runs, and then has nothing to do', async () => {
    expect(await sync('Office address book', false)).toMatchObject({ state: 'done', counts: { madeHere: 1 } });
    expect(await sync('Office address book', false)).toMatchObject({ changesInAll: 0 });
  });
  test('trouble over there is told in one line', async () => {
    synced.book.setFaults({ expired: true });
    await expect(sync('Office address book', false)).rejects.toThrow('does not take the name and password');
  });
});
