import type { Db } from '../../../db/connect';
import { hookState } from '../../../db/schema';
import { secretOfHook } from '../../../secrets';
import { connectorsFor } from '../../../connectors';
import type { OpenTool } from '../../../connectors/connector';
import { requireConnection, settingsOf, type SyncServices } from '../connections';
import { refuse } from '../refusals';

export async function keepHookState(
  db: Db,
  connectionId: number,
  parts: Partial<Omit<typeof hookState.$inferSelect, 'connectionId'>>,
): Promise<void> {
  await db
    .insert(hookState)
    .values({ connectionId, ...parts })
    .onConflictDoUpdate({ target: hookState.connectionId, set: parts });
}

/** Notes by how much the clock over there differs, so that what it signs is not taken for old. */
export async function noteClock(db: Db, connectionId: number, tool: { clock: { aheadMs: number } }): Promise<void> {
  await keepHookState(db, connectionId, { aheadMs: tool.clock.aheadMs });
}

/** Tells a tool to call us when something changes, or no more. `origin` is where we are reached. */
export async function tellToCall(services: SyncServices, id: number, origin: string | null): Promise<void> {
  const row = await requireConnection(services.database, id);
  const tool: OpenTool = connectorsFor(services.standIns)[row.kind].open(
    row.place,
    settingsOf(row, services.secretKey),
  );
  if (!tool.setHook) throw refuse.noSignedCalls({ name: row.name });
  const url = origin === null ? null : `${origin}/api/hooks/${row.hook}`;
  await tool.setHook(url === null ? null : { url, secret: secretOfHook(row.hook, services.secretKey) });
  // What it signs from now on is held against its clock, as its answer has just shown it.
  await keepHookState(services.database.db, id, { url, aheadMs: tool.clock.aheadMs });
}
