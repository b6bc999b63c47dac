import { msOfWhen, packActivity, undoActivity, unpackActivity, type Activity } from '@gray-loom/core/activity';
import { foldText } from '@gray-loom/core/fields';
import type { Tx } from '../db/connect';
import { appendChange } from '../feed/append-change';
import { insertActivities, lockActivities, stepsOfRun, updateActivities } from './statements/activities';

export interface NewActivity {
  contactId: number;
  activity: Activity;
  sourceRow?: number | null;
}

/** What the columns hold, by the names that they have in the database. */
function columnsOf(activity: Activity) {
  const { kind, at, who, isOpen, gone, what, quantity, amount, outsideId } = activity;
  return {
    kind,
    at: at === null ? null : new Date(msOfWhen(at)).toISOString(),
    who,
    is_open: isOpen,
    gone,
    what: foldText(what),
    quantity,
    amount: amount?.amount ?? null,
    currency: amount?.currency ?? null,
    outside_id: outsideId,
    record: packActivity(activity),
  };
}

/** Rows of one statement. */
const SLICE = 2000;

/** Writes activities that are new. Returns their ids in order. */
export async function addActivities(tx: Tx, runId: number, list: readonly NewActivity[]): Promise<number[]> {
  const ids: number[] = [];
  const holders = new Set<number>();
  for (let from = 0; from < list.length; from += SLICE) {
    const rows = list.slice(from, from + SLICE).map(({ contactId, activity, sourceRow = null }, place) => ({
      place,
      contact_id: contactId,
      source_row: sourceRow,
      ...columnsOf(activity),
    }));
    const made = await insertActivities(tx.client, runId, JSON.stringify(rows));
    for (const { id, holder_id } of made.rows) {
      ids.push(id);
      holders.add(holder_id);
    }
  }
  await appendChange(tx, { kind: 'activity', runId, contacts: [...holders] });
  return ids;
}

export interface LoadedActivity {
  id: number;
  version: number;
  contactId: number;
  holderId: number;
  activity: Activity;
}

/** Loads activities and locks them until the transaction ends, in order of id. */
export async function loadActivities(tx: Tx, ids: readonly number[]): Promise<Map<number, LoadedActivity>> {
  if (!ids.length) return new Map();
  const { rows } = await lockActivities(tx.client, [...new Set(ids)]);
  return new Map(
    rows.map(({ id, version, contact_id, holder_id, record }) => [
      id,
      { id, version, contactId: contact_id, holderId: holder_id, activity: unpackActivity(record) },
    ]),
  );
}

/** Writes what became of activities that the transaction has under lock. */
export async function changeActivities(
  tx: Tx,
  runId: number,
  changes: readonly { loaded: LoadedActivity; activity: Activity }[],
): Promise<void> {
  for (let from = 0; from < changes.length; from += SLICE)
    await updateActivities(
      tx.client,
      runId,
      JSON.stringify(
        changes.slice(from, from + SLICE).map(({ loaded, activity }) => ({
          id: loaded.id,
          version: loaded.version + 1,
          before: packActivity(loaded.activity),
          ...columnsOf(activity),
        })),
      ),
    );
  await appendChange(tx, {
    kind: 'activity',
    runId,
    contacts: [...new Set(changes.map(({ loaded }) => loaded.holderId))],
  });
}

export interface UndoneActivities {
  restored: number;
  removed: number;
  left: number;
}

/** Takes back what a run did to the next activities after `afterId`. Returns the last one done, or null where none was left. */
export async function undoActivities(
  tx: Tx,
  runId: number,
  undoRunId: number,
  afterId: number,
  limit: number,
  counts: UndoneActivities,
): Promise<number | null> {
  const { rows } = await stepsOfRun(tx.client, runId, afterId, limit);
  if (!rows.length) return null;
  const loaded = await loadActivities(
    tx,
    rows.map(({ id }) => id),
  );
  const changes: { loaded: LoadedActivity; activity: Activity }[] = [];
  for (const { id, made, before, after } of rows) {
    const now = loaded.get(id);
    if (!now) continue;
    const undone = undoActivity(now.activity, {
      before: made || !before ? null : unpackActivity(before),
      after: after ? unpackActivity(after) : now.activity,
    });
    if (undone.left.length) counts.left++;
    if (!undone.activity) continue;
    changes.push({ loaded: now, activity: undone.activity });
    if (undone.activity.gone && !now.activity.gone) counts.removed++;
    else counts.restored++;
  }
  await changeActivities(tx, undoRunId, changes);
  return rows[rows.length - 1]?.id ?? null;
}
