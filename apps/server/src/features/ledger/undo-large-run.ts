import { eq } from 'drizzle-orm';
import { undoActivities } from '../../book/activities';
import { countStepsOfRun } from '../../book/statements/activities';
import { inTransaction, wholeBook } from '../../db/connect';
import { run } from '../../db/schema';
import { finishRun } from '../../runs/runs';
import { undoBatch, undoDecisions, type UndoCounts } from './undo-run';
import type { RunContext, RunKinds } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { countContacts } from './statements/operations';
import { keepPlace } from '../../runs/statements/keep-place';

const BATCH = 2000;

/** What of a run is taken back, in this order. */
const PARTS = ['contacts', 'activities'] as const;
type Part = (typeof PARTS)[number];
const UNDO: Record<Part, typeof undoBatch> = { contacts: undoBatch, activities: undoActivities };

/** Takes a large run back in chunks that are each one transaction; goes on after the last contact done when it was interrupted. */
export async function undoLargeRun(
  { database: own, run: undo, lease, leaseMs }: RunContext,
  kinds: RunKinds,
): Promise<void> {
  // Whoever asked for it sees all that it touches; that was looked at before.
  const database = wholeBook(own);
  const [target] = undo.undoOf
    ? await database.db
        .select({ id: run.id, kind: run.kind, undoOf: run.undoOf })
        .from(run)
        .where(eq(run.id, undo.undoOf))
    : [];
  if (!target) throw new Error(`run ${lease.runId} undoes nothing`);
  const counts: UndoCounts = { restored: 0, removed: 0, left: 0, ...undo.counts };
  const detail = undo.detail as { afterId?: number; part?: Part };
  const [contacts, activities] = await Promise.all([
    countContacts(database.pool, target.id),
    countStepsOfRun(database.pool, target.id),
  ]);
  const total = (contacts.rows[0]?.n ?? 0) + (activities.rows[0]?.n ?? 0);
  // Contacts first, so that their activities stand with them while they go.
  for (const part of PARTS.slice(PARTS.indexOf(detail.part ?? 'contacts'))) {
    let afterId = part === detail.part ? (detail.afterId ?? 0) : 0;
    for (;;) {
      const last = await inTransaction(database, async (tx) => {
        const done = await UNDO[part](tx, target.id, lease.runId, afterId, BATCH, counts);
        if (done !== null) await keepPlace(tx.client, lease.runId, done, part);
        await markProgress(
          tx,
          lease,
          { done: Math.min(total, counts.removed + counts.restored + counts.left), total },
          { ...counts },
          leaseMs,
        );
        return done;
      });
      if (last === null) break;
      afterId = last;
    }
  }
  await inTransaction(database, async (tx) => {
    await undoDecisions(tx, kinds, target);
    await finishRun(tx, lease.runId, 'done', { ...counts });
  });
}
