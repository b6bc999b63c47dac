import { eq, sql } from 'drizzle-orm';
import {
  applyOperations,
  invertOperations,
  LIFECYCLE,
  lifecycleOf,
  sameContent,
  undoWherePossible,
  withoutUndone,
  type ContactRecord,
  type HistoryStep,
  type Operation,
} from '@gray-loom/core/model';
import { seesPart } from '../../db/actor';
import { inTransaction, wholeBook, type Database, type Tx } from '../../db/connect';
import { operation, run } from '../../db/schema';
import type { EditChoice, UndoPreview } from '@gray-loom/wire';
import { appendChange } from '../../feed/append-change';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import type { RunKinds, UndoTarget } from '../../runs/kind';
import { enqueueRun, finishRun, handThread, startRun } from '../../runs/runs';
import { editsSinceMerge, giveEdits, readEdits } from './undo-edits';
import { undoActivities } from '../../book/activities';
import { countStepsOfRun } from '../../book/statements/activities';
import { applyChanges, lockContacts, type ContactChange } from '../../book/write-contacts';
import { appendLeft } from '../../runs/statements/append-left';
import { mayTakeBack } from './ledger';
import { countElsewhere } from './statements/ledger';
import { countContacts } from './statements/operations';
import {
  operationsOfRun,
  operationsAfter,
  operationsBefore,
  nextContacts,
  shareStopsOf,
  recordsOfRun,
  runsOfImport,
} from './statements/undo-run';

/** Undoing up to this many operations happens at once; more become a job. */
const INLINE_LIMIT = 1000;
interface RunRow {
  id: number;
  kind: string;
  state: string;
  title: string;
  undoneBy: number | null;
  undoOf: number | null;
}

async function requireUndoable(tx: Tx, kinds: RunKinds, runId: number): Promise<RunRow> {
  const [found] = await tx.db
    .select({
      id: run.id,
      kind: run.kind,
      state: run.state,
      title: run.title,
      undoneBy: run.undoneBy,
      undoOf: run.undoOf,
    })
    .from(run)
    .where(eq(run.id, runId))
    .for('update');
  if (!found) throw refuse.noSuchRun();
  if (!kinds.find(found.kind)?.undo) throw refuse.nothingToUndo({ title: found.title });
  if (found.state === 'queued' || found.state === 'running') throw refuse.stillRunning({ title: found.title });
  if (found.undoneBy) throw refuse.alreadyUndone({ title: found.title });
  return found;
}

/** Refuses to take back what touched contacts outside the remit of whoever asks: all of a run goes back, or nothing. */
async function requireInSight({ db, pool, actor }: Database, runId: number): Promise<void> {
  if (!seesPart(actor)) return;
  const [found] = await db.select({ kind: run.kind, actorId: run.actorId }).from(run).where(eq(run.id, runId));
  if (!found) throw refuse.noSuchRun();
  if (mayTakeBack(actor, found)) return;
  for (const id of [runId, ...(await runsOfImport(pool, runId)).rows.map((later) => later.id)]) {
    const { rows } = await countElsewhere(pool, id);
    if (rows[0]?.n) throw refuse.outsideRemit({ count: rows[0].n });
  }
}

/** Takes a run back, at once or as a job when it is large. Returns the id of the run that does it. */
export async function undoRun(
  database: Database,
  kinds: RunKinds,
  runId: number,
  edits: readonly EditChoice[] = [],
): Promise<{ undoRunId: number; finished: boolean }> {
  await requireInSight(database, runId);
  return inTransaction(wholeBook(database), async (tx) => {
    const target = await requireUndoable(tx, kinds, runId);
    // Rows of an import that were let in later belong to it, as does the giving out of its people; they go first.
    const { rows: later } = await runsOfImport(tx.client, runId);
    for (const { id } of later) await undoInTransaction(tx, kinds, await requireUndoable(tx, kinds, id), []);
    return undoInTransaction(tx, kinds, target, edits);
  });
}

async function undoInTransaction(
  tx: Tx,
  kinds: RunKinds,
  target: RunRow,
  edits: readonly EditChoice[],
): Promise<{ undoRunId: number; finished: boolean }> {
  const runId = target.id;
  const given = await readEdits(tx, runId, edits);
  const size =
    (
      await tx.db
        .select({ n: sql<number>`count(*)::int` })
        .from(operation)
        .where(eq(operation.runId, runId))
    )[0]?.n ?? 0;
  const activities = (await countStepsOfRun(tx.client, runId)).rows[0]?.n ?? 0;
  const inline = size + activities <= INLINE_LIMIT;
  const title = target.kind === 'undo' ? `Took back: ${target.title}` : `Undid: ${target.title}`;
  const undoRunId = await startRun(tx, {
    kind: 'undo',
    state: inline ? 'running' : 'queued',
    threadId: await handThread(tx),
    title,
    undoOf: runId,
  });
  await tx.db.update(run).set({ undoneBy: undoRunId }).where(eq(run.id, runId));
  if (!inline) {
    await enqueueRun(tx, undoRunId);
    return { undoRunId, finished: false };
  }
  const counts = { restored: 0, removed: 0, left: 0 };
  await undoBatch(tx, runId, undoRunId, 0, INLINE_LIMIT, counts);
  await undoActivities(tx, runId, undoRunId, 0, INLINE_LIMIT, counts);
  await giveEdits(tx, undoRunId, given);
  await undoDecisions(tx, kinds, target);
  await finishRun(tx, undoRunId, 'done', counts);
  return { undoRunId, finished: true };
}

export interface UndoCounts {
  restored: number;
  removed: number;
  left: number;
}

interface RunOperations {
  created: boolean;
  firstVersion: number;
  lastVersion: number;
  /** What others did to the contact since, oldest first; only looked up for contacts the run made. */
  since: Operation[];
  /** What happened to it before, oldest first; only looked up where something of its history was taken back. */
  before: HistoryStep[];
  operations: Operation[];
}

/** `with` are runs that go back before it, so that what they did does not stand in its way. */
async function operationsOf(
  tx: Tx,
  runId: number,
  ids: readonly number[],
  { with: others = [] }: { with?: readonly number[] } = {},
): Promise<Map<number, RunOperations>> {
  const { rows } = await operationsOfRun(tx.client, runId, ids);
  const byContact = new Map<number, RunOperations>();
  for (const row of rows) {
    const one = byContact.get(row.contact_id) ?? {
      created: false,
      firstVersion: row.version,
      lastVersion: 0,
      since: [],
      before: [],
      operations: [],
    };
    one.lastVersion = row.version;
    if (row.changes === null) one.created = true;
    else one.operations.push(...row.changes.map((change) => ({ ...change, target: row.contact_id })));
    byContact.set(row.contact_id, one);
  }
  const made = [...byContact].filter(([, of]) => of.created);
  const later = await operationsAfter(
    tx.client,
    made.map(([id]) => id),
    made.map(([, of]) => of.lastVersion),
    others,
  );
  for (const { contact_id: target, changes } of later.rows) {
    byContact.get(target)?.since.push(...(changes ?? []).map((change) => ({ ...change, target })));
  }
  await lookUpBefore(tx, runId, byContact);
  return byContact;
}

/**
 * Histories of those contacts to which something was done before that has been taken back by now. What the run itself took back
 * stands again once the run is taken back; a run that brought another one back (by taking back its undo) stands only while that one does.
 */
async function lookUpBefore(tx: Tx, runId: number, byContact: Map<number, RunOperations>): Promise<void> {
  const changed = [...byContact].filter(([, of]) => !of.created);
  const { rows } = await operationsBefore(
    tx.client,
    changed.map(([id]) => id),
    changed.map(([, of]) => of.firstVersion),
    runId,
  );
  for (const { contact_id: target, undone, changes } of rows)
    byContact
      .get(target)
      ?.before.push({ undone, operations: (changes ?? []).map((change) => ({ ...change, target })) });
}

/** Whether anything that others did to a new contact still stands; an edit that was itself taken back does not count. */
function isTouched(record: ContactRecord, since: readonly Operation[]): boolean {
  if (since.length === 0) return false;
  const before = applyOperations(record, invertOperations(since));
  return !before.ok || !sameContent(before.value.f, record.f);
}

/** What taking one contact's operations back means now: operations to apply, and how many values must stay as they are. */
function planUndo(
  contactId: number,
  record: ContactRecord,
  of: RunOperations,
  undoRunId: number,
): { operations: Operation[]; left: number; removed: boolean } {
  if (of.created) {
    if (lifecycleOf(record)) return { operations: [], left: 0, removed: false };
    if (isTouched(record, of.since)) return { operations: [], left: 1, removed: false };
    const gone: Operation = {
      target: contactId,
      field: LIFECYCLE,
      slot: 0,
      before: null,
      after: { slot: 0, v: { state: 'deleted' }, run: undoRunId },
    };
    return { operations: [gone], left: 0, removed: true };
  }
  const { applied, left } = undoWherePossible(record, of.operations);
  return { operations: withoutUndone(applied, of.before), left: left.length, removed: false };
}

/** Undoes a run on the next contacts after `afterId`. Returns the last contact done, or null when none was left. */
export async function undoBatch(
  tx: Tx,
  runId: number,
  undoRunId: number,
  afterId: number,
  limit: number,
  counts: UndoCounts,
): Promise<number | null> {
  const next = await nextContacts(tx.client, runId, afterId, limit);
  const ids = next.rows.map((row) => row.contact_id);
  if (ids.length === 0) return null;
  const byContact = await operationsOf(tx, runId, ids);
  const contacts = await lockContacts(tx, ids);
  const changes: ContactChange[] = [];
  const leftDetail: { contactId: number; values: number }[] = [];
  for (const [contactId, of] of byContact) {
    const contact = contacts.get(contactId);
    if (!contact) continue;
    const plan = planUndo(contactId, contact.record, of, undoRunId);
    if (plan.operations.length) {
      changes.push({ contactId, operations: plan.operations });
      if (plan.removed) counts.removed++;
      else counts.restored++;
    }
    counts.left += plan.left;
    if (plan.left) leftDetail.push({ contactId, values: plan.left });
  }
  await shareStops(
    tx,
    runId,
    undoRunId,
    changes.map(({ contactId }) => contactId),
  );
  await applyChanges(tx, undoRunId, changes, { evenGone: true });
  if (leftDetail.length) {
    await appendLeft(tx.client, undoRunId, leftDetail);
  }
  return ids[ids.length - 1] ?? null;
}

/**
 * Whoever said stop while two records were one said it for both: contacts that are given back by the undo of a merge take
 * along what was closed since. Has to run before they are given back.
 */
async function shareStops(tx: Tx, runId: number, undoRunId: number, contactIds: readonly number[]): Promise<void> {
  const { rows } = await shareStopsOf(tx.client, runId, contactIds);
  await appendChange(tx, { kind: 'permission', runId: undoRunId, contacts: [...new Set(rows.map(({ id }) => id))] });
}

/** What hangs on a run beside the values it wrote, as its kind says. */
export async function undoDecisions(tx: Tx, kinds: RunKinds, target: UndoTarget): Promise<void> {
  let kind = target.kind;
  if (target.kind === 'undo' && target.undoOf) {
    await tx.db.update(run).set({ undoneBy: null }).where(eq(run.id, target.undoOf));
    const [original] = await tx.db.select({ kind: run.kind }).from(run).where(eq(run.id, target.undoOf));
    kind = original?.kind ?? kind;
  }
  await kinds.find(kind)?.undo?.also?.(tx, target);
  await tell(tx.client, { topic: 'groups' });
}

/** Contacts looked at in one go of a look before an undo. */
const LOOKED_AT = 2000;

/**
 * What undoing would and would not bring back, without doing it: for the next contacts after `after`. Whoever asks again from `next`
 * on has exact numbers of all, and sees how far it is.
 */
export async function previewUndo(database: Database, runId: number, after = 0): Promise<UndoPreview> {
  return inTransaction(database, async (tx) => {
    const total = (await countContacts(tx.client, runId)).rows[0]?.n ?? 0;
    const rows = await recordsOfRun(tx.client, runId, after, LOOKED_AT);
    const byContact = await operationsOf(
      tx,
      runId,
      rows.map((row) => row.id),
      { with: (await runsOfImport(tx.client, runId)).rows.map(({ id }) => id) },
    );
    const next = rows.length < LOOKED_AT ? null : (rows.at(-1)?.id ?? null);
    const preview: UndoPreview = {
      contacts: total,
      looked: rows.length,
      next,
      removes: 0,
      restores: 0,
      leaves: 0,
      activities: after === 0 ? ((await countStepsOfRun(tx.client, runId)).rows[0]?.n ?? 0) : 0,
      examples: [],
      edits: [],
    };
    for (const row of rows) {
      const of = byContact.get(row.id);
      if (!of) continue;
      const plan = planUndo(row.id, row.record, of, 0);
      if (plan.removed) preview.removes++;
      else if (plan.operations.length) preview.restores++;
      if (plan.left) {
        preview.leaves++;
        if (preview.examples.length < 10) preview.examples.push({ contactId: row.id, name: row.display_name });
      }
    }
    const [target] = await tx.db.select({ kind: run.kind }).from(run).where(eq(run.id, runId));
    if (target?.kind === 'merge' && after === 0) preview.edits = await editsSinceMerge(tx, runId);
    return preview;
  });
}
