import type { PairWrite } from '@gray-loom/core/syncing';
import type { Tx } from '../../db/connect';
import { appendChange } from '../../feed/append-change';
import { insertStops } from './statements/sync-stops';

/**
 * Keeps what was said over there as evidence here, from the moment it is known here, whatever the clock over there says. Only
 * stops come in: to be allowed again takes a person's word.
 */
export async function writeStops(
  tx: Tx,
  { runId, connectionName }: { runId: number; connectionName: string },
  writes: readonly { write: PairWrite; contactId: number }[],
): Promise<void> {
  const said = writes.flatMap(({ write, contactId }) =>
    write.stop.map((channel) => ({
      contactId,
      channel,
    })),
  );
  if (!said.length) return;
  await insertStops(tx.client, JSON.stringify(said), `Said in ${connectionName}`, runId);
  await appendChange(tx, { kind: 'permission', runId, contacts: [...new Set(said.map((one) => one.contactId))] });
}
