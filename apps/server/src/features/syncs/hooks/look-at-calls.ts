import { eq } from 'drizzle-orm';
import type { Calls } from '@gray-loom/wire';
import type { Database } from '../../../db/connect';
import { hookState } from '../../../db/schema';
import { requireConnection } from '../connections';
import { latestCalls, openCalls } from '../statements/hooks';

/** Calls that are shown, the latest first. */
const SHOWN = 50;
const KINDS = ['records', 'pushed', 'results'];

/** What a tool called for lately, and how many calls were not believed. */
export async function lookAtCalls({ db, pool }: Database, id: number): Promise<Calls> {
  await requireConnection({ db }, id);
  const [state] = await db.select().from(hookState).where(eq(hookState.connectionId, id));
  const [calls, open] = [await latestCalls(pool, id, SHOWN), await openCalls(pool, id, KINDS)];
  return {
    url: state?.url ?? null,
    falseCount: state?.falseCount ?? 0,
    lastFalse: state?.lastFalse ?? null,
    lastFalseAt: state?.lastFalseAt?.toISOString() ?? null,
    waiting: open.rows.length,
    calls: calls.rows.map(({ at, run_id, ...call }) => ({ ...call, at: at.toISOString(), runId: run_id })),
  };
}
