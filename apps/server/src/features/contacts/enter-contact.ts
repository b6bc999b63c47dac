import { displayNameOf, type Catalogue } from '@gray-loom/core/fields';
import { KIND } from '@gray-loom/core/model';
import { planWrite, recordFrom, type Candidate } from '@gray-loom/core/writing';
import type { EntryCheck, EntryRequest } from '@gray-loom/wire';
import { seesPart } from '../../db/actor';
import { inTransaction, wholeBook, type Database, type Tx } from '../../db/connect';
import { Refusal } from '../../http/refusal';
import { refuse } from './refusals';
import { requireLive } from '../../book/require-live';
import { likelyOrganizations } from '../duplicates';
import { catalogueOf, loadCatalogue, PickLists } from '../../book/picks';
import { partedBySight } from '../../book/seen';
import { contactsSeen } from '../../book/statements/seen';
import { blockedSince } from '../../book/blocked';
import { handThread, startRun } from '../../runs/runs';
import { readTyped, type TypedContext } from '../../book/typed-values';
import { lockKeys, makePeople } from '../../book/statements/locks';
import { findClashes, guardUnique, uniqueKeysOf } from '../../book/unique-values';
import { applyChanges, insertContacts } from '../../book/write-contacts';
import { keysToRecognise, refuseAlreadyHere } from './already-here';
import { likelyMatches } from './likely-matches';
import { setRunContact, setUpForCheck } from './statements/enter-contact';

async function candidateOf(request: EntryRequest, context: TypedContext): Promise<Candidate> {
  const candidate: Candidate = {};
  for (const typed of request.values) {
    const values = await readTyped(typed, context);
    if (values.length) candidate[typed.field] = [...(candidate[typed.field] ?? []), ...values];
  }
  return candidate;
}

function offeredOf(candidate: Candidate) {
  return Object.entries(candidate).flatMap(([field, values]) => values.map((value) => ({ field, value })));
}

function requireIdentity(candidate: Candidate, request: EntryRequest, catalogue: Catalogue): void {
  if (request.kind === 'organization' && !candidate.organization) throw refuse.noIdentity({ field: 'organization' });
  if (!candidate.givenName && !candidate.familyName && !candidate.email && !candidate.organization && !candidate.tel)
    throw refuse.noIdentity({ field: 'name' });
  if (request.kind === 'organization') return;
  const missing = catalogue.fields.find((field) => field.required && !field.retired && !candidate[field.key]);
  if (missing) throw refuse.required({ field: missing.key, name: missing.name });
}

/** Whoever has their own people as a remit owns those they enter, unless they say who does. */
function ownByWhoEnters({ actor }: Tx, candidate: Candidate): void {
  if (seesPart(actor) && actor.remit.owners.includes(actor.name)) candidate.owner ??= [{ v: actor.name }];
}

/** Whoever was erased on request is not entered again, whatever else is said of them. */
async function refuseErased(tx: Tx, candidate: Candidate): Promise<void> {
  const since = await blockedSince(tx.client, candidate);
  if (since !== undefined) throw refuse.wasErased({ on: since });
}

/** Makes one contact or organization by hand. */
export async function enterContact(
  database: Database,
  request: EntryRequest,
  country: string,
): Promise<{ contactId: number; runId: number }> {
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const made = await inTransaction(database, async (tx) => {
    const candidate = await candidateOf(request, { catalogue, picks, country, client: tx.client, contactId: null });
    requireIdentity(candidate, request, catalogue);
    ownByWhoEnters(tx, candidate);
    await makePeople(tx.client);
    await lockKeys(tx.client, [
      ...uniqueKeysOf(catalogue, offeredOf(candidate)),
      ...keysToRecognise(candidate, request.kind),
    ]);
    if (request.kind === 'person') await refuseErased(tx, candidate);
    if (request.kind === 'person') await guardUnique(tx, catalogue, offeredOf(candidate), null, request.despite);
    if (!request.despite) await refuseAlreadyHere(tx, candidate, request);
    if (request.kind === 'organization') candidate[KIND] = [{ v: 'organization' }];
    const draft = recordFrom(candidate, catalogue, { run: 0 });
    const runId = await startRun(tx, {
      kind: 'create',
      state: 'done',
      threadId: await handThread(tx),
      title: `New ${request.kind === 'organization' ? 'organization' : 'contact'} ${displayNameOf(draft)}`,
    });
    await picks.save(tx);
    const record = recordFrom(candidate, catalogue, { run: runId });
    const [contactId = 0] = await insertContacts(tx, runId, [{ record }]);
    await setRunContact(tx.client, runId, contactId);
    if (!(await contactsSeen(tx.client, [contactId])).rows.length) throw refuse.newOutside();
    return { contactId, runId };
  });
  return made;
}

/** Who a person being typed may be, under the current model, with reasons; and values that stand with others already. */
export async function checkEntry(database: Database, request: EntryRequest, country: string): Promise<EntryCheck> {
  const everybody = wholeBook(database);
  const { catalogue, picks, modelVersion } = await loadForCheck(database);
  const context = {
    catalogue,
    picks,
    country,
    client: database.pool,
    contactId: null,
  };
  // While one types, some of it cannot be read yet; the rest counts.
  const candidate: Candidate = {};
  for (const typed of request.values) {
    const values = await readTyped(typed, context).catch((error: unknown) => {
      if (error instanceof Refusal) return [];
      throw error;
    });
    if (values.length) candidate[typed.field] = [...(candidate[typed.field] ?? []), ...values];
  }
  if (request.kind === 'organization') {
    const like = await likelyOrganizations(everybody, recordFrom(candidate, catalogue, { run: 0 }));
    const { seen, others } = await partedBySight(database, like, ({ contactId }) => contactId);
    return { matches: seen, clashes: [], elsewhere: others.length, erasedOn: null };
  }
  const [like, clashes] = await Promise.all([
    likelyMatches(everybody, modelVersion, candidate),
    findClashes({ ...everybody, look: everybody.pool }, catalogue, offeredOf(candidate), null),
  ]);
  const { seen, others } = await partedBySight(database, like, ({ contactId }) => contactId);
  return {
    matches: seen,
    clashes: clashes.map(({ field, value, rule, contacts, elsewhere }) => ({
      field,
      value,
      rule,
      contacts,
      elsewhere,
    })),
    elsewhere: others.length,
    erasedOn: (await blockedSince(everybody.pool, candidate)) ?? null,
  };
}

/** All that a check needs to know of the set-up, in one statement: it is asked at every pause in typing. */
async function loadForCheck({
  pool,
}: Database): Promise<{ catalogue: Catalogue; picks: PickLists; modelVersion: number | null }> {
  const { rows } = await setUpForCheck(pool);
  const [row] = rows;
  return {
    catalogue: catalogueOf(row?.catalogue ?? { fields: [], rules: [] }),
    picks: new PickLists(row?.picks ?? [], [], row?.owners ?? []),
    modelVersion: row?.version ?? null,
  };
}

/** Adds what was typed to somebody who is here: blanks are filled, several values united, nothing that stands is replaced. */
export async function addFacts(
  database: Database,
  contactId: number,
  request: EntryRequest,
  country: string,
): Promise<{ runId: number; filled: number; kept: string[] }> {
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const added = await inTransaction(database, async (tx: Tx) => {
    const candidate = await candidateOf(request, { catalogue, picks, country, client: tx.client, contactId });
    // Keys come before contacts, for everybody.
    await lockKeys(tx.client, uniqueKeysOf(catalogue, offeredOf(candidate)));
    const { record } = await requireLive(tx, contactId);
    const runId = await startRun(tx, {
      kind: 'edit',
      state: 'done',
      threadId: await handThread(tx),
      title: `Facts added to ${displayNameOf(record)}`,
      contactId,
    });
    const { operations, filled } = planWrite(contactId, record, candidate, () => 'fill', catalogue, { run: runId });
    const written = new Set(operations.map((operation) => operation.field));
    await guardUnique(
      tx,
      catalogue,
      offeredOf(candidate).filter(({ field }) => written.has(field)),
      contactId,
      request.despite,
    );
    await picks.save(tx);
    await applyChanges(tx, runId, [{ contactId, operations }]);
    const kept = Object.keys(candidate).filter((field) => !written.has(field));
    return { runId, filled, kept: kept.map((field) => catalogue.nameOf(field)) };
  });
  return added;
}
