import { displayNameOf, showValue } from '@gray-loom/core/fields';
import {
  ALSO_PREFIX,
  applyOperations,
  invertOperations,
  KIND,
  LIFECYCLE,
  lifecycleOf,
  sameContent,
  type ContactRecord,
  type Operation,
  type Value,
} from '@gray-loom/core/model';
import { planWrite } from '@gray-loom/core/writing';
import type { EditChoice, EditSince } from '@gray-loom/wire';
import type { Tx } from '../../db/connect';
import { refuse } from './refusals';
import { loadCatalogue } from '../../book/picks';
import { applyChanges, lockContacts } from '../../book/write-contacts';
import { contactsEdited, operationsFrom, type LogRow } from './statements/undo-edits';

interface Edit {
  contactId: number;
  field: string;
  slot: number;
  /** What stands there now; null where it was taken away. */
  now: Value | null;
  /** What the record itself had there before it was merged. */
  own: Value | null;
  /** What the merge left there. */
  merged: Value | null;
}

interface Merged {
  members: { id: number; name: string }[];
  edits: Edit[];
}

const slotOf = (record: ContactRecord, field: string, slot: number): Value | null =>
  record.f[field]?.find((value) => value.slot === slot) ?? null;

/** What was edited on the record that a merge kept, since then and by hand or by a thread; not what another merge brought. */
async function editsOf(tx: Tx, runId: number): Promise<Merged> {
  const { rows: touched } = await contactsEdited(tx.client, runId);
  const contacts = await lockContacts(
    tx,
    touched.map(({ id }) => id),
  );
  const merged: Merged = { members: [], edits: [] };
  for (const { id, version } of touched) {
    const record = contacts.get(id)?.record;
    if (!record) continue;
    merged.members.push({ id, name: displayNameOf(record) });
    // One that is merged away has nothing that anybody could have edited.
    if (lifecycleOf(record)) continue;
    const { rows: log } = await operationsFrom(tx.client, id, version, runId);
    const operations = (of: LogRow[]) =>
      of.flatMap(({ changes }) => (changes ?? []).map((change): Operation => ({ ...change, target: id })));
    const since = operations(log.filter((row) => row.run_id !== runId));
    if (!since.length) continue;
    const left = applyOperations(record, invertOperations(since));
    if (!left.ok) continue;
    const before = applyOperations(left.value, invertOperations(operations(log.filter((row) => row.run_id === runId))));
    if (!before.ok) continue;
    const byMerges = new Set(log.filter((row) => row.kind === 'merge').map((row) => row.run_id));
    for (const place of new Set(since.map(({ field, slot }) => `${slot}:${field}`))) {
      const at = place.indexOf(':');
      const [slot, field] = [Number(place.slice(0, at)), place.slice(at + 1)];
      if (field === LIFECYCLE || field === KIND || field.startsWith(ALSO_PREFIX)) continue;
      const [now, was] = [slotOf(record, field, slot), slotOf(left.value, field, slot)];
      if (sameContent(now, was) || (now && byMerges.has(now.run))) continue;
      merged.edits.push({ contactId: id, field, slot, now, own: slotOf(before.value, field, slot), merged: was });
    }
  }
  return merged;
}

/** The same for a person who is to decide whose each edit is. */
export async function editsSinceMerge(tx: Tx, runId: number): Promise<EditSince[]> {
  const { members, edits } = await editsOf(tx, runId);
  if (!edits.length) return [];
  const catalogue = await loadCatalogue(tx.db);
  const text = (field: string, value: Value | null) => (value ? showValue(field, value) : '');
  return edits.map(({ contactId, field, slot, now, merged }) => ({
    contactId,
    field,
    slot,
    name: catalogue.nameOf(field),
    now: text(field, now),
    before: text(field, merged),
    members,
  }));
}

/** What is to become of edits once the records are two again; looked up before they are. */
export async function readEdits(tx: Tx, runId: number, choices: readonly EditChoice[]): Promise<[Edit, number[]][]> {
  if (!choices.length) return [];
  const { members, edits } = await editsOf(tx, runId);
  const known = new Set(members.map(({ id }) => id));
  return choices.map(({ contactId, field, slot, owners }) => {
    const edit = edits.find((one) => one.contactId === contactId && one.field === field && one.slot === slot);
    if (!edit || owners.some((id) => !known.has(id))) throw refuse.editMoved();
    return [edit, owners];
  });
}

/** Gives each edit to those it is of, as part of the undo: whoever it is not of has what was there before the merge. */
export async function giveEdits(tx: Tx, undoRunId: number, given: readonly [Edit, number[]][]): Promise<number> {
  const catalogue = await loadCatalogue(tx.db);
  let moved = 0;
  for (const [edit, owners] of given) {
    const { contactId, field, slot, now, own } = edit;
    const contacts = await lockContacts(tx, [contactId, ...owners]);
    const keeper = contacts.get(contactId)?.record;
    if (!keeper) continue;
    const changes: { contactId: number; operations: Operation[] }[] = [];
    const stands = slotOf(keeper, field, slot);
    if (!owners.includes(contactId) && sameContent(stands, now) && !sameContent(stands, own))
      changes.push({
        contactId,
        operations: [{ target: contactId, field, slot, before: stands, after: own && { ...own, run: undoRunId } }],
      });
    for (const id of owners) {
      const record = contacts.get(id)?.record;
      if (id === contactId || !record || !now) continue;
      const { v, norm, label } = now;
      const { operations } = planWrite(
        id,
        record,
        { [field]: [{ v, ...(norm === undefined ? {} : { norm }), ...(label === undefined ? {} : { label }) }] },
        () => 'replace',
        catalogue,
        { run: undoRunId },
      );
      if (operations.length) changes.push({ contactId: id, operations });
    }
    if (changes.length) moved++;
    await applyChanges(tx, undoRunId, changes, { evenGone: true });
  }
  return moved;
}
