import type { PairWrite } from '@gray-loom/core/syncing';
import type { Database, Tx } from '../../db/connect';

type Client = Pick<Database['pool'], 'query'>;

/**
 * Contacts of whom something was said since a transaction, of them or of an address that they have; not what this connection
 * itself brought.
 */
export async function stopsSince(client: Client | Tx['client'], since: string, threadId: number): Promise<number[]> {
  const { rows } = await (client as Client).query<{ id: number }>(
    `with said as (
       select e.contact_id, e.address_key from permission_evidence e join run r on r.id = e.run_id
       where e.txid >= $1::bigint and r.thread_id <> $2)
     select contact_id as id from said where contact_id is not null
     union select k.contact_id from said join contact_key k on k.key = said.address_key`,
    [since, threadId],
  );
  return rows.map(({ id }) => id);
}

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
  await tx.client.query(
    `insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select "contactId", channel, 'optedOut', $2, now(), $3
     from json_to_recordset($1::json) as n("contactId" bigint, channel text)`,
    [JSON.stringify(said), `Said in ${connectionName}`, runId],
  );
}
