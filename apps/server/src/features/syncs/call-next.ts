import { closedChannels } from '../contacts';
import { requireLive } from '../../book/require-live';
import { connectorsFor } from '../../connectors';
import { inTransaction } from '../../db/connect';
import type { Tool } from '@gray-loom/core/syncing';
import { requireConnection, settingsOf, type SyncServices } from './connections';
import { refuse } from './refusals';
import { recordInStep } from './statements/sync-links';

/** Puts a contact at the head of those whom a tool calls. Whoever wants no calls is not put there. */
export async function callNext(services: SyncServices, connectionId: number, contactId: number): Promise<void> {
  const { database } = services;
  const row = await requireConnection(database, connectionId);
  const { record } = await inTransaction(database, (tx) => requireLive(tx, contactId));
  const closed = await closedChannels(database, [{ id: contactId, record }]);
  if (closed.get(contactId)?.includes('call')) throw refuse.wantsNoCalls();
  const tool: Tool = connectorsFor(services.standIns)[row.kind].open(row.place, settingsOf(row, services.secretKey));
  if (!tool.callNext) throw refuse.noCallNext({ name: row.name });
  const { rows } = await recordInStep(database.pool, connectionId, contactId);
  const recordId = rows[0]?.outside_id;
  if (recordId === undefined) throw refuse.notThere({ name: row.name });
  await tool.callNext(recordId);
}
