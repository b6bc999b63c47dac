import { isDeepStrictEqual } from 'node:util';
import { areaOf, completenessOf } from '@gray-loom/core/fields';
import type { PlainRow } from '@gray-loom/core/mapping';
import type { MatchPerson } from '@gray-loom/core/matching';
import type { ContactRecord } from '@gray-loom/core/model';
import { factsJson } from '@gray-loom/core/segments';
import type { Tx } from '../db/connect';
import { copyArray, copyBytes, copyCell, copyCells, copyJson, CopyLines, copyPairs } from '../db/copy';
import { encodeRecordJson, saidRecordJson } from '../db/record-codec';
import { appendChange } from '../feed/append-change';
import type { ContactRow, RemitTally, TallyChange } from './contact-rows';
import { contactRow, factsJsonOf, factsWho, TallyChanges } from './contact-rows';
import type { Derivation } from './derivation';
import { selectRemits } from './statements/derivation';
import { insertRemitTallies, recountRemits } from './statements/remits';
import { insertTallies } from './statements/render-contacts';

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
  rows: CopyLines;
  /** Look-up keys and, in step with them, whose they are. */
  keys: number[];
  keyOwners: number[];
  ids: number[];
  search: CopyLines;
  facts: CopyLines;
  operations: CopyLines;
  tally: TallyChanges;
  derivation: Derivation;
}

/** Nothing rendered yet; with room for so many contacts to begin with. */
export function emptyRendering(derivation: Derivation, expected = 1): RenderedContacts {
  return {
    rows: new CopyLines(expected * 800),
    keys: [],
    keyOwners: [],
    ids: [],
    search: new CopyLines(expected * 100),
    facts: new CopyLines(expected * 300),
    operations: new CopyLines(expected * 40),
    tally: new TallyChanges(derivation.remits),
    derivation,
  };
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
  renderRow(into, runId, id, row, encodeRecordJson(record), sourceRow ?? null, at?.toISOString() ?? nowIso);
  const who = factsWho(row.kind, row.summary.lifecycle);
  if (who !== null) into.facts.add(`${id}\t${who}\t${copyJson(factsJsonOf(record))}`);
}

/** The same for a row that read without a doubt, where no field is to be unique. */
export function renderPlain(
  into: RenderedContacts,
  runId: number,
  id: number,
  sourceRow: number,
  { fields, summary, address, hashes }: PlainRow,
  nowIso: string,
): void {
  const { areas, weights } = into.derivation;
  const area = address && areas.length ? areaOf(address, areas) : '';
  const there = weights && new Set(fields.map(({ key }) => key));
  const weighed = there
    ? { ...summary, completeness: completenessOf('person', (key) => there.has(key), weights) }
    : summary;
  const row: ContactRow = { kind: 'person', summary: weighed, area, mergedInto: null, keys: hashes };
  renderRow(into, runId, id, row, saidRecordJson(fields, runId, sourceRow), sourceRow, nowIso);
  const facts = factsJson(fields.map(({ key, values }) => [key, values.map(({ value }) => value)] as const));
  into.facts.add(`${id}\t1\t${copyJson(facts)}`);
}

function renderRow(
  into: RenderedContacts,
  runId: number,
  id: number,
  { kind, summary: s, area, mergedInto, keys }: ContactRow,
  recordJson: string,
  sourceRow: number | null,
  when: string,
): void {
  into.tally.add(kind, s, area, 1);
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
  into.rows.add(
    `${id}\t1\t${kind}\t${s.lifecycle}\t${mergedInto ?? '\\N'}\t${copyCells(words)}\t${copyCell(copyArray(s.tags))}\t` +
      `${s.completeness}\t${runId}\t${runId}\t${when}\t${when}\t${copyJson(recordJson)}`,
  );
  for (const key of keys) {
    into.keys.push(key);
    into.keyOwners.push(id);
  }
  into.ids.push(id);
  into.search.add(`${id}\t${copyCell(s.searchText)}`);
  into.operations.add(`${runId}\t${id}\t1\t${sourceRow ?? '\\N'}`);
}

const CONTACT_COLUMNS =
  'id, version, kind, state, merged_into, display_name, list_name, sort_family, sort_given, email, tel, ' +
  'organization, stage, source, owner, area, tags, completeness, created_run, last_run, created_at, touched_at, record';

/** Rendered contacts in one piece for each table; they can be handed from thread to thread. */
export interface ContactBlocks {
  contacts: Uint8Array<ArrayBuffer>;
  keys: Float64Array<ArrayBuffer>;
  keyOwners: Float64Array<ArrayBuffer>;
  /** Whose rows these are, in order. */
  ids: Float64Array<ArrayBuffer>;
  search: Uint8Array<ArrayBuffer>;
  facts: Uint8Array<ArrayBuffer>;
  operations: Uint8Array<ArrayBuffer>;
  tally: TallyChange[];
  remitTally: RemitTally;
}

export function toBlocks({
  rows,
  keys,
  keyOwners,
  ids,
  search,
  facts,
  operations,
  tally,
}: RenderedContacts): ContactBlocks {
  return {
    contacts: rows.taken(),
    keys: Float64Array.from(keys),
    keyOwners: Float64Array.from(keyOwners),
    ids: Float64Array.from(ids),
    search: search.taken(),
    facts: facts.taken(),
    operations: operations.taken(),
    tally: tally.list(),
    remitTally: tally.ofRemits(),
  };
}

/** The memory of blocks, for handing it over. */
export function memoryOf({ contacts, keys, keyOwners, ids, search, facts, operations }: ContactBlocks): ArrayBuffer[] {
  return [contacts, keys, keyOwners, ids, search, facts, operations].map(({ buffer }) => buffer);
}

/** Writes rendered contacts by COPY, in the caller's transaction; with `textsLater` their search texts wait for placeTexts. */
export async function writeBlocks(
  tx: Tx,
  runId: number,
  blocks: ContactBlocks,
  { textsLater = false } = {},
): Promise<void> {
  await copyBytes(tx.client, 'public.contact', CONTACT_COLUMNS, blocks.contacts);
  await copyPairs(tx.client, 'contact_key', 'key, contact_id', blocks.keys, blocks.keyOwners);
  await copyBytes(tx.client, textsLater ? 'contact_search_fresh' : 'contact_search', 'contact_id, text', blocks.search);
  await copyBytes(tx.client, 'public.contact_facts', 'contact_id, who, facts', blocks.facts);
  await copyBytes(tx.client, 'public.operation', 'run_id, contact_id, version, source_row', blocks.operations);
  await writeTally(tx, blocks.tally, blocks.remitTally);
  await appendChange(tx, {
    kind: 'values',
    runId,
    contacts: [...blocks.ids],
    versions: new Array<number>(blocks.ids.length).fill(1),
  });
}

/** Adds changes of the kept counts, in the transaction that causes them. */
export async function writeTally(tx: Tx, changes: readonly TallyChange[], within: RemitTally): Promise<void> {
  if (changes.length)
    await insertTallies(
      tx.client,
      [0, 1, 2, 3].map((i) => changes.map((change) => change[i])),
    );
  await writeRemitTally(tx, within);
}

/** Adds what changed within remits; where a remit is another by now than when that was worked out, it is counted anew. */
async function writeRemitTally(tx: Tx, { remits, changes }: RemitTally): Promise<void> {
  const now = (await selectRemits(tx.client)).rows[0]?.remits ?? [];
  if (!now.length) return;
  const before = new Map(remits.map((remit) => [remit.accountId, remit]));
  const changed = now.filter((remit) => !isDeepStrictEqual(remit, before.get(remit.accountId)));
  const others = new Set(changed.map(({ accountId }) => accountId));
  const standing = changes.filter(([accountId]) => !others.has(accountId));
  if (standing.length)
    await insertRemitTallies(
      tx.client,
      [0, 1, 2, 3, 4].map((i) => standing.map((change) => change[i])),
    );
  if (others.size) await recountRemits(tx.client, [...others]);
}
