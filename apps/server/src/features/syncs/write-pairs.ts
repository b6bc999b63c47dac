import type { Catalogue } from '@gray-loom/core/fields';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Capabilities, PairWrite, SyncSetup, WriteResult } from '@gray-loom/core/syncing';
import type { PickLists } from '../../book/picks';
import { rootsOf } from '../../book/statements/merged-into';
import { applyChanges, insertContacts, lockContacts } from '../../book/write-contacts';
import type { Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import { writeChanges } from './sync-changes';
import { writeLinks } from './statements/sync-links';
import { writeStops } from './sync-stops';
import { deleteOtherConflicts, moveLinks, upsertConflicts } from './statements/write-pairs';

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
  const { rows } = await rootsOf(
    tx.client,
    writes.map(({ link }) => link.contactId).filter((id) => id > 0),
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
  const moved = kept.flatMap(({ movedFrom, link }) => (movedFrom ? [{ from: movedFrom, to: link.outsideId }] : []));
  if (moved.length)
    await moveLinks(
      tx.client,
      options.connectionId,
      moved.map(({ from }) => from),
      moved.map(({ to }) => to),
    );
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
  await deleteOtherConflicts(
    tx.client,
    connectionId,
    told.map(({ link }) => link.outsideId),
    JSON.stringify(rows),
  );
  if (rows.length) await upsertConflicts(tx.client, connectionId, runId, JSON.stringify(rows));
  await tell(tx.client, { topic: 'syncs' });
}
