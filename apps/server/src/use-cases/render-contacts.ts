import type { MatchPerson } from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Tx } from '../db/connect';
import { copyArray, copyBytes, copyCell, copyCells, copyJson, copyPairs } from '../db/copy';
import { encodeRecordJson } from '../db/record-codec';
import type { TallyChange } from './contact-rows';
import { contactRow, TallyChanges } from './contact-rows';
import type { Derivation } from './derivation';

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
  tally: TallyChanges;
  derivation: Derivation;
}

export function emptyRendering(derivation: Derivation): RenderedContacts {
  return { rows: [], keys: [], keyOwners: [], search: [], operations: [], tally: new TallyChanges(), derivation };
}

/** Renders one new contact with its keys, search text and operation. */
export function renderContact(
  into: RenderedContacts,
  runId: number,
  id: number,
  { record, sourceRow, at, person }: NewContact,
  nowIso: string,
): void {
  const row = contactRow(record, into.derivation, person);
  const { kind, summary: s, area, mergedInto, keys } = row;
  into.tally.add(row, 1);
  const when = at?.toISOString() ?? nowIso;
  const words = [
    s.displayName,
    s.listName,
    s.sortFamily,
    s.sortGiven,
    s.email,
    s.tel,
    s.organization,
    s.stage,
    s.source,
    s.owner,
    area,
  ];
  into.rows.push(
    `${id}\t1\t${kind}\t${s.lifecycle}\t${mergedInto ?? '\\N'}\t${copyCells(words)}\t${copyCell(copyArray(s.tags))}\t${s.completeness}\t${runId}\t${runId}\t${when}\t${when}\t${copyJson(encodeRecordJson(record))}`,
  );
  for (const key of keys) {
    into.keys.push(key);
    into.keyOwners.push(id);
  }
  into.search.push(`${id}\t${copyCell(s.searchText)}`);
  into.operations.push(`${runId}\t${id}\t1\t${sourceRow ?? '\\N'}`);
}

const CONTACT_COLUMNS =
  'id, version, kind, state, merged_into, display_name, list_name, sort_family, sort_given, email, tel, organization, stage, source, owner, area, tags, completeness, created_run, last_run, created_at, touched_at, record';

/** Rendered contacts in one piece for each table; they can be handed from thread to thread. */
export interface ContactBlocks {
  contacts: string;
  keys: Float64Array;
  keyOwners: Float64Array;
  search: string;
  operations: string;
  tally: TallyChange[];
}

export function toBlocks({ rows, keys, keyOwners, search, operations, tally }: RenderedContacts): ContactBlocks {
  const block = (lines: readonly string[]) => (lines.length ? `${lines.join('\n')}\n` : '');
  return {
    contacts: block(rows),
    keys: Float64Array.from(keys),
    keyOwners: Float64Array.from(keyOwners),
    search: block(search),
    operations: block(operations),
    tally: tally.list(),
  };
}

/** Writes rendered contacts by COPY, in the caller's transaction. */
export async function writeBlocks(tx: Tx, blocks: ContactBlocks): Promise<void> {
  await copyBytes(tx.client, 'contact', CONTACT_COLUMNS, Buffer.from(blocks.contacts));
  await copyPairs(tx.client, 'contact_key', 'key, contact_id', blocks.keys, blocks.keyOwners);
  await copyBytes(tx.client, 'contact_search', 'contact_id, text', Buffer.from(blocks.search));
  await copyBytes(tx.client, 'operation', 'run_id, contact_id, version, source_row', Buffer.from(blocks.operations));
  await writeTally(tx, blocks.tally);
}

/** Adds changes of the kept counts, in the transaction that causes them. */
export async function writeTally(tx: Tx, changes: readonly TallyChange[]): Promise<void> {
  if (!changes.length) return;
  await tx.client.query(
    'insert into tally (kind, label, who, n) select * from unnest($1::text[], $2::text[], $3::text[], $4::int[])',
    [0, 1, 2, 3].map((i) => changes.map((change) => change[i])),
  );
}
