import { movesWithDays, testsIn, type Condition } from '@gray-loom/core/segments';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import type { EventCause } from '../../db/schema';
import { tell } from '../../feed/events';
import { Refusal } from '../../http/refusal';
import { countConditions, readyCondition, today, wholeCondition } from '../contacts';
import { keepCounts, reviewMembers } from './statements/members';
import { allSegments, lockMembers, segmentOf, type SegmentRow } from './statements/segments';

/** Subjects whose changes are not in the feed: whoever asks for them is held against everybody now and then. */
const UNFED: ReadonlySet<string> = new Set(['@sync', '@duplicate', '@permission', '@overdue', '@complete']);
const UNFED_EVERY_MS = 5 * 60_000;

/** Why everybody has to be held against a segment now; null where nothing asks for it. */
function causeOf(row: SegmentRow, whole: Condition, day: string): EventCause | null {
  if (!row.reviewed_at) return 'condition';
  const tests = testsIn(whole);
  if (row.reviewed_for !== day && tests.some(movesWithDays)) return 'day';
  const isOld = Date.now() - row.reviewed_at.getTime() > UNFED_EVERY_MS;
  return isOld && tests.some(({ field }) => UNFED.has(field)) ? 'review' : null;
}

/** Holds everybody against one segment, where something asks for it. Gives how many entered and left. */
export async function reviewSegment(
  tx: Tx,
  id: number,
  day = today(),
): Promise<{ entered: number; left: number } | null> {
  const { client } = tx;
  await lockMembers(client);
  const [row] = (await segmentOf(client, id)).rows;
  if (!row) return null;
  const cause = causeOf(row, await wholeCondition(client, row.condition, [id]), day);
  if (!cause) return null;
  const values: unknown[] = [];
  const filter = {
    find: '',
    kind: row.kind,
    deleted: false,
    ...(await readyCondition(client, row.condition, { day, within: [id] })),
  };
  const parts = countConditions(filter, (value) => `$${values.push(value)}`);
  const moved = await reviewMembers(client, { ...parts, values }, { id, cause, day });
  await tell(client, { topic: 'segments' });
  return moved;
}

/** Every segment that was made or changed, that days have passed over, or that asks for what is not in the feed. */
export async function reviewSegments(database: Database, day = today()): Promise<void> {
  for (const row of (await allSegments(database.pool)).rows) {
    try {
      // Most ask for nothing, and nobody waits for them.
      const whole = await wholeCondition(database.pool, row.condition, [row.id]);
      if (causeOf(row, whole, day)) await inTransaction(database, (tx) => reviewSegment(tx, row.id, day));
    } catch (error) {
      // One that cannot be worked out says so where it is shown.
      if (!(error instanceof Refusal)) throw error;
    }
  }
  await keepCounts(database.pool, day);
}
