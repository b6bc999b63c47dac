import { firstText, LIFECYCLE, lifecycleOf, wordIssue, type Operation, type Value } from '@gray-loom/core/model';
import { displayNameOf, type Catalogue } from '@gray-loom/core/fields';
import { readCell, type ColumnMapping } from '@gray-loom/core/mapping';
import { recordFrom, type Candidate, type CandidateValue } from '@gray-loom/core/writing';
import { explainPair, preparePerson, candidateFacts, factsOf, scorePair } from '@gray-loom/core/matching';
import type { ContactEdit, LikelyMatch, NewContactRequest } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../db/connect';
import { tell } from '../events';
import { Problem } from '../problem';
import { checkContacts, currentModel, findCandidates } from './match-groups';
import { loadCatalogue, PickLists } from './picks';
import { handThread, startRun } from './runs';
import { applyChanges, ChangeConflict, insertContacts, lockContacts } from './write-contacts';

const BY_HAND: Omit<ColumnMapping, 'target' | 'label'> = {
  column: 0,
  header: null,
  dateOrder: 'dayFirst',
  decimal: '.',
  separator: ';',
  newField: null,
  onBad: 'hold',
};

/** Reads what was typed by hand with the same readers that files go through. */
function readTyped(
  field: string,
  text: string,
  label: string | null,
  catalogue: Catalogue,
  picks: PickLists,
  country: string,
): CandidateValue[] {
  const definition = catalogue.find(field);
  if (!definition) throw new Problem(422, 'noSuchField', `There is no field '${field}'.`);
  const column: ColumnMapping = { ...BY_HAND, target: field, label, separator: null };
  const context = {
    country,
    stages: picks.stages,
    settle: (kind: 'source' | 'tag', plain: string) => picks.settle(kind, plain),
  };
  const reading = readCell(text, column, definition, context, { name: definition.name });
  const values = reading.values.filter(([key]) => key === field).map(([, value]) => value);
  const wrong = reading.issues[0];
  if (!values.length && wrong)
    throw new Problem(422, wrong.code, wordIssue(wrong).replace(/ The row is held.*$/, ' Nothing was changed.'), {
      field,
    });
  return values;
}

/** An address is edited as its parts, sent as JSON text. */
function readAddress(text: string, label: string | null, country: string, picks: PickLists): CandidateValue[] {
  const parts = JSON.parse(text) as Record<string, string>;
  const address: Record<string, string> = {};
  for (const part of ['street', 'locality', 'region', 'postalCode', 'country']) {
    const typed = parts[part];
    if (!typed?.trim()) continue;
    const reading = readCell(
      typed,
      { ...BY_HAND, target: part, label: null },
      { type: 'text' },
      { country, stages: [], settle: (kind, plain) => picks.settle(kind, plain) },
      {},
    );
    for (const [key, value] of reading.values) address[key] = String(value.v);
  }
  return Object.keys(address).length ? [{ v: address, ...(label ? { label } : {}) }] : [];
}

function stamp(value: CandidateValue, slot: number, run: number, rank: number | undefined): Value {
  const made: Value = { slot, v: value.v, run };
  if (value.norm !== undefined) made.norm = value.norm;
  if (value.label) made.label = value.label;
  if (rank !== undefined) made.rank = rank;
  return made;
}

/** Saves edits of one contact's values. An edit whose value moved since it was seen is refused with both values; others go through. */
export async function editContact(
  database: Database,
  contactId: number,
  edits: readonly ContactEdit[],
  actorId: number,
  country: string,
): Promise<{ runId: number }> {
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const runId = await inTransaction(database, async (tx) => {
    const contact = await requireLive(tx, contactId);
    const names = edits.map((edit) => catalogue.nameOf(edit.field)).join(', ');
    const run = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      actorId,
      title: `${names} of ${displayNameOf(contact.record)}`,
      contactId,
    });
    const operations: Operation[] = [];
    let next = contact.record.n;
    for (const edit of edits) {
      const definition = catalogue.find(edit.field);
      const typed = edit.text?.trim() ?? '';
      const values =
        typed === ''
          ? []
          : edit.field === 'adr'
            ? readAddress(typed, edit.label, country, picks)
            : readTyped(edit.field, typed, edit.label, catalogue, picks, country);
      const slot = definition?.several ? (edit.slot ?? next++) : 0;
      const value = values[0];
      const rank =
        edit.before?.rank ??
        (definition?.several && !edit.before ? (contact.record.f[edit.field]?.length ?? 0) : undefined);
      operations.push({
        target: contactId,
        field: edit.field,
        slot,
        before: edit.before,
        after: value ? stamp(value, slot, run, rank) : null,
      });
    }
    await picks.save(tx);
    try {
      await applyChanges(tx, run, [{ contactId, operations: operations.filter((o) => o.before || o.after) }]);
    } catch (error) {
      if (error instanceof ChangeConflict) throw await conflictProblem(tx, error, catalogue, contactId);
      throw error;
    }
    await tell(tx.client, { topic: 'contacts', id: contactId });
    return run;
  });
  void checkContacts(database, [contactId], (work) => inTransaction(database, work)).catch(() => undefined);
  return { runId };
}

async function requireLive(tx: Tx, contactId: number) {
  const contact = (await lockContacts(tx, [contactId])).get(contactId);
  if (!contact) throw new Problem(404, 'noSuchContact', 'There is no such contact.');
  const lifecycle = lifecycleOf(contact.record);
  if (lifecycle?.state === 'merged')
    throw new Problem(
      409,
      'alreadyMerged',
      'This contact was merged into another one meanwhile. Open that one and make the change there.',
      { into: lifecycle.into },
    );
  if (lifecycle?.state === 'deleted')
    throw new Problem(
      409,
      'deleted',
      'This contact was deleted meanwhile. Bring it back first; what you typed is still in the field.',
    );
  return contact;
}

async function conflictProblem(
  tx: Tx,
  conflict: ChangeConflict,
  catalogue: Catalogue,
  contactId: number,
): Promise<Problem> {
  const first = conflict.conflicts[0];
  if (!first) return new Problem(409, 'gone', 'This contact is gone.');
  const { rows } = await tx.client.query<{ name: string | null; at: Date }>(
    `select a.name, r.created_at as at from operation o join run r on r.id = o.run_id left join account a on a.id = r.actor_id where o.contact_id = $1 order by o.version desc limit 1`,
    [contactId],
  );
  const name = catalogue.nameOf(first.operation.field);
  const now = first.now
    ? typeof first.now.v === 'object'
      ? JSON.stringify(first.now.v)
      : String(first.now.v)
    : 'empty';
  const who = rows[0]?.name ?? 'A run';
  return new Problem(
    409,
    'valueChanged',
    `${who} changed ${name} while you were editing: it is now '${now}'. Your text is still here; save again to replace it, or keep what is there.`,
    {
      field: first.operation.field,
      slot: first.operation.slot,
      now: first.now,
    },
  );
}

function candidateOf(request: NewContactRequest, catalogue: Catalogue, picks: PickLists, country: string): Candidate {
  const candidate: Candidate = {};
  for (const [field, text] of Object.entries(request)) {
    if (typeof text !== 'string' || text.trim() === '') continue;
    const values = readTyped(field, text, null, catalogue, picks, country);
    if (values.length) candidate[field] = values;
  }
  return candidate;
}

/** Makes one contact by hand. */
export async function createContact(
  database: Database,
  request: NewContactRequest,
  actorId: number,
  country: string,
): Promise<{ contactId: number; runId: number }> {
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const candidate = candidateOf(request, catalogue, picks, country);
  if (!candidate.givenName && !candidate.familyName && !candidate.email && !candidate.organization) {
    throw new Problem(
      422,
      'noIdentity',
      'Give at least a name, an e-mail or an organization, so that the contact can be told from others.',
    );
  }
  const made = await inTransaction(database, async (tx) => {
    const name = displayNameOf(recordFrom(candidate, catalogue, { run: 0 }));
    const runId = await startRun(tx, {
      kind: 'create',
      state: 'done',
      threadId: await handThread(tx),
      actorId,
      title: `New contact ${name}`,
    });
    await picks.save(tx);
    const [contactId = 0] = await insertContacts(tx, runId, [
      { record: recordFrom(candidate, catalogue, { run: runId }) },
    ]);
    await tx.client.query('update run set contact_id = $2 where id = $1', [runId, contactId]);
    await tell(tx.client, { topic: 'contacts', id: contactId });
    return { contactId, runId };
  });
  void checkContacts(database, [made.contactId], (work) => inTransaction(database, work)).catch(() => undefined);
  return made;
}

/** Who a person being typed may be, under the current model, with reasons. */
export async function likelyMatches(
  database: Database,
  request: NewContactRequest,
  country: string,
): Promise<LikelyMatch[]> {
  const frozen = await currentModel(database.db);
  if (!frozen) return [];
  let candidate: Candidate;
  try {
    candidate = candidateOf(request, await loadCatalogue(database.db), await PickLists.load(database.db), country);
  } catch {
    return [];
  }
  const person = preparePerson(candidateFacts(candidate));
  const matches: (LikelyMatch & { bits: number })[] = [];
  for (const { id, record } of await findCandidates(database, person, null)) {
    const other = preparePerson(factsOf(record));
    const score = scorePair(frozen.model, person, other);
    if (score.band === 'apart') continue;
    const reasons = explainPair(frozen.model, person, other).filter((reason) => reason.field !== 'prior');
    matches.push({
      contactId: id,
      name: displayNameOf(record),
      email: firstText(record, 'email'),
      tel: firstText(record, 'tel'),
      band: score.band,
      bits: score.bits,
      reasons,
    });
  }
  return matches.sort((a, b) => b.bits - a.bits).slice(0, 5);
}

/** Deletes a contact, or brings it back. Both are operations on its lifecycle, so both can be undone. */
export async function setDeleted(
  database: Database,
  contactId: number,
  deleted: boolean,
  actorId: number,
): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const contact = (await lockContacts(tx, [contactId])).get(contactId);
    if (!contact) throw new Problem(404, 'noSuchContact', 'There is no such contact.');
    const before = contact.record.f[LIFECYCLE]?.[0] ?? null;
    if (deleted && before) throw new Problem(409, 'gone', 'This contact is deleted or merged already.');
    if (!deleted && lifecycleOf(contact.record)?.state !== 'deleted')
      throw new Problem(409, 'notDeleted', 'This contact is not deleted.');
    const name = displayNameOf(contact.record);
    const runId = await startRun(tx, {
      kind: deleted ? 'delete' : 'restore',
      state: 'done',
      threadId: await handThread(tx),
      actorId,
      title: deleted ? `Deleted ${name}` : `Brought back ${name}`,
      contactId,
    });
    const after: Value | null = deleted ? { slot: 0, v: { state: 'deleted' }, run: runId } : null;
    await applyChanges(tx, runId, [
      { contactId, operations: [{ target: contactId, field: LIFECYCLE, slot: 0, before, after }] },
    ]);
    await tell(tx.client, { topic: 'contacts', id: contactId });
    return { runId };
  });
}
