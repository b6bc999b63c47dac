import { and, eq, sql } from 'drizzle-orm';
import { displayNameOf } from '@gray-loom/core/fields';
import { lifecycleOf } from '@gray-loom/core/model';
import {
  confirmation,
  leftApart,
  outsideWrite,
  removalOf,
  settleLine,
  settleList,
  settleWho,
  standingOf,
  staysInStep,
  type ApartReason,
  type DisputedPair,
  type Link,
  type OutsideValue,
  type PairWrite,
  type PlannedConflict,
  type SyncContext,
  type SyncLine,
  type ValueDecision,
  type WhoDecision,
} from '@gray-loom/core/syncing';
import type { SettleRequest } from '@gray-loom/wire';
import { loadCatalogue, PickLists } from '../../book/picks';
import { requireLive } from '../../book/require-live';
import { recordsOf } from '../../book/statements/contact-records';
import { connectorsFor } from '../../connectors';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { connection, syncConflict, syncLink } from '../../db/schema';
import { tell } from '../../feed/events';
import { Refusal } from '../../http/refusal';
import { handThread, startRun } from '../../runs/runs';
import { changeDeleted } from '../contacts';
import { settingsOf, requireConnection, type ConnectionRow, type SyncServices } from './connections';
import { startSync } from './start-sync';
import { refuseSettling } from './refusals';
import { selectLinks } from './statements/sync-links';
import { valueText } from './sync-report';
import { writePairs, type PairsOptions } from './write-pairs';
import { keepMergedChoice, lookAtOthers, takerOf } from './statements/sync-settle';

export type SettleServices = SyncServices & { country: string };

/**
 * Settles a question. What was decided is written with the steps of a pass, here and at once; it travels on with the next
 * run, which is started if it may.
 */
export async function settleQuestion(services: SettleServices, key: string, request: SettleRequest): Promise<void> {
  if (key.includes(':')) return settleIdentity(services, key, request);
  const { database } = services;
  const [conflict] = await database.db
    .select()
    .from(syncConflict)
    .where(eq(syncConflict.id, Number(key) || 0));
  if (!conflict) throw refuseSettling.settled();
  const row = await requireConnection(database, conflict.connectionId);
  switch (conflict.why) {
    case 'twoThere':
      return settleSecond(services, row, conflict, request);
    case 'removal':
      return settleRemoval(services, row, conflict, request);
    case 'byHand':
      return settleListed(services, row, conflict, request);
    default:
      return settleValue(services, row, conflict, request);
  }
}

type Conflict = typeof syncConflict.$inferSelect;

async function settleValue(
  services: SettleServices,
  row: ConnectionRow,
  conflict: Conflict,
  request: SettleRequest,
): Promise<void> {
  const { database } = services;
  const line = row.setup.lines.find(({ id }) => id === conflict.line);
  if (!line) throw refuseSettling.noLine();
  const decision = decisionOf(request);
  const settling = await Settling.begin(services, row);
  const isMoved = await inTransaction(database, async (tx) => {
    const link = await lockLink(tx, conflict);
    const open = await tx.db.select().from(syncConflict).where(conflictsOf(conflict)).for('update');
    const own = open.find(({ id }) => id === conflict.id);
    if (!own) throw refuseSettling.settled();
    if (!link?.seen) throw refuseSettling.noLink();
    const contactId = await rootOf(tx, conflict.contactId);
    const { record, version } = await requireLive(tx, contactId);
    const disputed = (run: number): DisputedPair => ({
      contactId,
      version,
      record,
      link,
      theirs: link.seen ?? { id: link.outsideId, version: '', fields: {}, labels: [] },
      capabilities: row.capabilities,
      context: settling.context,
      run,
      others: open.filter((one) => one !== own).map(asPlanned),
    });
    // Nobody decides over values that were not the ones shown.
    const now = standingOf(line, disputed(0));
    if (textsOf(now) !== (request.saw ? JSON.stringify([request.saw.ours, request.saw.theirs]) : textsOf(own))) {
      await tx.db.update(syncConflict).set(now).where(eq(syncConflict.id, own.id));
      await tell(tx.client, { topic: 'syncs' });
      return true;
    }
    const name = settling.context.catalogue.nameOf(line.field);
    const runId = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      title: `Settled ${name} of ${displayNameOf(record)} with ${row.name}`,
      contactId,
    });
    const settled = settleLine(line, decision, disputed(runId));
    if (!settled.ok)
      throw {
        unreadable: refuseSettling.unreadable({ name }),
        unreadableText: refuseSettling.unreadableText({ text: request.text, name, field: 'text' }),
        oneValue: refuseSettling.oneValue({ name }),
        nothingTyped: refuseSettling.nothingTyped({ field: 'text' }),
      }[settled.error];
    await settling.write(tx, runId, settled.value);
    if (request.always && (decision.take === 'ours' || decision.take === 'theirs'))
      await makeRule(tx, row, line, decision.take);
    await travelOn(tx, row, [contactId]);
    return false;
  });
  if (isMoved) throw refuseSettling.moved();
}

/** Somebody over there changed a list by hand that is kept from here: it is put right, or left so. */
async function settleListed(
  services: SettleServices,
  row: ConnectionRow,
  conflict: Conflict,
  { take }: SettleRequest,
): Promise<void> {
  const line = row.setup.lists?.find(({ id }) => id === conflict.line);
  if (!line) throw refuseSettling.noLine();
  if (take !== 'ours' && take !== 'theirs') throw refuseSettling.noWay({ question: 'list' });
  const settling = await Settling.begin(services, row);
  await inTransaction(services.database, async (tx) => {
    const link = await lockLink(tx, conflict);
    const open = await tx.db.select().from(syncConflict).where(conflictsOf(conflict)).for('update');
    if (!open.some(({ id }) => id === conflict.id)) throw refuseSettling.settled();
    if (!link?.seen) throw refuseSettling.noLink();
    const contactId = await rootOf(tx, conflict.contactId);
    const others = open.filter(({ id }) => id !== conflict.id).map(asPlanned);
    const { version } = await requireLive(tx, contactId);
    const done = take === 'ours' ? `Put the list "${line.label}" right` : `Left the list "${line.label}" as it is`;
    const settled = settleList(line, take, { link, theirs: link.seen, version, others });
    await settling.write(tx, await noteRun(tx, `${done} in ${row.name}`, contactId), settled);
    await travelOn(tx, row, [contactId]);
  });
}

function decisionOf({ take, text }: SettleRequest): ValueDecision {
  if (take === 'ours' || take === 'theirs' || take === 'both') return { take };
  if (take === 'typed') return { take, text };
  throw refuseSettling.noWay({ question: 'value' });
}

/** What every question needs to be written down like the work of a pass. */
export class Settling {
  private constructor(
    private readonly options: Omit<PairsOptions, 'runId'>,
    readonly context: SyncContext,
  ) {}

  static async begin({ database, country }: SettleServices, row: ConnectionRow): Promise<Settling> {
    const catalogue = await loadCatalogue(database.db);
    const picks = await PickLists.load(database.db);
    const { id: connectionId, name: connectionName, setup, capabilities } = row;
    return new Settling(
      { connectionId, connectionName, setup, capabilities, catalogue, picks },
      { catalogue, country, settle: (kind, text) => picks.settle(kind, text) },
    );
  }

  async write(tx: Tx, runId: number, ...writes: PairWrite[]): Promise<void> {
    await writePairs(tx, { ...this.options, runId }, writes);
    await tell(tx.client, { topic: 'syncs' });
  }
}

const textsOf = ({ ours, theirs }: { ours: OutsideValue[]; theirs: OutsideValue[] }): string =>
  JSON.stringify([ours.map(valueText), theirs.map(valueText)]);

const asPlanned = ({ line, ours, theirs, why }: Conflict): PlannedConflict => ({ line, ours, theirs, why });

interface Pair {
  connectionId: number;
  outsideId: string;
}

const linkOf = ({ connectionId, outsideId }: Pair) =>
  and(eq(syncLink.connectionId, connectionId), eq(syncLink.outsideId, outsideId));
const conflictsOf = ({ connectionId, outsideId }: Pair) =>
  and(eq(syncConflict.connectionId, connectionId), eq(syncConflict.outsideId, outsideId));

async function lockLink(tx: Tx, pair: Pair): Promise<Link | undefined> {
  await tx.db.select({ id: syncLink.outsideId }).from(syncLink).where(linkOf(pair)).for('update');
  const [link] = await selectLinks(tx.client, pair.connectionId, 'outside_id = $2', [pair.outsideId]);
  return link;
}

export async function rootOf(tx: Tx, id: number): Promise<number> {
  for (let at = id; ;) {
    const { rows } = await takerOf(tx.client, at);
    const into = rows[0]?.into ?? null;
    if (into === null) return at;
    at = into;
  }
}

/** "Always so for this field": what was decided once becomes the rule of the line. */
async function makeRule(tx: Tx, row: ConnectionRow, line: SyncLine, take: 'ours' | 'theirs'): Promise<void> {
  const lines = row.setup.lines.map((one) =>
    one.id === line.id
      ? { ...one, rule: 'replace' as const, wins: take === 'ours' ? ('here' as const) : ('there' as const) }
      : one,
  );
  // The person who decides has seen what it does, so no other trial is asked for.
  await tx.db
    .update(connection)
    .set({ setup: { ...row.setup, lines } })
    .where(eq(connection.id, row.id));
}

/** Starts a run for these contacts, or for all, where the connection may run at all; otherwise the next run takes it along. */
export async function travelOn(tx: Tx, { id }: Pick<ConnectionRow, 'id'>, only: number[] | null): Promise<void> {
  const fresh = await requireConnection(tx, id);
  await startSync(tx, fresh, { trial: false, only }).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error;
  });
}

/** Who somebody over there is. */
async function settleIdentity(services: SettleServices, key: string, request: SettleRequest): Promise<void> {
  const at = key.indexOf(':');
  const pair = { connectionId: Number(key.slice(0, at)), outsideId: key.slice(at + 1) };
  const row = await requireConnection(services.database, pair.connectionId);
  const settling = await Settling.begin(services, row);
  await inTransaction(services.database, async (tx) => {
    const link = await lockLink(tx, pair);
    if (link?.state !== 'asking') throw refuseSettling.settled();
    const decision = await whoIs(tx, pair.connectionId, request);
    await settling.write(tx, await noteRun(tx, `Settled who a record in ${row.name} is`), settleWho(link, decision));
    await travelOn(tx, row, null);
  });
}

async function whoIs(tx: Tx, connectionId: number, { take, contactId }: SettleRequest): Promise<WhoDecision> {
  if (take === 'new' || take === 'leave') return { take };
  if (take !== 'contact') throw refuseSettling.noWay({ question: 'who' });
  if (!contactId) throw refuseSettling.noContact();
  const rootId = await rootOf(tx, contactId);
  await requireLive(tx, rootId);
  const [other] = await tx.db
    .select({ id: syncLink.outsideId })
    .from(syncLink)
    .where(
      sql`${syncLink.connectionId} = ${connectionId} and ${syncLink.contactId} = ${rootId} and ${syncLink.state} in ('linked', 'making')`,
    );
  if (other) throw refuseSettling.linkedAlready();
  return { take, contactId: rootId };
}

/** A run that says that a question was settled; it changes no contact. */
export async function noteRun(tx: Tx, title: string, contactId?: number): Promise<number> {
  return startRun(tx, {
    kind: 'setup',
    state: 'done',
    threadId: await handThread(tx),
    title,
    ...(contactId === undefined ? {} : { contactId }),
  });
}

/** The link that a question is about. */
async function requireLink({ pool }: Database, row: ConnectionRow, conflict: Conflict): Promise<Link> {
  const [link] = await selectLinks(pool, row.id, 'outside_id = $2', [conflict.outsideId]);
  if (!link) throw refuseSettling.noLink();
  return link;
}

/** Two records over there for one contact: the second goes, or stays there and is left out. */
async function settleSecond(
  services: SettleServices,
  row: ConnectionRow,
  conflict: Conflict,
  { take }: SettleRequest,
): Promise<void> {
  const { database } = services;
  if (take !== 'removeThere' && take !== 'leave') throw refuseSettling.noWay({ question: 'second' });
  const link = await requireLink(database, row, conflict);
  const settled = take === 'leave' ? leftApart(link, 'merged') : await removeThere(services, row, link, 'merged');
  const settling = await Settling.begin(services, row);
  await inTransaction(database, async (tx) => {
    const title =
      take === 'leave' ? `Left a second record out of ${row.name}` : `Removed a second record in ${row.name}`;
    const runId = await noteRun(tx, title, conflict.contactId);
    await settling.write(tx, runId, { ...settled, conflicts: [] });
    // It was one question: the other tools are not asked about the same contact again.
    await keepMergedChoice(tx.client, link.contactId, take, runId);
    const { rows } = await lookAtOthers(tx.client, link.contactId, row.id);
    const rootId = await rootOf(tx, link.contactId);
    for (const { connection_id: id } of rows) await travelOn(tx, { id }, [rootId]);
  });
}

/** Deleted or left here, and edited over there since: it goes all the same, stays there, or the contact is brought back. */
async function settleRemoval(
  services: SettleServices,
  row: ConnectionRow,
  conflict: Conflict,
  { take }: SettleRequest,
): Promise<void> {
  const { database } = services;
  if (take !== 'removeThere' && take !== 'leave' && take !== 'bringBack')
    throw refuseSettling.noWay({ question: 'removal' });
  const link = await requireLink(database, row, conflict);
  const contactId = await inTransaction(database, (tx) => rootOf(tx, conflict.contactId));
  const [contact] = await recordsOf(database.pool, [contactId]);
  const isDeleted = contact !== undefined && Boolean(lifecycleOf(contact.record));
  const removed =
    take === 'removeThere' ? await removeThere(services, row, link, isDeleted ? 'goneHere' : 'left') : null;
  const settling = await Settling.begin(services, row);
  await inTransaction(database, async (tx) => {
    if (take === 'bringBack') {
      if (!isDeleted) throw refuseSettling.notDeleted();
      await settling.write(tx, await changeDeleted(tx, contactId, false), staysInStep(link));
      await travelOn(tx, row, [contactId]);
      return;
    }
    const title = take === 'leave' ? `Left a record in ${row.name} there` : `Removed an edited record in ${row.name}`;
    const write = removed ?? leftApart(link);
    await settling.write(tx, await noteRun(tx, title, contactId), { ...write, conflicts: [] });
  });
}

async function removeThere(
  { standIns, secretKey }: SettleServices,
  row: ConnectionRow,
  link: Link,
  reason: ApartReason,
): Promise<PairWrite> {
  const item = removalOf(link, reason);
  const write = outsideWrite(item);
  const tool = connectorsFor(standIns)[row.kind].open(row.place, settingsOf(row, secretKey));
  const [done] = write ? await tool.write([write]) : [];
  if (!done?.ok) throw refuseSettling.notRemoved({ text: done?.text ?? null });
  return confirmation(item, link.contactId, done);
}
