import { areaOfRecord, foldText, summarise, type ContactSummary, type FieldType } from '@gray-loom/core/fields';
import { externalKey } from '@gray-loom/core/mapping';
import {
  indexKeys,
  keyFactsOf,
  keyHash,
  organizationWords,
  phoneBlock,
  preparePerson,
  type MatchPerson,
} from '@gray-loom/core/matching';
import {
  isRelation,
  kindOf,
  lifecycleOf,
  valuesOf,
  type ContactRecord,
  type RecordKind,
  type Value,
} from '@gray-loom/core/model';
import { ALSO_PREFIX } from '@gray-loom/core/merging';
import { contentKey } from '@gray-loom/core/writing';
import type { TallyKind } from '../db/schema';
import type { Derivation } from './derivation';

/** Everything the database keeps for one contact beside its record. */
export interface ContactRow {
  kind: RecordKind;
  summary: ContactSummary;
  area: string;
  mergedInto: number | null;
  keys: number[];
}

/** Derives the columns, look-up keys and search text of a record; the one place where they are made. `person` spares preparing it again. */
export function contactRow(record: ContactRecord, derivation: Derivation, person?: MatchPerson): ContactRow {
  const kind = kindOf(record);
  const texts =
    kind === 'person'
      ? personKeys(record, person ?? preparePerson(keyFactsOf(record)))
      : kind === 'organization'
        ? organizationKeys(record)
        : opportunityKeys(record);
  if (kind !== 'opportunity')
    for (const value of valuesOf(record, 'externalId')) texts.push(externalKey(String(value.v)));
  for (const value of valuesOf(record, 'tags')) texts.push(tagKey(String(value.v)));
  if (record.f.related)
    for (const { v } of valuesOf(record, 'related')) if (isRelation(v) && v.to) texts.push(relationKey(v.to));
  for (const { key, type } of derivation.uniqueFields)
    for (const value of record.f[key] ?? []) texts.push(uniqueKey(key, type, value));
  return {
    kind,
    summary: summarise(record),
    area: areaOfRecord(record, derivation.areas),
    mergedInto: lifecycleOf(record)?.into ?? null,
    keys: hashesOf(texts),
  };
}

function hashesOf(texts: readonly string[]): number[] {
  const hashes: number[] = [];
  for (const text of texts) {
    const hash = keyHash(text);
    if (!hashes.includes(hash)) hashes.push(hash);
  }
  return hashes;
}

function personKeys(record: ContactRecord, person: MatchPerson): string[] {
  const texts = indexKeys(person);
  if (person.organizationText) texts.push(`o:${person.organizationText}`);
  return texts;
}

/** Keys of an opportunity: its outside id, and the contact it belongs to. */
function opportunityKeys(record: ContactRecord): string[] {
  const texts = valuesOf(record, 'externalId').map((value) => opportunityIdKey(String(value.v)));
  const v = record.f.opportunityContact?.[0]?.v;
  if (isRelation(v) && v.to) texts.push(opportunityKey(v.to));
  return texts;
}

export const opportunityIdKey = (id: string): string => `y:${foldText(id) || id}`;
/** Key of the opportunities of a contact. */
export const opportunityKey = (contactId: number): string => `d:${contactId}`;

/** Keys of an organization: its names, mailboxes and phones, and what people who belong to it are found by. */
function organizationKeys(record: ContactRecord): string[] {
  const { emails, phones } = preparePerson(keyFactsOf(record));
  return [
    ...organizationNameKeys(record).map(organizationRecordKey),
    ...emails.map((box) => `e:${box.key}`),
    ...phones.map((phone) => `p:${phoneBlock(phone)}`),
  ];
}

/** The look-up key of a record of an organization, by the words of its name run together. */
export const organizationRecordKey = (words: string): string => `O:${words}`;

/** The names an organization goes by, folded, without legal form. */
export function organizationNameKeys(record: ContactRecord): string[] {
  const names = ['organization', 'nickname', 'legalName'].flatMap((field) =>
    // Names of records that were merged into it, so that their people come along.
    [...valuesOf(record, field), ...valuesOf(record, ALSO_PREFIX + field)].map(({ v }) => String(v)),
  );
  return [...new Set(names.map((name) => organizationWords(name).join('')).filter(Boolean))];
}

export function tagKey(tag: string): string {
  return `t:${tag.toLowerCase()}`;
}

/** Key of everybody who says that they are related to a contact. */
export function relationKey(contactId: number): string {
  return `r:${contactId}`;
}

/** Key under which a value of a field that is to be unique is found; those of mailboxes, phones and outside ids exist anyway. */
export function uniqueKey(field: string, type: FieldType, value: Pick<Value, 'v' | 'norm'>): string {
  return `u:${field}:${contentKey(type, value)}`;
}

/** What a live record adds to the kept counts. */
export function tallyOf({ summary: s, area }: ContactRow): [TallyKind, string][] {
  if (s.lifecycle !== 'live') return [];
  const counted: [TallyKind, string][] = [['live', '']];
  for (const tag of s.tags) counted.push(['tag', tag]);
  if (s.source) counted.push(['source', s.source]);
  if (s.stage) counted.push(['stage', s.stage]);
  if (s.owner) counted.push(['owner', s.owner]);
  if (area) counted.push(['area', area]);
  return counted;
}

/** Kind of count, label, kind of contact, and by how many. */
export type TallyChange = [kind: TallyKind, label: string, who: RecordKind, n: number];

/** Changes of the kept counts that belong to one transaction. */
export class TallyChanges {
  private readonly changes = new Map<string, TallyChange>();

  add(row: ContactRow, by: 1 | -1): void {
    for (const [kind, label] of tallyOf(row)) {
      const key = `${row.kind}\u0001${kind}\u0001${label}`;
      const known = this.changes.get(key);
      if (known) known[3] += by;
      else this.changes.set(key, [kind, label, row.kind, by]);
    }
  }

  list(): TallyChange[] {
    return [...this.changes.values()].filter(([, , , n]) => n !== 0);
  }
}
