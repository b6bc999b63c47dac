import type { MatchPerson } from '@gray-loom/core/matching';
import { applyOperations, type ContactRecord, type Operation, type OperationConflict } from '@gray-loom/core/model';
import type pg from 'pg';
import type { Tx } from '../db/connect';
import { copyArray, copyBytes, copyCell, copyCells, copyJson, copyLines } from '../db/copy';
import { contactRow } from './contact-rows';
import { encodeRecord, encodeRecordJson, selectRecords } from '../db/record-codec';

export interface NewContact {
  record: ContactRecord;
  sourceRow?: number | null;
  /** When it came to be, where that is not now. */
  at?: Date;
  /** The record prepared for matching, where that was done already. */
  person?: MatchPerson;
}

/** New contacts made ready for COPY. Rendering needs no transaction, so it can go on while an earlier chunk is written. */
export interface RenderedContacts {
  rows: string[];
  /** Look-up keys and, in step with them, whose they are. */
  keys: number[];
  keyOwners: number[];
  search: string[];
  operations: string[];
}

/** Takes a block of ids, in order. Ids that are not used after all leave a gap, which harms nobody. */
export async function takeIds(client: Pick<pg.Pool, 'query'>, count: number): Promise<number[]> {
  if (count === 0) return [];
  const { rows } = await client.query<{ id: number }>(
    `select nextval('contact_id_seq') as id from generate_series(1, $1)`,
    [count],
  );
  return rows.map((row) => row.id);
}

export function emptyRendering(): RenderedContacts {
  return { rows: [], keys: [], keyOwners: [], search: [], operations: [] };
}

/** Renders one new contact with its keys, search text and operation. */
export function renderContact(
  into: RenderedContacts,
  runId: number,
  id: number,
  { record, sourceRow, at, person }: NewContact,
  nowIso: string,
): void {
  const { summary: s, mergedInto, keys } = contactRow(record, person);
  const when = at?.toISOString() ?? nowIso;
  const words = [s.displayName, s.sortFamily, s.sortGiven, s.email, s.tel, s.organization, s.stage, s.source, s.owner];
  into.rows.push(
    `${id}\t1\t${s.lifecycle}\t${mergedInto ?? '\\N'}\t${copyCells(words)}\t${copyCell(copyArray(s.tags))}\t${s.completeness}\t${runId}\t${runId}\t${when}\t${when}\t${copyJson(encodeRecordJson(record))}`,
  );
  for (const key of keys) {
    into.keys.push(key);
    into.keyOwners.push(id);
  }
  into.search.push(`${id}\t${copyCell(s.searchText)}`);
  into.operations.push(`${runId}\t${id}\t1\t${sourceRow ?? '\\N'}`);
}

const CONTACT_COLUMNS =
  'id, version, state, merged_into, display_name, sort_family, sort_given, email, tel, organization, stage, source, owner, tags, completeness, created_run, last_run, created_at, touched_at, record';

/** Rendered contacts as bytes, one block for each table; they can be handed from thread to thread. */
export interface ContactBlocks {
  contacts: Uint8Array;
  keys: Uint8Array;
  search: Uint8Array;
  operations: Uint8Array;
}

/** Keys in their order: what stands side by side in the index is written side by side, which spares a quarter of its cost. */
function keyLines({ keys, keyOwners }: RenderedContacts): string[] {
  const order = Uint32Array.from(keys.keys()).sort((a, b) => (keys[a] ?? 0) - (keys[b] ?? 0));
  return Array.from(order, (i) => `${keys[i]}\t${keyOwners[i]}`);
}

export function toBlocks(rendered: RenderedContacts): ContactBlocks {
  const encoder = new TextEncoder();
  const block = (lines: readonly string[]) => encoder.encode(lines.length ? `${lines.join('\n')}\n` : '');
  return {
    contacts: block(rendered.rows),
    keys: block(keyLines(rendered)),
    search: block(rendered.search),
    operations: block(rendered.operations),
  };
}

/** Writes rendered contacts by COPY, in the caller's transaction. */
export async function writeBlocks(tx: Tx, blocks: ContactBlocks): Promise<void> {
  await copyBytes(tx.client, 'contact', CONTACT_COLUMNS, blocks.contacts);
  await copyBytes(tx.client, 'contact_key', 'key, contact_id', blocks.keys);
  await copyBytes(tx.client, 'contact_search', 'contact_id, text', blocks.search);
  await copyBytes(tx.client, 'operation', 'run_id, contact_id, version, source_row', blocks.operations);
}

/** Writes new contacts with all that hangs on them. Returns their ids in order. */
export async function insertContacts(tx: Tx, runId: number, contacts: readonly NewContact[]): Promise<number[]> {
  const ids = await takeIds(tx.client, contacts.length);
  const rendered = emptyRendering();
  const now = new Date().toISOString();
  contacts.forEach((contact, i) => renderContact(rendered, runId, ids[i] ?? 0, contact, now));
  await writeBlocks(tx, toBlocks(rendered));
  return ids;
}

export interface ContactChange {
  contactId: number;
  operations: Operation[];
  sourceRow?: number | null;
}

export interface LoadedContact {
  id: number;
  version: number;
  record: ContactRecord;
}

/** Loads contacts and locks them until the transaction ends, in order of id so that two writers cannot block each other for good. */
export async function lockContacts(tx: Tx, ids: readonly number[]): Promise<Map<number, LoadedContact>> {
  if (ids.length === 0) return new Map();
  const rows = await selectRecords<LoadedContact>(
    tx.client,
    'select id, version, record from contact where id = any($1::bigint[]) order by id for update',
    [[...new Set(ids)]],
  );
  return new Map(rows.map((row) => [row.id, row]));
}

/** A change that could not be written because something moved since it was planned. */
export class ChangeConflict extends Error {
  constructor(
    readonly contactId: number,
    readonly conflicts: OperationConflict[],
  ) {
    super(`a change of contact ${contactId} no longer applies`);
  }
}

/**
 * Applies operations to contacts under lock and writes everything that follows from them: columns, keys, search text,
 * operations. Throws ChangeConflict when a `before` does not hold, so that the caller's transaction leaves nothing.
 */
export async function applyChanges(
  tx: Tx,
  runId: number,
  changes: readonly ContactChange[],
  at?: Date,
): Promise<Map<number, ContactRecord>> {
  const written = changes.filter((change) => change.operations.length > 0);
  const loaded = await lockContacts(
    tx,
    written.map((change) => change.contactId),
  );
  const dropKeys: [number, number][] = [];
  const addKeys: [number, number][] = [];
  const updates: Record<string, unknown>[] = [];
  const operations: string[] = [];
  const results = new Map<number, ContactRecord>();
  const final = new Map<number, { before: ContactRecord; after: ContactRecord; version: number }>();
  for (const { contactId, operations: list, sourceRow } of written) {
    const contact = loaded.get(contactId);
    if (!contact) throw new ChangeConflict(contactId, []);
    const applied = applyOperations(contact.record, list);
    if (!applied.ok) throw new ChangeConflict(contactId, applied.error);
    const version = contact.version + 1;
    final.set(contactId, { before: final.get(contactId)?.before ?? contact.record, after: applied.value, version });
    loaded.set(contactId, { id: contactId, version, record: applied.value });
    results.set(contactId, applied.value);
    operations.push(
      [runId, contactId, version, sourceRow ?? null, JSON.stringify(list.map(({ target: _target, ...rest }) => rest))]
        .map(copyCell)
        .join('\t'),
    );
  }
  for (const [id, { before, after, version }] of final) {
    const old = contactRow(before);
    const { summary: s, mergedInto, keys } = contactRow(after);
    const [was, is] = [new Set(old.keys), new Set(keys)];
    for (const key of was) if (!is.has(key)) dropKeys.push([key, id]);
    for (const key of is) if (!was.has(key)) addKeys.push([key, id]);
    updates.push({
      id,
      version,
      state: s.lifecycle,
      merged_into: mergedInto,
      display_name: s.displayName,
      sort_family: s.sortFamily,
      sort_given: s.sortGiven,
      email: s.email,
      tel: s.tel,
      organization: s.organization,
      stage: s.stage,
      source: s.source,
      owner: s.owner,
      tags: s.tags,
      completeness: s.completeness,
      record: encodeRecord(after),
      search: old.summary.searchText === s.searchText ? null : s.searchText,
    });
  }
  await writeUpdates(tx, runId, updates, at);
  await writeKeys(tx, dropKeys, addKeys);
  await copyLines(tx.client, 'operation', 'run_id, contact_id, version, source_row, changes', operations);
  return results;
}

const BATCH = 1000;

async function writeUpdates(
  tx: Tx,
  runId: number,
  updates: readonly Record<string, unknown>[],
  at?: Date,
): Promise<void> {
  for (let i = 0; i < updates.length; i += BATCH) {
    const json = JSON.stringify(updates.slice(i, i + BATCH));
    await tx.client.query(
      `update contact c set version = u.version, state = u.state, merged_into = u.merged_into, display_name = u.display_name,
         sort_family = u.sort_family, sort_given = u.sort_given, email = u.email, tel = u.tel, organization = u.organization,
         stage = u.stage, source = u.source, owner = u.owner, tags = u.tags, completeness = u.completeness,
         record = u.record, last_run = $2, touched_at = coalesce($3::timestamptz, now())
       from jsonb_to_recordset($1::jsonb) as u(id bigint, version int, state text, merged_into bigint, display_name text,
         sort_family text, sort_given text, email text, tel text, organization text, stage text, source text, owner text,
         tags text[], completeness smallint, record json)
       where c.id = u.id`,
      [json, runId, at?.toISOString() ?? null],
    );
    await tx.client.query(
      `update contact_search s set text = u.search from jsonb_to_recordset($1::jsonb) as u(id bigint, search text)
       where s.contact_id = u.id and u.search is not null`,
      [json],
    );
  }
}

async function writeKeys(tx: Tx, drop: readonly [number, number][], add: readonly [number, number][]): Promise<void> {
  const columns = (pairs: readonly [number, number][]) => [
    pairs.map(([key]) => String(key)),
    pairs.map(([, id]) => id),
  ];
  if (drop.length) {
    await tx.client.query(
      'delete from contact_key k using unnest($1::bigint[], $2::bigint[]) as d(key, contact_id) where k.key = d.key and k.contact_id = d.contact_id',
      columns(drop),
    );
  }
  if (add.length) {
    await tx.client.query(
      'insert into contact_key (key, contact_id) select * from unnest($1::bigint[], $2::bigint[]) on conflict do nothing',
      columns(add),
    );
  }
}
