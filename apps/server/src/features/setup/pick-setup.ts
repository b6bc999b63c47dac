import type { KeptPick } from './many-change';
import { and, eq, sql } from 'drizzle-orm';
import { CUSTOM_PREFIX, foldText } from '@gray-loom/core/fields';
import { nearMisses } from '@gray-loom/core/quality';
import type { NewPickRequest, PickChange, PickMerge } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { customField, pick, type PickKind } from '../../db/schema';
import { tell } from '../../feed/events';
import { refusePick } from './refusals';
import { beginChange } from './change-contacts';
import { handThread, startRun } from '../../runs/runs';
import { namedInRemits, renameInRemits } from '../../book/renamed-remits';
import { renameReferences } from '../../book/renamed-picks';
import { addFormerNames, countWithPick, forgetFormerName, orderPicksBy } from './statements/pick-setup';

const NAMES: Record<PickKind, string> = { source: 'source', tag: 'tag', stage: 'stage' };
const FIELD_OF: Record<PickKind, string> = { source: 'source', tag: 'tags', stage: 'stage' };

const keyOf = (label: string) => foldText(label) || label;

async function findPick(tx: Tx, kind: PickKind, label: string): Promise<KeptPick | null> {
  const [found] = await tx.db
    .select()
    .from(pick)
    .where(and(eq(pick.kind, kind), eq(pick.label, label)))
    .for('update');
  if (!found) return null;
  const { id: _id, ...kept } = found;
  return kept;
}

/** Asks once before there are two of what may be one. */
async function refuseNearMiss(tx: Tx, { kind, label }: { kind: PickKind; label: string }): Promise<void> {
  const here = await tx.db.select({ label: pick.label }).from(pick).where(eq(pick.kind, kind));
  const [near] = nearMisses(
    label,
    here.map((one) => one.label),
  );
  if (near) throw refusePick.nearMiss({ kind: NAMES[kind], label, like: near.label, field: 'label' });
}

/** Makes a value of a pick-list, before anybody has it. */
export async function createPick(database: Database, { despite, ...request }: NewPickRequest): Promise<void> {
  await inTransaction(database, async (tx) => {
    const key = keyOf(request.label);
    const [taken] = await tx.db
      .select()
      .from(pick)
      .where(and(eq(pick.kind, request.kind), eq(pick.foldKey, key)));
    if (taken) throw refusePick.nameTaken({ kind: NAMES[request.kind], label: taken.label, field: 'label' });
    if (!despite) await refuseNearMiss(tx, request);
    const [last] = await tx.db
      .select({ n: sql<number>`coalesce(max(${pick.ordinal}), 0)::int` })
      .from(pick)
      .where(eq(pick.kind, request.kind));
    await tx.db.insert(pick).values({ ...request, foldKey: key, ordinal: (last?.n ?? 0) + 1 });
    // From now on the name means this one.
    await forgetFormerName(tx.client, request.kind, key);
    await tell(tx.client, { topic: 'setup' });
  });
}

/** Changes meaning or colour of a value, which touches no contact. */
export async function changePick(database: Database, kind: PickKind, label: string, change: PickChange): Promise<void> {
  await inTransaction(database, async (tx) => {
    if (!(await findPick(tx, kind, label))) throw refusePick.noSuchPick({ kind: NAMES[kind], label });
    // A change of nothing is none.
    if (!Object.keys(change).length) return;
    await tx.db
      .update(pick)
      .set(change)
      .where(and(eq(pick.kind, kind), eq(pick.label, label)));
    await tell(tx.client, { topic: 'setup' });
  });
}

/** Puts the values of a list in order. Values that are not named keep their place behind. */
export async function orderPicks(database: Database, kind: PickKind, labels: readonly string[]): Promise<void> {
  await inTransaction(database, async (tx) => {
    await orderPicksBy(tx.client, kind, labels);
    await tell(tx.client, { topic: 'setup' });
  });
}

/** Takes a value away that nobody has. */
export async function dropPick(database: Database, kind: PickKind, label: string): Promise<void> {
  await inTransaction(database, async (tx) => {
    const { rows } = await countWithPick(tx.client, kind, label);
    const n = rows[0]?.n ?? 0;
    if (n > 0) throw refusePick.inUse({ kind: NAMES[kind], label, count: n });
    await tx.db.delete(pick).where(and(eq(pick.kind, kind), eq(pick.label, label)));
    await tell(tx.client, { topic: 'setup' });
  });
}

/**
 * Makes one value of two everywhere, or gives a value another name where `into` is new. One run: at once for few
 * contacts, as a job for many, and taken back as a whole.
 */
export async function mergePicks(
  database: Database,
  { list, from, into, despite }: PickMerge,
): Promise<{ runId: number; finished: boolean }> {
  if (from === into) throw refusePick.sameValue();
  return inTransaction(database, async (tx) => {
    const field = list.startsWith(CUSTOM_PREFIX) ? list : FIELD_OF[list as PickKind];
    if (!field) throw refusePick.noSuchList();
    const { dropped, renames } = list.startsWith(CUSTOM_PREFIX)
      ? await mergeChoices(tx, list, from, into)
      : await mergeListed(tx, list as PickKind, from, into);
    if (!renames && !despite) {
      const [first] = await namedInRemits(tx, field, from);
      if (first) throw refusePick.inRemit({ label: from, into, account: first });
    }
    const runId = await startRun(tx, {
      kind: 'pickMerge',
      state: 'running',
      threadId: await handThread(tx),
      title: renames ? `${from} is now called ${into}` : `${from} merged into ${into}`,
    });
    const before = await renameReferences(tx, { field, from, into });
    const remits = await renameInRemits(tx, { field, from, into });
    const finished = await beginChange(tx, runId, {
      kind: 'pick',
      field,
      from,
      into,
      dropped,
      ...(renames ? {} : { before, remits }),
    });
    return { runId, finished };
  });
}

async function mergeListed(tx: Tx, kind: PickKind, from: string, into: string) {
  const dropped = await findPick(tx, kind, from);
  if (!dropped) throw refusePick.noSuchPick({ kind: NAMES[kind], label: from });
  const target = await findPick(tx, kind, into);
  const formerly = [...dropped.formerly, dropped.foldKey];
  if (target) {
    await addFormerNames(tx.client, kind, into, formerly);
    return { dropped, renames: false };
  }
  // Another writing of the same value has the same key, so the row itself takes the new name.
  if (keyOf(into) === dropped.foldKey) {
    await tx.db
      .update(pick)
      .set({ label: into })
      .where(and(eq(pick.kind, kind), eq(pick.label, from)));
    return { dropped: null, renames: true };
  }
  const [taken] = await tx.db
    .select()
    .from(pick)
    .where(and(eq(pick.kind, kind), eq(pick.foldKey, keyOf(into))));
  if (taken) throw refusePick.intoTaken({ kind: NAMES[kind], label: taken.label, field: 'into' });
  await tx.db.insert(pick).values({ ...dropped, label: into, foldKey: keyOf(into), formerly });
  await forgetFormerName(tx.client, kind, keyOf(into));
  return { dropped, renames: true };
}

async function mergeChoices(tx: Tx, list: string, from: string, into: string) {
  const id = Number(list.slice(CUSTOM_PREFIX.length));
  const [field] = await tx.db.select().from(customField).where(eq(customField.id, id)).for('update');
  if (!field?.choices.includes(from)) throw refusePick.noSuchPick({ kind: 'choice', label: from });
  const renames = !field.choices.includes(into);
  const choices = renames
    ? field.choices.map((choice) => (choice === from ? into : choice))
    : field.choices.filter((choice) => choice !== from);
  await tx.db.update(customField).set({ choices }).where(eq(customField.id, id));
  return { dropped: null, renames };
}
