import {
  changedParts,
  contentKey,
  planArrivals,
  unpackActivity,
  type Activity,
  type Here,
} from '@gray-loom/core/activity';
import { ACTIVITY_COUNT } from '@gray-loom/wire';
import type { RowActivity } from '../../book/row-activity';
import { addActivities, changeActivities, loadActivities } from '../../book/activities';
import type { Queryable, Tx } from '../../db/connect';
import { activitiesByNumbers, activitiesOfContacts } from './statements/import-activities';

/** New ones by kind (`activity.gift`), changed ones, and those that are here already. */
export type ActivityCounts = Record<string, number>;

interface Planned {
  counts: ActivityCounts;
  fresh: { contactId: number | null; row: number; activity: Activity }[];
  changes: { id: number; activity: Activity }[];
}

const numberKey = ({ kind, outsideId }: Activity): string => `${kind}\n${outsideId}`;

/** What becomes of the activities that rows bring: each is new, changes one that came before under its number, or is here already. */
export async function planActivities(client: Queryable, rows: readonly RowActivity[]): Promise<Planned> {
  const planned: Planned = {
    counts: { activitiesChanged: 0, activitiesSame: 0 },
    fresh: [],
    changes: [],
  };
  if (!rows.length) return planned;
  const contactIds = [...new Set(rows.flatMap(({ contactId }) => contactId ?? []))];
  const numbers = [...new Set(rows.flatMap(({ activity }) => activity.outsideId || []))];
  const [ofContacts, byNumber] = await Promise.all([
    contactIds.length ? activitiesOfContacts(client, contactIds) : { rows: [] },
    numbers.length ? activitiesByNumbers(client, numbers) : { rows: [] },
  ]);
  const here = new Map<number, Here<number>[]>();
  for (const { id, holder_id, record } of ofContacts.rows)
    here.set(holder_id, [...(here.get(holder_id) ?? []), { id, activity: unpackActivity(record) }]);
  const numbered = new Map(
    byNumber.rows.map(({ id, record }) => [
      numberKey(unpackActivity(record)),
      { id, activity: unpackActivity(record) },
    ]),
  );
  // Those without a number are told among those of their contact; a number tells by itself.
  const groups = new Map<string, RowActivity[]>();
  for (const row of rows) {
    const key = row.activity.outsideId ? `#${numberKey(row.activity)}` : `${row.contactId ?? `row ${row.contactRow}`}`;
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  for (const group of groups.values()) {
    const [first] = group;
    if (!first) continue;
    const known = first.activity.outsideId
      ? [numbered.get(numberKey(first.activity))].flatMap((one) => one ?? [])
      : (here.get(first.contactId ?? 0) ?? []);
    const earlier = new Map<string, number>();
    for (const { activity, nth } of group) {
      const key = contentKey(activity);
      if (!activity.outsideId && !earlier.has(key)) earlier.set(key, nth - 1);
    }
    const arrivals = planArrivals(
      known,
      group.map(({ activity }) => activity),
      earlier,
    );
    const count = (key: string) => (planned.counts[key] = (planned.counts[key] ?? 0) + 1);
    arrivals.forEach((arrival, i) => {
      const row = group[i] ?? first;
      if (arrival.is === 'new') {
        count(`${ACTIVITY_COUNT}${arrival.activity.kind}`);
        planned.fresh.push({ contactId: row.contactId, row: row.row, activity: arrival.activity });
      } else if (arrival.is === 'changed') {
        count('activitiesChanged');
        planned.changes.push({ id: arrival.id, activity: arrival.activity });
      } else count('activitiesSame');
    });
  }
  return planned;
}

/** Writes the activities of a chunk of rows in its transaction. */
export async function writeActivities(tx: Tx, runId: number, rows: readonly RowActivity[]): Promise<ActivityCounts> {
  const { counts, fresh, changes } = await planActivities(tx.client, rows);
  const today = new Date().toISOString().slice(0, 10);
  await addActivities(
    tx,
    runId,
    fresh.flatMap(({ contactId, row, activity }) =>
      contactId === null
        ? []
        : [
            {
              contactId,
              sourceRow: row,
              // A remark is of the day on which it came, where the row says no other.
              activity: activity.kind === 'note' && activity.at === null ? { ...activity, at: today } : activity,
            },
          ],
    ),
  );
  const loaded = await loadActivities(
    tx,
    changes.map(({ id }) => id),
  );
  await changeActivities(
    tx,
    runId,
    changes.flatMap(({ id, activity }) => {
      const now = loaded.get(id);
      return now && changedParts(now.activity, activity).length ? [{ loaded: now, activity }] : [];
    }),
  );
  return counts;
}
