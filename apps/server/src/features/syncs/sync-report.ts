import { displayNameOf, showValue, type Catalogue } from '@gray-loom/core/fields';
import { applyOperations, type ContactRecord } from '@gray-loom/core/model';
import {
  itemsOf,
  LABELS,
  outsideField,
  planPair,
  project,
  takesPart,
  type Link,
  type OutsideRecord,
  type OutsideValue,
  type SyncContext,
  type SyncLine,
  type WhyNot,
  withMadeFields,
} from '@gray-loom/core/syncing';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import type { ContactSync, PairLook, PairRequest, SyncChangeEntry } from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import type { Database } from '../../db/connect';
import { connection } from '../../db/schema';
import { settingsOf, requireConnection, type ConnectionRow, type SyncServices } from './connections';
import { loadCatalogue, PickLists } from '../../book/picks';
import { nameThere } from './sync-changes';
import { DatabaseSyncStore } from './sync-store';
import {
  pageOfChanges,
  countChanges,
  changesAfter,
  changesOfContact,
  nthInStep,
  type ChangeRow,
} from './statements/sync-report';

const entryOf = (row: ChangeRow): SyncChangeEntry => ({
  id: row.id,
  runId: row.run_id,
  connection: row.connection,
  outsideId: row.outside_id,
  contactId: row.contact_id,
  name: row.name,
  side: row.side,
  field: row.field,
  kind: row.kind,
  before: row.before,
  after: row.after,
  at: row.at.toISOString(),
});

/** What a run did, or a trial would do, a page at a time. */
export async function syncChanges(
  { pool }: Database,
  runId: number,
  {
    after,
    side,
    kind,
    limit,
    changes = false,
  }: { after: number; side: string; kind: string; limit: number; changes?: boolean },
): Promise<{ changes: SyncChangeEntry[]; total: number }> {
  const where =
    `s.run_id = $1 and ($2 = '' or s.side = $2) and ($3 = '' or s.kind = $3)` +
    (changes ? ` and (s.field <> '' or s.kind in ('madeHere', 'madeThere', 'removedThere'))` : '');
  const [{ rows }, total] = await Promise.all([
    pageOfChanges(pool, runId, side, kind, after, limit, where),
    countChanges(pool, runId, side, kind, where),
  ]);
  return { changes: rows.map(entryOf), total: total.rows[0]?.n ?? 0 };
}

export const valueText = ({ v, label }: OutsideValue): string =>
  `${typeof v === 'string' ? v : showValue('adr', { v })}${label ? ` (${label})` : ''}`;

/** The report of a run as a table to take along. */
export async function* syncReport({ pool }: Database, runId: number): AsyncGenerator<string> {
  const line = (cells: string[]) => writeDelimitedLine(cells, ',');
  yield `\ufeff${line(['Time', 'Connection', 'Contact', 'Id here', 'Id there', 'Side', 'What', 'Field', 'Before', 'After'])}`;
  for (let after = 0; ;) {
    const { rows } = await changesAfter(pool, runId, after);
    if (!rows.length) return;
    for (const row of rows)
      yield line([
        row.at.toISOString(),
        row.connection,
        row.name,
        row.contact_id ? String(row.contact_id) : '',
        row.outside_id,
        row.side,
        row.kind,
        row.field,
        row.before.map(valueText).join('; '),
        row.after.map(valueText).join('; '),
      ]);
    after = rows.at(-1)?.id ?? after;
  }
}

const WHY_NOT: Record<WhyNot, string> = {
  never: 'Somebody said that this contact never takes part.',
  deleted: 'The contact is deleted here.',
  organization: 'Only people take part, and this is an organization.',
  noScope: 'Nothing of what decides who takes part fits.',
};
const APART: Record<string, string> = {
  goneThere: 'The record over there was deleted, and it is not made again.',
  goneHere: 'The contact was deleted here; its record stays over there, no longer in step.',
  left: 'The contact does not take part any more; its record over there is no longer in step.',
  merged: 'The contact was merged into another one, which has a record over there.',
  person: 'Somebody took this contact out.',
  refused: 'The other side did not take the record.',
  unreadable: 'The record over there cannot be read.',
  shared: 'Somebody else with this address has its record over there; there is one for each address.',
};

function storeOf(database: Database, row: ConnectionRow, catalogue: Catalogue, picks: PickLists, context: SyncContext) {
  return new DatabaseSyncStore(database, {
    connectionId: row.id,
    connectionName: row.name,
    threadId: row.threadId,
    setup: row.setup,
    capabilities: row.capabilities,
    catalogue,
    picks,
    context,
    runId: 0,
    lease: { runId: 0, holder: '' },
  });
}

/** Who has the record that somebody waits for, in words; nothing where nobody is known to. */
async function whoHas(store: DatabaseSyncStore, { waitsFor }: Link): Promise<string> {
  const holder = waitsFor === null ? undefined : (await store.links([waitsFor])).get(waitsFor);
  const person = holder && (await store.people([holder.contactId])).get(holder.contactId);
  return person && holder.state === 'linked'
    ? `${displayNameOf(person.record)} has the record of ${waitsFor} over there; there is one for each address.`
    : '';
}

/** How one contact stands with every connection, and what happened to it: why it takes part, or does not. */
export async function contactSyncs(database: Database, contactId: number, country: string): Promise<ContactSync[]> {
  const rows = await database.db.select().from(connection).orderBy(connection.id);
  if (!rows.length) return [];
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const context: SyncContext = { catalogue, country };
  const result: ContactSync[] = [];
  for (const row of rows) {
    const store = storeOf(database, row, catalogue, picks, context);
    const person = (await store.people([contactId])).get(contactId);
    if (!person) continue;
    const links = await store.linksOf([person.id]);
    const link =
      links.find(({ state }) => state === 'linked' || state === 'making') ??
      links.find(({ waitsFor }) => waitsFor !== null) ??
      links[0];
    const stopped = row.state === 'stopped';
    if (stopped && !link) continue;
    const verdict = takesPart(row.setup.scopes, { ...person, theirs: link?.seen ?? null });
    const inStep = link?.state === 'linked' || link?.state === 'making';
    const why = stopped
      ? 'This connection is stopped; what is on both sides stays as it is.'
      : !verdict.takesPart
        ? WHY_NOT[verdict.why]
        : link?.unreadable
          ? `${link.unreadable} It is left as it is until it is mended over there.`
          : link?.notTaken
            ? `Not taken over there: ${link.notTaken} It is tried again with every run.`
            : inStep
              ? `In step with ${nameThere(link.seen, catalogue) || 'a record'} over there.`
              : link?.apart
                ? (await whoHas(store, link)) || (APART[link.apart] ?? '')
                : row.setup.newThere || person.choice === 'send'
                  ? 'Takes part; the next run makes the record over there.'
                  : 'Would take part, but nobody who is only here is made over there. Send this contact by hand if it should be.';
    const { rows: story } = await changesOfContact(
      database.pool,
      row.id,
      contactId,
      links.map((one) => one.contactId),
    );
    const since = story.findLast(({ kind }) => ['linked', 'madeHere', 'madeThere'].includes(kind));
    result.push({
      connectionId: row.id,
      connection: row.name,
      look: row.look,
      tool: row.kind,
      takesPart: verdict.takesPart && inStep && !stopped && !link.notTaken && !link.unreadable,
      stopped,
      why,
      choice: person.choice,
      outsideId: inStep ? link.outsideId : null,
      canCallNext: inStep && !stopped && row.capabilities.canCallNext === true && !person.stopped.includes('call'),
      linkedSince: since ? since.at.toISOString() : null,
      story: story.map(entryOf),
    });
  }
  return result;
}

/** A real pair of records shown through a mapping as it is edited; nothing is kept. */
export async function lookAtPair(
  services: SyncServices & { country: string },
  id: number,
  { lines, nth }: PairRequest,
): Promise<PairLook> {
  const { database } = services;
  const kept = await requireConnection(database, id);
  const row = {
    ...kept,
    capabilities: withMadeFields(
      kept.capabilities,
      lines.map(({ outside }) => outside),
    ),
  };
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const context: SyncContext = { catalogue, country: services.country };
  const store = storeOf(database, row, catalogue, picks, context);
  const { rows } = await nthInStep(database.pool, id, nth);
  let theirs: OutsideRecord | undefined = rows[0]?.seen;
  let contactId: number | null = rows[0]?.contact_id ?? null;
  if (!theirs) {
    const tool = connectorsFor(services.standIns)[row.kind].open(row.place, settingsOf(row, services.secretKey));
    const { changed } = await tool.changes(null);
    const [read] = await tool.read(changed.slice(nth, nth + 1).map((one) => one.id));
    theirs = read;
    if (read) {
      const [who] = await store.identify([read]);
      contactId = who?.who === 'one' ? who.contactId : who?.who === 'ask' ? (who.contactIds[0] ?? null) : null;
    }
  }
  if (!theirs) return { name: '', contactId: null, more: false, lines: [] };
  const person = contactId === null ? undefined : (await store.people([contactId])).get(contactId);
  const record: ContactRecord = person?.record ?? { n: 1, f: {} };
  const plan = planPair({
    id: person?.id ?? 0,
    record,
    stopped: [],
    changedAtMs: person?.changedAtMs ?? (() => 0),
    theirs,
    base: null,
    lines,
    capabilities: row.capabilities,
    context,
    clock: { aheadMs: 0, errorMs: 2000 },
    run: 0,
  });
  const applied = applyOperations(record, plan.operations);
  const after = applied.ok ? applied.value : record;
  return {
    name: nameThere(theirs, catalogue),
    contactId: person?.id ?? null,
    more: true,
    lines: lines.map((line) => lookOf(line, { record, after, theirs, plan, row, context })),
  };
}

function lookOf(
  line: SyncLine,
  of: {
    record: ContactRecord;
    after: ContactRecord;
    theirs: OutsideRecord;
    plan: ReturnType<typeof planPair>;
    row: ConnectionRow;
    context: SyncContext;
  },
): PairLook['lines'][number] {
  const { record, after, theirs, plan, row, context } = of;
  const field = outsideField(line, row.capabilities.fields);
  const texts = (values: readonly OutsideValue[]) => values.map(valueText);
  if (line.outside === LABELS) {
    const stageLabels = new Set(Object.values(line.stageLabels ?? {}).map((label) => label.toLowerCase()));
    const isStage = Boolean(line.stageLabels);
    const others = new Set(
      row.setup.lines.flatMap((one) => Object.values(one.stageLabels ?? {})).map((label) => label.toLowerCase()),
    );
    const there = theirs.labels.filter((label) =>
      isStage ? stageLabels.has(label.toLowerCase()) : !others.has(label.toLowerCase()),
    );
    const shown = (from: ContactRecord) => (from.f[line.field] ?? []).map((value) => showValue(line.field, value));
    return verdictOf(
      line,
      plan,
      { here: shown(record), there, after: shown(after) },
      shown(record).join() === there.join(),
    );
  }
  const shown = (from: ContactRecord) => project(from, line, { ...field, most: Infinity }, context);
  const items = itemsOf(theirs.fields[line.outside] ?? [], line, field, context);
  const ours = new Set(shown(record).map(({ key }) => key));
  const valuesOf = (list: readonly { outside: OutsideValue }[]) => texts(list.map(({ outside }) => outside));
  return verdictOf(
    line,
    plan,
    { here: valuesOf(shown(record)), there: valuesOf(items), after: valuesOf(shown(after)) },
    ours.size === items.length && items.every(({ key }) => ours.has(key)),
  );
}

function verdictOf(
  line: SyncLine,
  plan: ReturnType<typeof planPair>,
  texts: { here: string[]; there: string[]; after: string[] },
  isSame: boolean,
): PairLook['lines'][number] {
  const sides = new Set(plan.changes.filter((change) => change.line === line.id).map(({ side }) => side));
  const settled = isSame ? ('same' as const) : ('left' as const);
  const moved = sides.size === 2 ? ('both' as const) : sides.has('here') ? ('in' as const) : ('out' as const);
  const verdict = plan.conflicts.some((conflict) => conflict.line === line.id)
    ? ('ask' as const)
    : sides.size
      ? moved
      : settled;
  return { id: line.id, ...texts, verdict };
}
