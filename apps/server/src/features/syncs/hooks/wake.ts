import { inTransaction, type Database, type Tx } from '../../../db/connect';
import { Refusal } from '../../../http/refusal';
import { requireConnection, type ConnectionRow } from '../connections';
import { startResults } from '../results/start-results';
import { callIn } from '../start-sync';
import { connectionsWithCalls } from '../statements/hooks';

/** Calls within this time have one run begun. */
const TOGETHER_MS = 100;
/** Runs are begun no closer together than this, however many calls come. */
const APART_MS = 2000;

type Wanted = 'records' | 'results';

/** When a run was, or is about to be, begun: by the database and then by connection and kind; in ms of `performance.now`. */
const begunAt = new WeakMap<Database['pool'], Map<string, number>>();

/** Has what calls say looked at. Where a run cannot begin now, they wait for the next one. */
async function wake(tx: Tx, row: ConnectionRow, wanted: Wanted): Promise<void> {
  if (row.state !== 'on') return;
  try {
    if (wanted === 'results') await startResults(tx, row);
    else await callIn(tx, row);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
  }
}

const begin = (database: Database, connectionId: number, wanted: Wanted) =>
  inTransaction(database, async (tx) => wake(tx, await requireConnection(tx, connectionId), wanted));

/**
 * Begins a run a moment later, one for all calls that come until then, so that whoever calls is not kept waiting. What goes wrong then is
 * made good by `wakeForCalls`, since every call is kept.
 */
export function wakeSoon(
  database: Database,
  connectionId: number,
  wanted: Wanted,
  onFault: (error: unknown) => void,
): void {
  const times = begunAt.get(database.pool) ?? new Map<string, number>();
  begunAt.set(database.pool, times);
  const key = `${connectionId} ${wanted}`;
  const now = performance.now();
  const last = times.get(key) ?? -APART_MS;
  if (last > now) return;
  const at = Math.max(now + TOGETHER_MS, last + APART_MS);
  times.set(key, at);
  setTimeout(() => void begin(database, connectionId, wanted).catch(onFault), at - now).unref();
}

/** By the clock: begins what calls wait for, where nobody did so yet. */
export async function wakeForCalls(database: Database): Promise<void> {
  const { rows } = await connectionsWithCalls(database.pool);
  for (const { connection_id: id, wanted } of rows) await begin(database, id, wanted);
}
