import { requireLive } from '../../book/require-live';
import { LIFECYCLE, lifecycleOf, type ContactRecord, type Operation, type Value } from '@gray-loom/core/model';
import { displayNameOf, showValue, type Catalogue } from '@gray-loom/core/fields';
import { contentKey, type CandidateValue } from '@gray-loom/core/writing';
import type { ContactEdit } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { refuseContact } from '../../book/refusals';
import { refuseEdit } from './refusals';
import type { Refusal } from '../../http/refusal';
import { loadCatalogue, PickLists } from '../../book/picks';
import { handThread, startRun } from '../../runs/runs';
import { readTyped } from '../../book/typed-values';
import { lockKeys } from '../../book/statements/locks';
import { guardUnique, uniqueKeysOf } from '../../book/unique-values';
import { applyChanges, ChangeConflict, lockContacts } from '../../book/write-contacts';
import { lastChangeOf } from './statements/edit-contact';

function stamp(value: CandidateValue, slot: number, run: number, rank: number | undefined): Value {
  const made: Value = { slot, v: value.v, run };
  if (value.norm !== undefined) made.norm = value.norm;
  if (value.label) made.label = value.label;
  if (rank !== undefined) made.rank = rank;
  return made;
}

/** Whether a value says what stood there before, written in another way perhaps: such an edit takes nobody else's value. */
function sameValue(catalogue: Catalogue, field: string, before: Value | null, read: CandidateValue): boolean {
  const type = catalogue.find(field)?.type;
  return before !== null && type !== undefined && contentKey(type, before) === contentKey(type, read);
}

/** Saves edits of one contact's values. An edit whose value moved since it was seen is refused with both values; others go through. */
export async function editContact(
  database: Database,
  contactId: number,
  edits: readonly ContactEdit[],
  country: string,
  despite = false,
): Promise<{ runId: number }> {
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const runId = await inTransaction(database, async (tx) => {
    const readings: (CandidateValue | undefined)[] = [];
    for (const edit of edits)
      readings.push((await readTyped(edit, { catalogue, picks, country, client: tx.client, contactId }))[0]);
    const offered = edits.flatMap(({ field, before }, i) => {
      const read = readings[i];
      return read && !sameValue(catalogue, field, before, read) ? [{ field, value: read }] : [];
    });
    // Keys come before contacts, for everybody.
    await lockKeys(tx.client, uniqueKeysOf(catalogue, offered));
    const contact = await requireLive(tx, contactId);
    const names = edits.map((edit) => catalogue.nameOf(edit.field)).join(', ');
    const run = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      title: `${names} of ${displayNameOf(contact.record)}`,
      contactId,
    });
    const operations: Operation[] = [];
    let next = contact.record.n;
    for (const [i, edit] of edits.entries()) {
      const definition = catalogue.find(edit.field);
      const read = readings[i];
      if (!read && !edit.before && (edit.text?.trim() || edit.value)) continue;
      const slot = definition?.several ? (edit.slot ?? next++) : 0;
      const rank =
        edit.rank ??
        edit.before?.rank ??
        (definition?.several && !edit.before ? (contact.record.f[edit.field]?.length ?? 0) : undefined);
      operations.push({
        target: contactId,
        field: edit.field,
        slot,
        before: edit.before,
        after: read ? stamp(read, slot, run, rank) : null,
      });
    }
    if (operations.some((o) => o.field !== 'related' && !o.after)) requireStillSomebody(contact.record, operations);
    await guardUnique(tx, catalogue, offered, contactId, despite);
    await picks.save(tx);
    try {
      await applyChanges(tx, run, [{ contactId, operations: operations.filter((o) => o.before || o.after) }]);
    } catch (error) {
      if (error instanceof ChangeConflict) throw await changedMeanwhile(tx, error, catalogue, contactId);
      throw error;
    }
    return run;
  });
  return { runId };
}

async function changedMeanwhile(
  tx: Tx,
  conflict: ChangeConflict,
  catalogue: Catalogue,
  contactId: number,
): Promise<Refusal> {
  const first = conflict.conflicts[0];
  if (!first) return refuseContact.gone();
  const { rows } = await lastChangeOf(tx.client, contactId);
  const { field, slot } = first.operation;
  return refuseContact.valueChanged({
    who: rows[0]?.name ?? 'A run',
    name: catalogue.nameOf(field),
    text: first.now ? showValue(field, first.now) : 'empty',
    field,
    slot,
    now: first.now,
  });
}

const TELLING = ['givenName', 'familyName', 'fullName', 'organization', 'email', 'tel', 'nickname'];

/** Refuses an edit after which nothing would be left to tell the contact by. */
function requireStillSomebody(record: ContactRecord, operations: readonly Operation[]): void {
  const left = TELLING.some((field) => {
    const gone = operations.filter((o) => o.field === field && !o.after).length;
    const added = operations.filter((o) => o.field === field && o.after && !o.before).length;
    return (record.f[field]?.length ?? 0) - gone + added > 0;
  });
  if (!left) throw refuseEdit.noIdentity();
}

/** Deletes a contact, or brings it back. Both are operations on its lifecycle, so both can be undone. */
export async function setDeleted(database: Database, contactId: number, deleted: boolean): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => ({ runId: await changeDeleted(tx, contactId, deleted) }));
}

/** The same in the caller's transaction; gives the run. */
export async function changeDeleted(tx: Tx, contactId: number, deleted: boolean): Promise<number> {
  const contact = (await lockContacts(tx, [contactId])).get(contactId);
  if (!contact) throw refuseContact.noSuchContact();
  const before = contact.record.f[LIFECYCLE]?.[0] ?? null;
  if (deleted && before) throw refuseContact.gone();
  if (!deleted && lifecycleOf(contact.record)?.state !== 'deleted') throw refuseContact.notDeleted();
  const name = displayNameOf(contact.record);
  const runId = await startRun(tx, {
    kind: deleted ? 'delete' : 'restore',
    state: 'done',
    threadId: await handThread(tx),
    title: deleted ? `Deleted ${name}` : `Brought back ${name}`,
    contactId,
  });
  const after: Value | null = deleted ? { slot: 0, v: { state: 'deleted' }, run: runId } : null;
  await applyChanges(tx, runId, [
    { contactId, operations: [{ target: contactId, field: LIFECYCLE, slot: 0, before, after }] },
  ]);
  return runId;
}
