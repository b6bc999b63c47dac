import { consumerOf } from './feed-place';
import { dropPosition } from '../../feed/positions';
import { randomBytes } from 'node:crypto';
import { eq, sql } from 'drizzle-orm';
import { withFormerLabels, withMadeFields, type SyncSetup } from '@gray-loom/core/syncing';
import type { ConnectionChange, ConnectionRequest, ConnectionTestRequest, ConnectionTestResult } from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import { missingSetting, partSettings, type Connector, type Settings } from '../../connectors/connector';
import { refuseContact } from '../../book/refusals';
import { contactsSeen } from '../../book/statements/seen';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { connection, syncChoice, syncLink, thread } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { seal, unseal } from '../../secrets';
import { loadCatalogue, PickLists } from '../../book/picks';
import { threadFor } from '../../runs/runs';
import { checkSegments, checkSetup, firstSetup } from './sync-setup';
import { fieldsSeen, deleteChoice } from './statements/connections';

export type ConnectionRow = typeof connection.$inferSelect;
/** Looks that a thread can have. */
const LOOKS = 4;

export interface SyncServices {
  database: Database;
  secretKey: Buffer | null;
  standIns: readonly string[];
}

export async function requireConnection({ db }: Pick<Database, 'db'>, id: number): Promise<ConnectionRow> {
  const [found] = await db.select().from(connection).where(eq(connection.id, id));
  if (!found) throw refuse.noSuchConnection();
  return found;
}

/** What a connection was told to be reached, secrets included. */
export function settingsOf(row: Pick<ConnectionRow, 'settings' | 'secret'>, secretKey: Buffer | null): Settings {
  return { ...row.settings, ...secretsIn(unseal(row.secret, secretKey)) };
}

/** Secrets as they are kept; a password alone is one from before kinds of tools could have others. */
function secretsIn(text: string): Settings {
  try {
    const kept: unknown = JSON.parse(text);
    if (typeof kept === 'object' && kept !== null) return kept as Settings;
  } catch {
    // Not written as settings.
  }
  return { password: text };
}

/** What was typed, over what is kept; a blank secret is the one that is kept. */
function overKept(connector: Connector, kept: Settings, typed: Settings): Settings {
  const isBlankSecret = (key: string) =>
    !typed[key] && connector.settings.some((setting) => setting.key === key && setting.kind === 'secret');
  return { ...kept, ...Object.fromEntries(Object.entries(typed).filter(([key]) => !isBlankSecret(key))) };
}

/** Tries the settings of a tool, and says which step failed. Nothing is kept. */
export async function testConnection(
  services: SyncServices,
  { kind, settings, of }: ConnectionTestRequest,
): Promise<ConnectionTestResult> {
  const kept = of === null ? null : await requireConnection(services.database, of);
  const connector = connectorsFor(services.standIns)[kept?.kind ?? kind];
  const known = kept ? settingsOf(kept, services.secretKey) : {};
  const { steps, capabilities } = await connector.find(overKept(connector, known, settings));
  return { steps: steps.map(({ name, ok, text }) => ({ name, ok, text })), capabilities };
}

/** Makes a connection after its test, with a set-up to begin with, or that of another one. Nothing is synced yet. */
export async function makeConnection(services: SyncServices, request: ConnectionRequest): Promise<{ id: number }> {
  const { database, secretKey } = services;
  const from = request.from === null ? null : await requireConnection(database, request.from);
  const connector = connectorsFor(services.standIns)[from?.kind ?? request.kind];
  const settings = overKept(connector, from ? settingsOf(from, secretKey) : {}, request.settings);
  const missing = missingSetting(connector, settings);
  if (missing) throw refuse.settingMissing({ label: missing.label, field: missing.key });
  const parts = partSettings(connector, settings);
  const secret = seal(JSON.stringify(parts.secret), secretKey);
  const found = await connector.find(settings);
  if (!found.place || !found.capabilities) {
    const failed = found.steps.find(({ ok }) => !ok);
    throw refuse.connectionFails({
      text: failed?.text ?? null,
      ...(failed ? { step: failed.name } : {}),
      ...(failed?.setting ? { field: failed.setting } : {}),
    });
  }
  const { place } = found;
  if (!request.despite) await refuseSameBook(database, place, null);
  const capabilities = withMadeFields(found.capabilities, ownFields(from?.setup));
  const picks = await PickLists.load(database.db);
  const catalogue = await loadCatalogue(database.db);
  const setup = from ? from.setup : firstSetup(capabilities, picks.stages);
  checkSetup(setup, capabilities, catalogue);
  return inTransaction(database, async (tx) => {
    await refuseTaken(tx, request.name, null);
    const [others] = await tx.db.select({ n: sql<number>`count(*)::int` }).from(connection);
    const [row] = await tx.db
      .insert(connection)
      .values({
        name: request.name,
        kind: connector.kind,
        threadId: await threadFor(tx, connector.kind, request.name),
        settings: parts.open,
        place,
        secret,
        setup,
        everyMinutes: from?.everyMinutes ?? null,
        capabilities,
        look: (others?.n ?? 0) % LOOKS,
        hook: randomBytes(18).toString('base64url'),
      })
      .returning({ id: connection.id });
    await tell(tx.client, { topic: 'syncs' });
    return { id: row?.id ?? 0 };
  });
}

/** Two connections to one book would each hold that the other's records are its own. */
async function refuseSameBook({ db }: Database, place: string, exceptId: number | null): Promise<void> {
  const others = await db.select().from(connection).where(eq(connection.place, place));
  const other = others.find(({ id }) => id !== exceptId);
  if (other) throw refuse.sameBook({ name: other.name, connectionId: other.id, isStopped: other.state === 'stopped' });
}

async function refuseTaken(tx: Tx, name: string, exceptId: number | null): Promise<void> {
  const [taken] = await tx.db.select({ id: connection.id }).from(connection).where(eq(connection.name, name));
  if (taken && taken.id !== exceptId) throw refuse.nameTaken({ name, field: 'name' });
}

/** Changes name, settings, set-up, timetable or state. A set-up that changed is tried again before it runs. */
export async function changeConnection(services: SyncServices, id: number, change: ConnectionChange): Promise<void> {
  const { database, secretKey } = services;
  const row = await requireConnection(database, id);
  const set: Partial<typeof connection.$inferInsert> = {};
  if (change.setup) {
    set.capabilities = withMadeFields(row.capabilities, ownFields(change.setup));
    checkSetup(change.setup, set.capabilities, await loadCatalogue(database.db));
    await checkSegments(database, change.setup);
    set.setup = withFormerLabels(row.setup, change.setup);
    set.setupVersion = row.setupVersion + 1;
    set.setupAt = new Date();
    // Everything is looked at again: what the set-up means for records that did not change is not known.
    set.theirCursor = null;
  }
  if (change.settings) {
    const connector = connectorsFor(services.standIns)[row.kind];
    const settings = overKept(connector, settingsOf(row, secretKey), change.settings);
    const found = await connector.find(settings);
    if (!found.place || !found.capabilities)
      throw refuse.connectionFails({ text: found.steps.find(({ ok }) => !ok)?.text ?? null });
    if (found.place !== row.place) {
      await refuseSameBook(database, found.place, id);
      set.theirCursor = null;
    }
    const parts = partSettings(connector, settings);
    Object.assign(set, {
      settings: parts.open,
      secret: seal(JSON.stringify(parts.secret), secretKey),
      place: found.place,
      capabilities: withMadeFields(found.capabilities, ownFields(change.setup ?? row.setup)),
      trouble: null,
    });
  }
  if (change.look !== undefined) set.look = change.look;
  if (change.everyMinutes !== undefined) set.everyMinutes = change.everyMinutes;
  if (change.state) {
    if (change.state === 'on' && row.triedVersion < (set.setupVersion ?? row.setupVersion)) throw refuse.needsTrial();
    set.state = change.state;
  }
  const every = set.everyMinutes === undefined ? row.everyMinutes : set.everyMinutes;
  const state = set.state ?? row.state;
  set.nextRunAt = state === 'on' && every !== null ? new Date(Date.now() + every * 60_000) : null;
  await inTransaction(database, async (tx) => {
    if (change.name && change.name !== row.name) {
      await refuseTaken(tx, change.name, id);
      set.name = change.name;
      await tx.db.update(thread).set({ name: change.name }).where(eq(thread.id, row.threadId));
    }
    await tx.db.update(connection).set(set).where(eq(connection.id, id));
    if (change.setup) await tx.db.update(syncLink).set({ dirty: true }).where(eq(syncLink.connectionId, id));
    // One that is stopped keeps nothing of the feed waiting; where it goes on it looks at everybody.
    if (change.setup || change.state === 'stopped') await dropPosition(tx.client, consumerOf(id));
    await tell(tx.client, { topic: 'syncs' });
  });
}

const ownFields = (setup: SyncSetup | undefined) => setup?.lines.map(({ outside }) => outside) ?? [];

/** Asks the other side again what fields and labels it has, and how much room. */
export async function refreshCapabilities(services: SyncServices, id: number): Promise<void> {
  const row = await requireConnection(services.database, id);
  const tool = connectorsFor(services.standIns)[row.kind].open(row.place, settingsOf(row, services.secretKey));
  // Fields that somebody made over there are told by the records that have them.
  const { rows } = await fieldsSeen(services.database.pool, id);
  const own = [...ownFields(row.setup), ...rows.map(({ key }) => key)];
  const capabilities = withMadeFields(await tool.capabilities(), own);
  await services.database.db.update(connection).set({ capabilities }).where(eq(connection.id, id));
  await tell(services.database.pool, { topic: 'syncs' });
}

/** A person's word on one contact: sent by hand, never, or neither. */
export async function chooseContact(
  database: Database,
  connectionId: number,
  contactId: number,
  choice: 'send' | 'never' | null,
): Promise<void> {
  await requireConnection(database, connectionId);
  await inTransaction(database, async (tx) => {
    if (!(await contactsSeen(tx.client, [contactId])).rows.length) throw refuseContact.noSuchContact();
    const { rows: before } = await deleteChoice(tx.client, connectionId, contactId);
    if (choice) await tx.db.insert(syncChoice).values({ connectionId, contactId, choice });
    // What is linked is looked at in the next pass whatever changed; whoever was taken out by "never" takes part again without it.
    const isBack = before[0]?.choice === 'never' && choice !== 'never';
    await tx.db
      .update(syncLink)
      .set({ dirty: true, ...(isBack ? { apart: sql`case when apart = 'person' then 'left' else apart end` } : {}) })
      .where(sql`${syncLink.connectionId} = ${connectionId} and ${syncLink.contactId} = ${contactId}`);
    await tell(tx.client, { topic: 'syncs' });
  });
}
