import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { eq } from 'drizzle-orm';
import { SyncPass, type SyncContext, type SyncLine } from '@gray-loom/core/syncing';
import { CHANNELS } from '@gray-loom/core/writing';
import type { ContactDetail } from '@gray-loom/wire';
import { SimulatedTool, TOOL_KINDS } from '../../../../../packages/core/src/testing/sync-tool';
import { connection, run } from '../../db/schema';
import { inTransaction } from '../../db/connect';
import { startSyncedApp, type SyncedApp } from '../../testing/run-sync';
import { loadCatalogue, PickLists } from '../../book/picks';
import { finishRun, startRun } from '../../runs/runs';
import { DatabaseSyncStore } from './sync-store';

const [, dialer] = TOOL_KINDS;
const LINES = [
  { id: 'name', field: 'name', outside: 'name' },
  { id: 'tel', field: 'tel', outside: 'tel' },
].map((line): SyncLine => ({ ...line, direction: 'both', rule: 'newest' }));

let synced: SyncedApp;
let tool: SimulatedTool;
let ana: number;

beforeAll(async () => {
  if (!dialer) throw new Error('there is no dialer');
  synced = await startSyncedApp();
  tool = new SimulatedTool({ ...dialer, keepsStops: CHANNELS }, Date.now);
  ana = (await synced.app.enter({ givenName: 'Ana', familyName: 'Reis', tel: '+44 20 7946 0011' })).contactId;
});
afterAll(() => synced.end());

/** A pass of the connection over a tool that keeps who is not to be called. */
async function pass(): Promise<{ written: number }> {
  const { database } = synced.app;
  const [row] = await database.db.select().from(connection).where(eq(connection.id, synced.connectionId));
  if (!row) throw new Error('the connection is gone');
  const picks = await PickLists.load(database.db);
  const catalogue = await loadCatalogue(database.db);
  const context: SyncContext = { catalogue, country: 'GB', settle: (kind, text) => picks.settle(kind, text) };
  const lease = await inTransaction(database, async (tx) => {
    const runId = await startRun(tx, {
      kind: 'sync',
      state: 'running',
      threadId: row.threadId,
      title: 't',
    });
    await tx.db.update(run).set({ leaseBy: 'test' }).where(eq(run.id, runId));
    return { runId, holder: 'test' };
  });
  const setup = { ...row.setup, lines: LINES, newThere: true, limits: { removals: 9, overwrites: 9 } };
  const capabilities = await tool.capabilities();
  const store = new DatabaseSyncStore(database, {
    connectionId: row.id,
    connectionName: row.name,
    threadId: row.threadId,
    setup,
    capabilities,
    catalogue,
    picks,
    context,
    runId: lease.runId,
    lease,
  });
  const before = tool.writes;
  const sync = new SyncPass(store, tool, setup, { run: lease.runId, capabilities, context, nonce: `n${lease.runId}` });
  await sync.apply(await sync.plan());
  await inTransaction(database, (tx) => finishRun(tx, lease.runId, 'done', {}));
  return { written: tool.writes - before };
}

const quiet = async () => {
  for (let i = 0; i < 4; i++) if (!(await pass()).written) return;
  throw new Error('it does not come to rest');
};
const there = () => {
  const [record] = [...tool.records.values()];
  if (!record) throw new Error('nobody is over there');
  return record;
};
const permissions = async () => (await synced.app.json<ContactDetail>(`/contacts/${ana}`)).permissions;
const stateOf = async (channel: string) => (await permissions()).channels.find((one) => one.channel === channel)?.state;
const evidenceCount = async () => {
  const { rows } = await synced.app.database.pool.query<{ n: number }>(
    'select count(*)::int as n from permission_evidence',
  );
  return rows[0]?.n ?? 0;
};

test('a stop that is known here goes out with whoever is made over there', async () => {
  await synced.app.json(`/contacts/${ana}/permissions`, 'POST', {
    channel: 'text',
    state: 'optedOut',
    how: 'Said on the phone',
  });
  await quiet();
  expect(tool.records.size).toBe(1);
  expect(there().stopped).toEqual(['text']);
});

test('a stop over there is kept here as evidence, once, and names where it was said', async () => {
  const { id, fields, labels, stopped } = there();
  tool.put(id, fields, labels, [...(stopped ?? []), 'call']);
  await quiet();
  expect(await stateOf('call')).toBe('optedOut');
  expect((await permissions()).evidence[0]).toMatchObject({ channel: 'call', how: 'Said in Office address book' });
  const count = await evidenceCount();
  await pass();
  expect(await evidenceCount()).toBe(count);
});

test('a stop of the only number travels out though the contact itself was not changed', async () => {
  await synced.app.json(`/contacts/${ana}/permissions`, 'POST', {
    channel: 'voicemail',
    state: 'optedOut',
    how: 'Said on the phone',
    address: '+44 20 7946 0011',
  });
  await quiet();
  expect(there().stopped).toEqual(expect.arrayContaining(['text', 'call', 'voicemail']));
  // One number that was not said anything of leaves the channel open.
  expect(await stateOf('email')).toBe('unknown');
});

test('a word that allows again does not loosen what is closed over there, nor does it come back as a new stop', async () => {
  await synced.app.json(`/contacts/${ana}/permissions`, 'POST', {
    channel: 'text',
    state: 'allowed',
    how: 'Asked for it by letter',
  });
  await quiet();
  expect(there().stopped).toContain('text');
  expect(await stateOf('text')).toBe('allowed');
});
