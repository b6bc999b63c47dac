import type { Catalogue } from '@gray-loom/core/fields';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Capabilities, PairWrite, SyncSetup, WriteResult } from '@gray-loom/core/syncing';
import type { PickLists } from '../../book/picks';
import { applyChanges, insertContacts, lockContacts } from '../../book/write-contacts';
import type { Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import { writeChanges } from './sync-changes';
import { ROOTS, writeLinks } from './sync-links';
import { writeStops } from './sync-stops';

export interface PairsOptions {
  connectionId: number;
  connectionName: string;
  runId: number;
  setup: SyncSetup;
  capabilities: Capabilities;
  catalogue: Catalogue;
  picks: PickLists;
}

/**
 * Writes what a pass, or a person who settles a question, does here: contacts, links, stops, open questions and the report.
 * A pair whose contact moved since it was planned is left out whole, and said.
 */
export async function writePairs(tx: Tx, options: PairsOptions, writes: readonly PairWrite[]): Promise<WriteResult[]> {
  const { rows } = await tx.client.query<{ asked: number; id: number }>(
    `${ROOTS} select asked, id from up u where not exists (select 1 from contact c where c.id = u.id and c.merged_into is not null)`,
    [writes.map(({ link }) => link.contactId).filter((id) => id > 0)],
  );
  const rootOf = new Map(rows.map(({ asked, id }) => [asked, id]));
  const changed = writes.filter(({ operations }) => operations.length);
  const locked = await lockContacts(
    tx,
    changed.flatMap(({ link }) => rootOf.get(link.contactId) ?? []),
  );
  const refused = new Set(
    changed.filter(({ link, version }) => locked.get(rootOf.get(link.contactId) ?? 0)?.version !== version),
  );
  const kept = writes.filter((write) => !refused.has(write));
  const created = kept.filter(({ create }) => create);
  const ids = await insertContacts(
    tx,
    options.runId,
    created.map(({ create }) => ({ record: create as ContactRecord })),
  );
  const idOf = new Map(created.map((write, i) => [write, ids[i] ?? 0]));
  await applyChanges(
    tx,
    options.runId,
    kept
      .filter(({ operations, create }) => operations.length && !create)
      .map(({ link, operations }) => {
        const contactId = rootOf.get(link.contactId) ?? link.contactId;
        return { contactId, operations: operations.map((operation) => ({ ...operation, target: contactId })) };
      }),
  );
  await options.picks.save(tx);
  const contactOf = (write: PairWrite) => idOf.get(write) ?? write.link.contactId;
  await writeLinks(
    tx,
    options.connectionId,
    kept.map((write) => ({ ...write.link, contactId: contactOf(write) })),
  );
  await writeStops(
    tx,
    options,
    kept.map((write) => ({ write, contactId: rootOf.get(contactOf(write)) ?? contactOf(write) })),
  );
  await writeConflicts(tx, options, kept, contactOf);
  await writeChanges(
    tx,
    options,
    kept.map((write) => ({ write, contactId: contactOf(write) })),
  );
  return writes.map((write): WriteResult =>
    refused.has(write) ? { ok: false } : { ok: true, contactId: contactOf(write) },
  );
}

async function writeConflicts(
  tx: Tx,
  { connectionId, runId }: PairsOptions,
  writes: readonly PairWrite[],
  contactOf: (write: PairWrite) => number,
): Promise<void> {
  const told = writes.filter(({ conflicts }) => conflicts);
  if (!told.length) return;
  const rows = told.flatMap((write) =>
    (write.conflicts ?? []).map((conflict) => ({
      outside_id: write.link.outsideId,
      contact_id: contactOf(write),
      ...conflict,
    })),
  );
  await tx.client.query(
    `delete from sync_conflict c where c.connection_id = $1 and c.outside_id = any($2::text[])
         and not exists (select 1 from json_to_recordset($3::json) as n(outside_id text, line text) where n.outside_id = c.outside_id and n.line = c.line)`,
    [connectionId, told.map(({ link }) => link.outsideId), JSON.stringify(rows)],
  );
  if (rows.length)
    await tx.client.query(
      `insert into sync_conflict (connection_id, outside_id, contact_id, line, why, ours, theirs, run_id)
         select $1, outside_id, contact_id, line, why, ours, theirs, $2
         from json_to_recordset($3::json) as n(outside_id text, contact_id bigint, line text, why text, ours jsonb, theirs jsonb)
         on conflict (connection_id, outside_id, line) do update set why = excluded.why, ours = excluded.ours, theirs = excluded.theirs,
            contact_id = excluded.contact_id`,
      [connectionId, runId, JSON.stringify(rows)],
    );
  await tell(tx.client, { topic: 'syncs' });
}
