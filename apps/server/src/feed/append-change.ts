import { accountIdOf } from '../db/actor';
import type { Tx } from '../db/connect';
import type { ChangeKind } from '../db/schema';
import { tell } from './events';

/** Contacts of one row of the feed at most. */
const MOST = 2000;

export interface WrittenChange {
  kind: ChangeKind;
  runId: number;
  contacts: readonly number[];
  /** In step with the contacts; left out for a change of permissions or activities. */
  versions?: readonly number[];
}

/**
 * Adds to the feed what a transaction writes, in that transaction, and tells open screens of it. Every way of writing contacts
 * ends here: single changes and COPY alike.
 */
export async function appendChange(tx: Tx, { kind, runId, contacts, versions = [] }: WrittenChange): Promise<void> {
  if (!contacts.length) return;
  for (let from = 0; from < contacts.length; from += MOST)
    await tx.client.query(
      `insert into change (kind, run_id, actor_id, contacts, versions) values ($1, $2, $3, $4::bigint[], $5::int[])`,
      [kind, runId, accountIdOf(tx.actor), contacts.slice(from, from + MOST), versions.slice(from, from + MOST)],
    );
  await tell(tx.client, { topic: 'contacts', ...(contacts.length === 1 ? { id: contacts[0] } : {}) });
}
