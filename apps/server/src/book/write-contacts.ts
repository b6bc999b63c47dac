import { areaOfRecord, countedOf, summarise } from '@gray-loom/core/fields';
import {
  applyOperations,
  awaitedLater,
  kindOf,
  LIFECYCLE,
  lifecycleOf,
  ok,
  type ContactRecord,
  type Operation,
  type OperationConflict,
} from '@gray-loom/core/model';
import type pg from 'pg';
import type { Tx } from '../db/connect';
import type { FactsWho } from '../db/schema';
import { copyCell, copyLines } from '../db/copy';
import { appendChange } from '../feed/append-change';
import { followHolders } from './statements/activities';
import { columnsOf, factsJsonOf, factsWho, maySearchDiffer, movedKeys, TallyChanges } from './contact-rows';
import { loadDerivation, type Derivation } from './derivation';
import { encodeRecordJson } from '../db/record-codec';
import { emptyRendering, renderContact, toBlocks, writeBlocks, writeTally, type NewContact } from './render-contacts';
import {
  nextContactIds,
  lockRecords,
  updateContacts,
  updateTexts,
  writeFacts,
  insertFreshTexts,
  deleteTexts,
  deleteKeys,
  insertKeys,
  type LoadedContact,
} from './statements/write-contacts';

export type { LoadedContact } from './statements/write-contacts';

/** Takes a block of ids, in order. Ids that are not used after all leave a gap, which harms nobody. */
export async function takeIds(client: Pick<pg.Pool, 'query'>, count: number): Promise<number[]> {
  if (count === 0) return [];
  const { rows } = await nextContactIds(client, count);
  return rows.map((row) => row.id);
}

/** Writes new contacts with all that hangs on them. Returns their ids in order. */
export async function insertContacts(tx: Tx, runId: number, contacts: readonly NewContact[]): Promise<number[]> {
  const ids = await takeIds(tx.client, contacts.length);
  const rendered = emptyRendering(await loadDerivation(tx.client));
  const now = new Date().toISOString();
  contacts.forEach((contact, i) => renderContact(rendered, runId, ids[i] ?? 0, contact, now));
  await writeBlocks(tx, runId, toBlocks(rendered));
  return ids;
}

export interface ContactChange {
  contactId: number;
  operations: Operation[];
  sourceRow?: number | null;
  /** The contact's record after it, where that was worked out already. */
  record?: ContactRecord;
}

/** Loads contacts and locks them until the transaction ends, in order of id so that two writers cannot block each other for good. */
export async function lockContacts(tx: Tx, ids: readonly number[]): Promise<Map<number, LoadedContact>> {
  if (ids.length === 0) return new Map();
  const rows = await lockRecords(tx.client, [...new Set(ids)]);
  return new Map(rows.map((row) => [row.id, row]));
}

/** A change that could not be written because something moved since it was planned. */
export class ChangeConflict extends Error {
  /** Planned anew it may well apply. */
  readonly retryable = true;

  constructor(
    readonly contactId: number,
    readonly conflicts: OperationConflict[],
  ) {
    super(`a change of contact ${contactId} no longer applies`);
  }
}

/** How changes are applied. */
export interface ApplyOptions {
  /** When the changes were made, where that is not now. */
  at?: Date;
  /** Contacts that the transaction has under lock already, as they are. */
  locked?: ReadonlyMap<number, LoadedContact>;
  /** Search texts that changed wait for placeTexts. */
  textsLater?: boolean;
  /** Contacts that were deleted or merged away are changed as well: what is taken back, and what keeps all records in one form. */
  evenGone?: boolean;
}

/**
 * Applies operations to contacts under lock and writes everything that follows from them: columns, keys, search text,
 * operations. Throws ChangeConflict when a `before` does not hold or the contact is gone, so that the caller's transaction leaves
 * nothing.
 */
export async function applyChanges(
  tx: Tx,
  runId: number,
  changes: readonly ContactChange[],
  { at, locked, textsLater = false, evenGone = false }: ApplyOptions = {},
): Promise<Map<number, ContactRecord>> {
  const asked = changes.filter((change) => change.operations.length > 0);
  const loaded = locked
    ? new Map(locked)
    : await lockContacts(
        tx,
        asked.map((change) => change.contactId),
      );
  const operations: string[] = [];
  /** What was written, an entry a version. */
  const written: number[] = [];
  const versions: number[] = [];
  const results = new Map<number, ContactRecord>();
  const final = new Map<number, Change>();
  for (const { contactId, operations: list, sourceRow, record } of asked) {
    const contact = loaded.get(contactId);
    if (!contact || (!evenGone && writesIntoGone(contact.record, list))) throw new ChangeConflict(contactId, []);
    const applied = record ? ok(record) : applyOperations(contact.record, list);
    if (!applied.ok) throw new ChangeConflict(contactId, applied.error);
    const version = contact.version + 1;
    final.set(contactId, { before: final.get(contactId)?.before ?? contact.record, after: applied.value, version });
    loaded.set(contactId, { id: contactId, version, record: applied.value });
    results.set(contactId, applied.value);
    written.push(contactId);
    versions.push(version);
    operations.push(
      [runId, contactId, version, sourceRow ?? null, JSON.stringify(list.map(({ target: _target, ...rest }) => rest))]
        .map(copyCell)
        .join('\t'),
    );
  }
  const derivation = await loadDerivation(tx.client);
  const tally = new TallyChanges(derivation.remits);
  const changed = [...final];
  let writing: Promise<void> = Promise.resolve();
  try {
    for (let from = 0; from < changed.length; from += SLICE) {
      // Worked out while the database still writes the slice before.
      const slice = derive(changed.slice(from, from + SLICE), derivation, tally);
      await writing;
      writing = awaitedLater(writeSlice(tx, runId, slice, textsLater, at));
    }
  } finally {
    // Nothing may be under way when the transaction ends, whichever way it does.
    await Promise.allSettled([writing]);
  }
  await writing;
  const merged = changed.filter(([, { before, after }]) => intoOf(before) !== intoOf(after)).map(([id]) => id);
  if (merged.length) await followHolders(tx.client, merged);
  await writeTally(tx, tally.list(), tally.ofRemits());
  await copyLines(tx.client, 'public.operation', 'run_id, contact_id, version, source_row, changes', operations);
  await appendChange(tx, { kind: 'values', runId, contacts: written, versions });
  return results;
}

/** The contact that a record was merged into; null of one that was not. */
const intoOf = (record: ContactRecord): number | null => lifecycleOf(record)?.into ?? null;

/** Whether operations change a contact that is gone, and do not bring it back. */
function writesIntoGone(record: ContactRecord, operations: readonly Operation[]): boolean {
  return lifecycleOf(record) !== null && !operations.some(({ field }) => field === LIFECYCLE);
}

/** Contacts worked out while the database writes others. */
const SLICE = 250;

interface Change {
  before: ContactRecord;
  after: ContactRecord;
  version: number;
}

/** What the tables get for some changed contacts. */
interface Slice {
  /** Columns with the record, as JSON texts. */
  updates: string[];
  searchTexts: [id: number, text: string][];
  /** What conditions look at, where it changed, as JSON texts. */
  facts: string[];
  dropKeys: [key: number, id: number][];
  addKeys: [key: number, id: number][];
}

function derive(changed: readonly [number, Change][], derivation: Derivation, tally: TallyChanges): Slice {
  const slice: Slice = { updates: [], searchTexts: [], facts: [], dropKeys: [], addKeys: [] };
  for (const [id, { before, after, version }] of changed) {
    const { kind, summary: s, area, mergedInto } = columnsOf(after, derivation);
    const [oldKeys, keys] = movedKeys(before, after, derivation);
    for (const key of oldKeys) if (!keys.includes(key)) slice.dropKeys.push([key, id]);
    for (const key of keys) if (!oldKeys.includes(key)) slice.addKeys.push([key, id]);
    tally.add(kindOf(before), countedOf(before), areaOfRecord(before, derivation.areas), -1);
    tally.add(kind, s, area, 1);
    const columns = JSON.stringify({
      id,
      version,
      kind,
      state: s.lifecycle,
      merged_into: mergedInto,
      display_name: s.displayName,
      list_name: s.listName,
      sort_family: s.sortFamily,
      sort_given: s.sortGiven,
      email: s.email,
      tel: s.tel,
      organization: s.organization,
      stage: s.stage,
      source: s.source,
      owner: s.owner,
      area,
      tags: s.tags,
      completeness: s.completeness,
    });
    slice.updates.push(`${columns.slice(0, -1)},"record":${encodeRecordJson(after)}}`);
    if (maySearchDiffer(before, after, derivation) && summarise(before).searchText !== s.searchText)
      slice.searchTexts.push([id, s.searchText]);
    const who = factsWho(kind, s.lifecycle);
    const facts = factsJsonOf(after);
    if (who !== null && (who !== whoOf(before) || facts !== factsJsonOf(before)))
      slice.facts.push(`{"contact_id":${id},"who":${who},"facts":${facts}}`);
  }
  return slice;
}

const whoOf = (record: ContactRecord): FactsWho | null =>
  factsWho(kindOf(record), lifecycleOf(record)?.state ?? 'live');

async function writeSlice(tx: Tx, runId: number, slice: Slice, textsLater: boolean, at?: Date): Promise<void> {
  await writeUpdates(tx, runId, slice.updates, at);
  await (textsLater ? layAsideTexts : writeSearchTexts)(tx, slice.searchTexts);
  if (slice.facts.length) await writeFacts(tx.client, `[${slice.facts.join(',')}]`);
  await writeKeys(tx, slice.dropKeys, slice.addKeys);
}

async function writeUpdates(tx: Tx, runId: number, updates: readonly string[], at?: Date): Promise<void> {
  await updateContacts(tx.client, `[${updates.join(',')}]`, runId, at?.toISOString() ?? null);
}

async function writeSearchTexts(tx: Tx, texts: readonly [number, string][]): Promise<void> {
  if (!texts.length) return;
  // In this order: a text that is being put in place meanwhile is found there once it is.
  for (const table of ['contact_search_fresh', 'contact_search'])
    await updateTexts(
      tx.client,
      texts.map(([id]) => id),
      texts.map(([, text]) => text),
      table,
    );
}

/** Takes texts from under the index, to be put there behind the import: changing them in place is half of what a change costs. */
async function layAsideTexts(tx: Tx, texts: readonly [number, string][]): Promise<void> {
  if (!texts.length) return;
  const ids = texts.map(([id]) => id);
  // In this order: where one is being put in place meanwhile, the first waits for that and the second finds it there.
  await insertFreshTexts(
    tx.client,
    ids,
    texts.map(([, text]) => text),
  );
  await deleteTexts(tx.client, ids);
}

/** Takes look-up keys away and adds others, as pairs of key and contact; one that is there already stays as it is. */
export async function writeKeys(
  tx: Tx,
  drop: readonly [number, number][],
  add: readonly [number, number][],
): Promise<void> {
  const columns = (pairs: readonly [number, number][]) => [
    pairs.map(([key]) => String(key)),
    pairs.map(([, id]) => id),
  ];
  if (drop.length) {
    await deleteKeys(tx.client, columns(drop));
  }
  if (add.length) {
    await insertKeys(tx.client, columns(add));
  }
}
