import { and, eq, sql } from 'drizzle-orm';
import { displayNameOf } from '@gray-loom/core/fields';
import type { ContactRecord } from '@gray-loom/core/model';
import {
  itemsOf,
  LABELS,
  outsideField,
  planPair,
  project,
  readOutside,
  WHOLE_NAME,
  type Base,
  type OutsideRecord,
  type OutsideValue,
  type SyncContext,
  type SyncLine,
} from '@gray-loom/core/syncing';
import type { SettleRequest } from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import { inTransaction, type Tx } from '../../db/connect';
import { connection, syncConflict, syncLink } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuseSettling } from './refusals';
import { Refusal } from '../../http/refusal';
import { credentialsOf, requireConnection, startSync, type ConnectionRow, type SyncServices } from './connections';
import { requireLive } from '../../book/require-live';
import { loadCatalogue, PickLists } from '../../book/picks';
import { handThread, startRun } from '../../runs/runs';
import { valueText } from './sync-report';
import { applyChanges } from '../../book/write-contacts';

/** Settles a question. What was decided is written here at once and travels on with the next run, which is started if it may. */
export async function settleConflict(
  services: SyncServices & { country: string },
  key: string,
  request: SettleRequest,
): Promise<void> {
  if (key.includes(':')) return settleWho(services, key, request);
  const { database } = services;
  const [conflict] = await database.db
    .select()
    .from(syncConflict)
    .where(eq(syncConflict.id, Number(key) || 0));
  if (!conflict) throw refuseSettling.settled();
  const row = await requireConnection(database, conflict.connectionId);
  if (conflict.why === 'twoThere') return settleTwo(services, row, conflict, request);
  const line = row.setup.lines.find(({ id }) => id === conflict.line);
  if (!line) throw refuseSettling.noLine();
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const context: SyncContext = {
    catalogue,
    country: services.country,
    settle: (kind, text) => picks.settle(kind, text),
  };
  const moved = await inTransaction(database, async (tx) => {
    const [link] = await tx.db.select().from(syncLink).where(pairOf(conflict)).for('update');
    const [open] = await tx.db.select().from(syncConflict).where(eq(syncConflict.id, conflict.id)).for('update');
    if (!open) throw refuseSettling.settled();
    if (!link?.seen) throw refuseSettling.noLink();
    const rootId = await rootOf(tx, conflict.contactId);
    const { record } = await requireLive(tx, rootId);
    // Nobody decides over values that were not the ones shown.
    const now = standing(line, { record, theirs: link.seen, row, context });
    const seen = request.saw ? JSON.stringify([request.saw.ours, request.saw.theirs]) : textsOf(open);
    if (textsOf(now) !== seen) {
      await tx.db.update(syncConflict).set(now).where(eq(syncConflict.id, conflict.id));
      await tell(tx.client, { topic: 'syncs' });
      return true;
    }
    const runId = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      title: `Settled ${catalogue.nameOf(line.field)} of ${displayNameOf(record)} with ${row.name}`,
      contactId: rootId,
    });
    const settled = settle(line, request, { record, rootId, theirs: link.seen, base: link.base, row, context, runId });
    await picks.save(tx);
    await applyChanges(tx, runId, [{ contactId: rootId, operations: settled.operations }]);
    await tx.db.update(syncLink).set({ base: settled.base, dirty: true }).where(pairOf(conflict));
    await tx.db.delete(syncConflict).where(eq(syncConflict.id, conflict.id));
    if (request.always && (request.take === 'ours' || request.take === 'theirs'))
      await makeRule(tx, row, line, request.take);
    await tell(tx.client, { topic: 'syncs' });
    await travelOn(tx, row, rootId);
    return false;
  });
  if (moved) throw refuseSettling.moved();
}

const textsOf = ({ ours, theirs }: { ours: OutsideValue[]; theirs: OutsideValue[] }): string =>
  JSON.stringify([ours.map(valueText), theirs.map(valueText)]);

/** Both values as they stand now, as a conflict keeps them. */
function standing(
  line: SyncLine,
  { record, theirs, row, context }: Pick<Settling, 'record' | 'theirs' | 'row' | 'context'>,
): { ours: OutsideValue[]; theirs: OutsideValue[] } {
  if (line.stageLabels) return { ours: stageLabel(record, line), theirs: stageLabelsThere(line, theirs) };
  const field = outsideField(line, row.capabilities.fields);
  const several = line.field !== WHOLE_NAME && context.catalogue.find(line.field)?.several;
  const there = itemsOf(theirs.fields[line.outside] ?? [], line, field, context);
  return {
    ours: project(record, line, field, context).map(({ outside }) => outside),
    theirs: (several ? there : there.slice(0, 1)).map(({ outside }) => outside),
  };
}

const pairOf = ({ connectionId, outsideId }: { connectionId: number; outsideId: string }) =>
  and(eq(syncLink.connectionId, connectionId), eq(syncLink.outsideId, outsideId));

async function rootOf(tx: Tx, id: number): Promise<number> {
  for (let at = id; ;) {
    const { rows } = await tx.client.query<{ into: number | null }>(
      'select merged_into as into from contact where id = $1',
      [at],
    );
    const into = rows[0]?.into ?? null;
    if (into === null) return at;
    at = into;
  }
}

interface Settling {
  record: ContactRecord;
  rootId: number;
  theirs: OutsideRecord;
  base: Base | null;
  row: ConnectionRow;
  context: SyncContext;
  runId: number;
}

/** What is written here, and what counts as agreed on afterwards, so that the rest travels as any other change. */
function settle(line: SyncLine, request: SettleRequest, of: Settling) {
  const { record, rootId, theirs, base, row, context, runId } = of;
  const field = outsideField(line, row.capabilities.fields);
  const plain = (from: ContactRecord): OutsideValue[] =>
    line.stageLabels ? stageLabel(from, line) : project(from, line, field, context).map(({ outside }) => outside);
  const there: OutsideValue[] = line.stageLabels ? stageLabelsThere(line, theirs) : (theirs.fields[line.outside] ?? []);
  const take = (theirSide: OutsideRecord) =>
    planPair({
      id: rootId,
      record,
      stopped: [],
      changedAtMs: () => 0,
      theirs: theirSide,
      base: { [line.id]: { o: plain(record) } },
      lines: [{ ...line, direction: 'in', rule: 'replace', wins: 'there' }],
      capabilities: row.capabilities,
      context,
      clock: { aheadMs: 0, errorMs: 0 },
      run: runId,
    }).operations;
  // "Agreed" on what stands there: then only our side moved, and goes out.
  const outward: Base = { ...base, [line.id]: { o: there } };
  switch (request.take) {
    case 'ours':
      return {
        operations: [],
        base: line.direction === 'in' ? { ...base, [line.id]: { o: plain(record), t: there } } : outward,
      };
    case 'theirs': {
      const operations = take(theirs);
      if (!operations.length && !sameAs(line, of))
        throw refuseSettling.unreadable({ name: context.catalogue.nameOf(line.field) });
      return { operations, base: { ...base } };
    }
    case 'both': {
      const { [line.id]: _gone, ...rest } = base ?? {};
      return { operations: [], base: rest };
    }
    case 'typed': {
      const type = context.catalogue.find(line.field)?.type ?? 'text';
      const typed: OutsideValue = { v: request.text.trim() };
      if (!request.text.trim()) throw refuseSettling.nothingTyped({ field: 'text' });
      if (line.field !== WHOLE_NAME && !line.stageLabels && !readOutside(type, typed, context))
        throw refuseSettling.unreadableText({
          text: request.text,
          name: context.catalogue.nameOf(line.field),
          field: 'text',
        });
      const label = theirs.fields[line.outside]?.[0]?.label;
      const values = [{ ...typed, ...(label ? { label } : {}) }];
      const operations = take({
        ...theirs,
        fields: { ...theirs.fields, [line.outside]: line.outside === LABELS ? [] : keptWith(line, of, values) },
        ...(line.stageLabels ? { labels: [line.stageLabels[request.text.trim()] ?? request.text.trim()] } : {}),
      });
      return { operations, base: outward };
    }
    default:
      throw refuseSettling.noWay({ question: 'value' });
  }
}

/** Values that both sides have, with the one that was typed in place of those they differ in. */
function keptWith(line: SyncLine, { record, theirs, row, context }: Settling, typed: OutsideValue[]): OutsideValue[] {
  const field = outsideField(line, row.capabilities.fields);
  const ours = new Set(project(record, line, field, context).map(({ key }) => key));
  const common = itemsOf(theirs.fields[line.outside] ?? [], line, field, context).filter(({ key }) => ours.has(key));
  return [...common.map(({ outside }) => outside), ...typed];
}

function sameAs(line: SyncLine, { record, theirs, row, context }: Settling): boolean {
  const field = outsideField(line, row.capabilities.fields);
  const ours = project(record, line, field, context).map(({ key }) => key);
  const there = itemsOf(theirs.fields[line.outside] ?? [], line, field, context).map(({ key }) => key);
  return there.every((key) => ours.includes(key)) || Boolean(line.stageLabels);
}

function stageLabelsThere(line: SyncLine, { labels }: OutsideRecord): OutsideValue[] {
  const stages = Object.values(line.stageLabels ?? {}).map((label) => label.toLowerCase());
  return labels.filter((label) => stages.includes(label.toLowerCase())).map((v) => ({ v }));
}

function stageLabel(record: ContactRecord, line: SyncLine): OutsideValue[] {
  const stage = String(record.f[line.field]?.[0]?.v ?? '');
  const label = line.stageLabels?.[stage];
  return label ? [{ v: label }] : [];
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

/** Starts a run for one contact, where the connection may run at all; otherwise the next run takes it along. */
async function travelOn(tx: Tx, row: ConnectionRow, contactId: number): Promise<void> {
  const fresh = await requireConnection(tx, row.id);
  await startSync(tx, fresh, { trial: false, only: [contactId] }).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error;
  });
}

async function settleWho(services: SyncServices, key: string, { take, contactId }: SettleRequest): Promise<void> {
  const at = key.indexOf(':');
  const [connectionId, outsideId] = [Number(key.slice(0, at)), key.slice(at + 1)];
  const row = await requireConnection(services.database, connectionId);
  await inTransaction(services.database, async (tx) => {
    const [link] = await tx.db.select().from(syncLink).where(pairOf({ connectionId, outsideId })).for('update');
    if (link?.state !== 'asking') throw refuseSettling.settled();
    if (take === 'contact') {
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
      await tx.db
        .update(syncLink)
        .set({ state: 'linked', contactId: rootId, base: null, dirty: true, candidates: [] })
        .where(pairOf({ connectionId, outsideId }));
    } else if (take === 'new')
      await tx.db
        .update(syncLink)
        .set({ state: 'fresh', dirty: true, candidates: [] })
        .where(pairOf({ connectionId, outsideId }));
    else if (take === 'leave')
      await tx.db
        .update(syncLink)
        .set({ state: 'apart', apart: 'person', dirty: false, candidates: [] })
        .where(pairOf({ connectionId, outsideId }));
    else throw refuseSettling.noWay({ question: 'who' });
    await tell(tx.client, { topic: 'syncs' });
    await startSync(tx, row, { trial: false, only: null }).catch((error: unknown) => {
      if (!(error instanceof Refusal)) throw error;
    });
  });
}

/** Two records over there for one contact: the second goes, or stays there and is left out. */
async function settleTwo(
  services: SyncServices,
  row: ConnectionRow,
  conflict: typeof syncConflict.$inferSelect,
  { take }: SettleRequest,
): Promise<void> {
  const { database, secretKey, standIns } = services;
  const [link] = await database.db.select().from(syncLink).where(pairOf(conflict));
  if (!link) throw refuseSettling.noLink();
  if (take === 'removeThere') {
    const tool = connectorsFor(standIns)[row.kind].open(row.place, credentialsOf(row, secretKey));
    const [done] = await tool.write([{ kind: 'remove', id: link.outsideId, version: link.version }]);
    if (!done?.ok) throw refuseSettling.notRemoved({ text: done?.text ?? null });
  } else if (take !== 'leave') throw refuseSettling.noWay({ question: 'second' });
  await inTransaction(database, async (tx) => {
    await tx.db
      .update(syncLink)
      .set({ state: 'apart', apart: take === 'leave' ? 'person' : 'merged', asksTwo: false })
      .where(pairOf(conflict));
    await tx.db.delete(syncConflict).where(eq(syncConflict.id, conflict.id));
    await startRun(tx, {
      kind: 'setup',
      state: 'done',
      threadId: await handThread(tx),
      title: take === 'leave' ? `Left a second record out of ${row.name}` : `Removed a second record in ${row.name}`,
      contactId: conflict.contactId,
    });
    await tell(tx.client, { topic: 'syncs' });
  });
}
