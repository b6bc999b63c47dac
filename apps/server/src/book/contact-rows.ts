import { isWithin } from '../db/remits';
import type { CountedRemit } from './statements/derivation';
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
  ALSO_PREFIX,
  firstText,
  isRelation,
  kindOf,
  lifecycleOf,
  valuesOf,
  type ContactRecord,
  type RecordKind,
  type Value,
} from '@gray-loom/core/model';
import { factsJson } from '@gray-loom/core/segments';
import { contentKey } from '@gray-loom/core/writing';
import type { FactsWho, TallyKind } from '../db/schema';
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
  return { ...columnsOf(record, derivation), keys: contactKeys(record, derivation, person) };
}

/** The same without keys. */
export function columnsOf(record: ContactRecord, derivation: Derivation): Omit<ContactRow, 'keys'> {
  return {
    kind: kindOf(record),
    summary: summarise(record, derivation.weights ?? undefined),
    area: areaOfRecord(record, derivation.areas),
    mergedInto: lifecycleOf(record)?.into ?? null,
  };
}

/** Kind and state in one, as conditions are kept by; null of an opportunity, which no condition is about. */
export function factsWho(kind: RecordKind, lifecycle: ContactSummary['lifecycle']): FactsWho | null {
  if (kind === 'opportunity') return null;
  if (lifecycle === 'merged' || lifecycle === 'erased') return 0;
  if (lifecycle === 'live') return kind === 'person' ? 1 : 2;
  return kind === 'person' ? 3 : 4;
}

/** What conditions look at, as JSON text. */
export const factsJsonOf = (record: ContactRecord): string =>
  factsJson(Object.keys(record.f).map((field) => [field, valuesOf(record, field)] as const));

/** Numbers of the keys that a record is looked up by. */
export function contactKeys(record: ContactRecord, derivation: Derivation, person?: MatchPerson): number[] {
  return hashesOf([...whoKeys(record, derivation, person), ...besideKeys(record)]);
}

/** Fields that a person is known by; the keys of names, mailboxes and phones are made of nothing else. */
const KNOWN_BY = 'givenName additionalNames familyName fullName email tel'.split(' ');

/**
 * Keys of two states of a record, those left out that both have for certain. Law: what the one has and the other has not is
 * the same as of all their keys.
 */
export function movedKeys(before: ContactRecord, after: ContactRecord, derivation: Derivation): [number[], number[]] {
  const both = (keysOf: (record: ContactRecord) => string[]): [number[], number[]] => [
    hashesOf(keysOf(before)),
    hashesOf(keysOf(after)),
  ];
  if (differsBeside(before, after, derivation)) return both(besideKeys);
  const isWhoTheyWere =
    kindOf(before) === 'person' &&
    kindOf(after) === 'person' &&
    KNOWN_BY.every((field) => before.f[field] === after.f[field]);
  if (!isWhoTheyWere) return [contactKeys(before, derivation), contactKeys(after, derivation)];
  return both((record) => [
    ...organizationKey(organizationWords(firstText(record, 'organization')).join('')),
    ...idKeys(record, derivation),
    ...besideKeys(record),
  ]);
}

/** Fields that somebody is not looked up by, tags and relationships apart. */
const BESIDE: ReadonlySet<string> = new Set('adr bday note title stage source owner tags related'.split(' '));

/** Those of them that somebody is found by all the same. */
const FOUND_BY = ['adr', 'note', 'title'] as const;

/** Whether the search texts of two states of a record may differ. Law: where they do, this says so. */
export const maySearchDiffer = (before: ContactRecord, after: ContactRecord, derivation: Derivation): boolean =>
  !differsBeside(before, after, derivation) || FOUND_BY.some((field) => before.f[field] !== after.f[field]);

/**
 * Whether two states of a record differ in what nobody is recognised by: then its keys are the same but for those of tags and
 * relationships.
 */
export function differsBeside(before: ContactRecord, after: ContactRecord, { uniqueFields }: Derivation): boolean {
  const isBeside = (field: string) =>
    before.f[field] === after.f[field] || (BESIDE.has(field) && !uniqueFields.some(({ key }) => key === field));
  return Object.keys(before.f).every(isBeside) && Object.keys(after.f).every(isBeside);
}

/** Keys of who somebody is: name, mailboxes, phones, outside ids, values that are to be unique. */
function whoKeys(record: ContactRecord, derivation: Derivation, person?: MatchPerson): string[] {
  const kind = kindOf(record);
  const texts =
    kind === 'person'
      ? personKeys(person ?? preparePerson(keyFactsOf(record)))
      : kind === 'organization'
        ? organizationKeys(record)
        : opportunityKeys(record);
  texts.push(...idKeys(record, derivation));
  return texts;
}

/** Keys of outside ids, which those of an opportunity are among its own, and of values that are to be unique. */
function idKeys(record: ContactRecord, { uniqueFields }: Derivation): string[] {
  const texts: string[] = [];
  if (kindOf(record) !== 'opportunity')
    for (const value of valuesOf(record, 'externalId')) texts.push(externalKey(String(value.v)));
  for (const { key, type } of uniqueFields)
    for (const value of record.f[key] ?? []) texts.push(uniqueKey(key, type, value));
  return texts;
}

function besideKeys(record: ContactRecord): string[] {
  const texts = valuesOf(record, 'tags').map((value) => tagKey(String(value.v)));
  if (record.f.related)
    for (const { v } of valuesOf(record, 'related')) if (isRelation(v) && v.to) texts.push(relationKey(v.to));
  return texts;
}

function hashesOf(texts: readonly string[]): number[] {
  const hashes: number[] = [];
  for (const text of texts) {
    const hash = keyHash(text);
    if (!hashes.includes(hash)) hashes.push(hash);
  }
  return hashes;
}

function personKeys(person: MatchPerson): string[] {
  return [...indexKeys(person), ...organizationKey(person.organizationText)];
}

const organizationKey = (words: string): string[] => (words ? [`o:${words}`] : []);

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

/** What of a record is counted. */
type Counted = Pick<ContactSummary, 'lifecycle' | 'tags' | 'source' | 'stage' | 'owner'>;

/** What a live record adds to the kept counts. */
function tallyOf(s: Counted, area: string): [TallyKind, string][] {
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

/** What a transaction changes within remits, as they were when it was worked out. */
export interface RemitTally {
  remits: CountedRemit[];
  changes: RemitTallyChange[];
}

/** Changes of the counts of one remit, with the account it is of. */
export type RemitTallyChange = [accountId: number, ...TallyChange];

/** Changes of the kept counts that belong to one transaction: of all, and of those within each remit. */
export class TallyChanges {
  private readonly changes = new Map<string, TallyChange>();
  private readonly within: { remit: CountedRemit; tally: TallyChanges }[];

  constructor(readonly remits: readonly CountedRemit[] = []) {
    this.within = remits.map((remit) => ({ remit, tally: new TallyChanges() }));
  }

  add(who: RecordKind, counted: Counted, area: string, by: 1 | -1): void {
    // Opportunities are seen with their contacts, and there are few: they are counted when they are asked for.
    if (who !== 'opportunity')
      for (const { remit, tally } of this.within)
        if (isWithin(remit, { ...counted, area })) tally.add(who, counted, area, by);
    for (const [kind, label] of tallyOf(counted, area)) {
      const key = `${who}\u0001${kind}\u0001${label}`;
      const known = this.changes.get(key);
      if (known) known[3] += by;
      else this.changes.set(key, [kind, label, who, by]);
    }
  }

  /** What changed within remits, and which remits these were. */
  ofRemits(): RemitTally {
    return {
      remits: [...this.remits],
      changes: this.within.flatMap(({ remit, tally }) =>
        tally.list().map((change): RemitTallyChange => [remit.accountId, ...change]),
      ),
    };
  }

  list(): TallyChange[] {
    return [...this.changes.values()].filter(([, , , n]) => n !== 0);
  }
}
