import { ToolTrouble, type Tool } from '@gray-loom/core/syncing';
import type { CalledNext, NotCalled } from '@gray-loom/wire';
import { closedOf } from '../contacts';
import { connectorsFor } from '../../connectors';
import { requireConnection, settingsOf, type SyncServices } from './connections';
import { refuse } from './refusals';
import { recordInStep } from './statements/sync-links';

/**
 * Puts contacts at the head of those whom a tool calls, the first of them first. Whoever wants no calls, or is not there, is left out and
 * counted.
 */
export async function callTheseNext(
  services: SyncServices,
  connectionId: number,
  contactIds: readonly number[],
): Promise<CalledNext> {
  const { database } = services;
  const row = await requireConnection(database, connectionId);
  const closed = await closedOf(database, contactIds);
  const tool: Tool = connectorsFor(services.standIns)[row.kind].open(row.place, settingsOf(row, services.secretKey));
  if (!tool.callNext) throw refuse.noCallNext({ name: row.name });
  const refused = new Map<NotCalled, number>();
  let called = 0;
  const callOne = async (contactId: number): Promise<NotCalled | null> => {
    const channels = closed.get(contactId);
    if (!channels) return 'gone';
    if (channels.includes('call')) return 'wantsNoCalls';
    const { rows } = await recordInStep(database.pool, connectionId, contactId);
    const recordId = rows[0]?.outside_id;
    if (recordId === undefined) return 'notThere';
    try {
      await tool.callNext?.(recordId);
      return null;
    } catch (error) {
      if (error instanceof ToolTrouble && error.kind === 'refusedThere') return 'refusedThere';
      throw error;
    }
  };
  // Each goes to the head, so the last of them goes first.
  for (const contactId of [...contactIds].reverse()) {
    const why = await callOne(contactId);
    if (why) refused.set(why, (refused.get(why) ?? 0) + 1);
    else called++;
  }
  return { called, refused: [...refused].map(([why, n]) => ({ why, n })) };
}

/** The same for one contact, where what stands against it is refused. */
export async function callNext(services: SyncServices, connectionId: number, contactId: number): Promise<void> {
  const { refused } = await callTheseNext(services, connectionId, [contactId]);
  const why = refused[0]?.why;
  if (!why) return;
  const { name } = await requireConnection(services.database, connectionId);
  const refusals = {
    gone: () => refuse.noSuchContact(),
    wantsNoCalls: () => refuse.wantsNoCalls(),
    notThere: () => refuse.notThere({ name }),
    refusedThere: () => refuse.notCalled({ name }),
  };
  throw refusals[why]();
}
