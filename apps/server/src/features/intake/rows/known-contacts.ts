import {
  cardOf,
  clearlyDiffersFrom,
  COMMON_KEY,
  type Hit,
  type IdentityCard,
  type IdentityKey,
} from '@gray-loom/core/mapping';
import { FACT_FIELDS, factsOf, keyHash, organizationWords, preparePerson } from '@gray-loom/core/matching';
import { kindOf, type ContactRecord } from '@gray-loom/core/model';
import type { Channel } from '@gray-loom/core/writing';
import { blockedAmong } from '../../../book/blocked';
import { organizationRecordKey } from '../../../book/contact-rows';
import type { Queryable } from '../../../db/connect';
import { decodeFields, decodeRecord, type StoredRecord } from '../../../db/record-codec';
import {
  otherRuns,
  allKeys,
  anyDeleted,
  contactsNumbered,
  deletedByKeys,
  holdersOfKeys,
  storedRecords,
  organizationsByKeys,
  SMALL_BOOK_KEYS,
} from './statements/known-contacts';
/** Key of an organization's name, as rows are looked up by it. */
export const organizationKey = ({ organization }: Readonly<Record<string, readonly { v: unknown }[]>>): number =>
  keyHash(organizationRecordKey(organizationWords(String(organization?.[0]?.v ?? '')).join('')));

/** How often it is asked whether somebody else writes. */
const ASK_AGAIN_MS = 200;

/** What of a row somebody who is here can be found by. */
export interface Sought {
  keys: readonly IdentityKey[];
  unique: readonly { hash: number }[];
  /** Key of an organization's name; null for a person. */
  organization: number | null;
  card: IdentityCard;
  /** The number of the contact here that the row names. */
  number?: number | null;
  /** Keys of its mailboxes. */
  mailboxes: readonly string[];
  /** The row. */
  row: number;
}

/** Who was found. */
export interface Found {
  hits: Map<string, Hit<number>[]>;
  /** People by the keys of unique values, by number of the key. */
  holders: Map<number, { id: number; record: ContactRecord }[]>;
  /** Organizations by the key of their name. */
  organizations: Map<number, number>;
  /** Deleted people by their keys, and what is known of their deletion. */
  deleted: { hits: Map<string, Hit<number>[]>; deletions: Map<number, Deletion> };
  /** Rows of people who were erased and are kept out, with the day they were. */
  erased: ReadonlyMap<number, string>;
  /** At which version contacts were found. */
  versions: Map<number, number>;
  /** Live contacts by the numbers that rows name: that one, or the one that took it in. */
  numbered: Map<number, Numbered>;
  /** What those of whom rows say that they may be written to or called said themselves; absent where no row says so. */
  stops?: ReadonlyMap<number, ReadonlyMap<Channel, number>>;
  /** Who of all these is within the remit of whoever brings the rows; absent where that is everybody. */
  seen?: ReadonlySet<number>;
}

/** Somebody who was deleted: by whom, and on which day (ISO 8601). */
export interface Deletion {
  by: string;
  on: string;
}

export interface Numbered {
  id: number;
  isPerson: boolean;
  card: IdentityCard;
  /** Key of its name, of an organization. */
  organization: number | null;
}

/** Who asks for each line, by the number of its key. */
function askersByLine(pending: readonly Sought[]): Map<number, IdentityCard[]> {
  const askers = new Map<number, IdentityCard[]>();
  for (const { keys, card } of pending)
    for (const { by, hash } of keys) {
      if (by !== 'tel') continue;
      const list = askers.get(hash);
      if (list) list.push(card);
      else askers.set(hash, [card]);
    }
  return askers;
}

interface Here {
  id: number;
  /** Numbers of the keys it was found by. */
  keys: number[];
  /** The name in lists; empty where it does not tell. */
  name: string;
}

/** Who was found, each once. */
function peopleOf(found: readonly { key: string; ids: string; names: string }[]): Here[] {
  const here = new Map<string, Here>();
  for (const { key, ids, names } of found) {
    const listed = ids.split(' ');
    const called = names.split('\u0001');
    for (const [i, id] of listed.entries()) {
      const known = here.get(id);
      if (known) known.keys.push(Number(key));
      else
        here.set(id, {
          id: Number(id),
          keys: [Number(key)],
          name: called.length === listed.length ? (called[i] ?? '') : '',
        });
    }
  }
  return [...here.values()];
}

/** Who was found by the keys of a row; a phone that many share is no mark of anybody. */
export function hitsOf(keys: readonly IdentityKey[], found: Found['hits']): Hit<number>[] {
  if (found.size === 0) return [];
  return keys.flatMap((key) => {
    const sharing = found.get(key.key) ?? [];
    return key.by === 'tel' && sharing.length > COMMON_KEY
      ? []
      : sharing.map((hit) => (hit.by === key.by ? hit : { ...hit, by: key.by }));
  });
}

/** The contacts that were here before an import, as its rows look for them. */
export class KnownContacts {
  private askedMs = 0;
  private hasDeleted: boolean | null = null;
  private known: { keys: Set<number>; lastRun: number } | 'none' | null = null;
  private readonly pool: Queryable;
  private readonly runId: number;
  private readonly isWhole: boolean;

  /**
   * `runId` is the run that writes, whose own new people are found by folding and not by looking them up; `isWhole` asks for
   * everything that is compared, and not only for what somebody is recognised by. For a `few` rows no keys are loaded ahead.
   */
  constructor(pool: Queryable, runId: number, { isWhole, few }: { isWhole: boolean; few: boolean }) {
    this.pool = pool;
    this.runId = runId;
    this.isWhole = isWhole;
    if (few) this.known = 'none';
  }

  /**
   * All look-up keys of a small book, so that rows of strangers need not be looked up (a tenth of a large import's cost).
   * Only while nobody else writes: as soon as another run has begun, every key is looked up again. Null when not to be used.
   */
  private async knownKeys(): Promise<ReadonlySet<number> | null> {
    if (this.known === 'none') return null;
    // Rows are planned well ahead of being written; asking oftener than that would find nobody sooner.
    if (this.known && performance.now() - this.askedMs < ASK_AGAIN_MS) return this.known.keys;
    this.askedMs = performance.now();
    const { rows } = await otherRuns(this.pool, this.runId);
    const { last = 0, busy = true } = rows[0] ?? {};
    if (this.known === null) {
      const keys = busy ? [] : (await allKeys(this.pool)).rows;
      this.known =
        busy || keys.length > SMALL_BOOK_KEYS ? 'none' : { keys: new Set(keys.map(({ key }) => key)), lastRun: last };
    }
    if (this.known === 'none' || busy || last !== this.known.lastRun) {
      this.known = 'none';
      return null;
    }
    return this.known.keys;
  }

  /** Who of the book has the keys of these rows, in one question for all of them. */
  async lookUp(pending: readonly Sought[]): Promise<Found> {
    const versions = new Map<number, number>();
    const organizations = await this.findOrganizations(pending, versions);
    const numbered = await this.findNumbered(pending, versions);
    const erased = await this.findErased(pending);
    const known = await this.knownKeys();
    const numbers = new Map<number, IdentityKey>();
    const unique = new Set<number>();
    for (const one of pending) {
      for (const key of one.keys) if (!known || known.has(key.hash)) numbers.set(key.hash, key);
      for (const { hash } of one.unique) if (!known || known.has(hash)) unique.add(hash);
    }
    const asked = [...new Set([...numbers.keys(), ...unique])];
    // A number that many share is no mark of anybody, so that nobody need be fetched for it.
    const lines = asked.map((key) => numbers.get(key)?.by === 'tel' && !unique.has(key));
    const deleted = await this.findDeleted(numbers);
    if (!asked.length)
      return { hits: new Map(), holders: new Map(), deleted, erased, organizations, versions, numbered };
    // One answer for each key, however many have it.
    const { rows: found } = await holdersOfKeys(this.pool, `{${asked.join(',')}}`, this.runId, lines);
    const here = peopleOf(found);
    const askers = this.isWhole ? null : askersByLine(pending);
    const isLine = (key: number) => numbers.get(key)?.by === 'tel' && !unique.has(key);
    // Who shares a phone and no more with people who are clearly called otherwise is nobody to look at.
    const worth = here.filter(
      ({ keys, name }) =>
        !keys.every((key) => isLine(key) && askers?.get(key)?.every((card) => clearlyDiffersFrom(card, name))),
    );
    const records = await this.recordsOf(worth.map(({ id }) => id));
    const hits = new Map<string, Hit<number>[]>();
    const holders: Found['holders'] = new Map();
    for (const { id, keys } of worth) {
      const { record: stored, version } = records.get(id) ?? {};
      if (!stored) continue;
      versions.set(id, version ?? 0);
      const record = decodeFields(stored, [...FACT_FIELDS, 'externalId']);
      const facts = factsOf(record);
      if (!this.isWhole) facts.street = undefined;
      const person = preparePerson(facts);
      const card = cardOf(person, record.f.externalId);
      for (const key of keys) {
        if (unique.has(key)) holders.set(key, [...(holders.get(key) ?? []), { id, record: decodeRecord(stored) }]);
        const identity = numbers.get(key);
        if (!identity) continue;
        const list = hits.get(identity.key) ?? [];
        list.push({ id, card, person, by: identity.by, shown: identity.shown });
        hits.set(identity.key, list);
      }
    }
    return { hits, holders, deleted, erased, organizations, versions, numbered };
  }

  /** Rows of people who are kept out. */
  private async findErased(pending: readonly Sought[]): Promise<Found['erased']> {
    const people = pending.filter(({ organization }) => organization === null);
    const days = await blockedAmong(this.pool, () => people.map(({ card, mailboxes }) => ({ ...card, mailboxes })));
    return new Map(days.flatMap((day, i) => (day && people[i] ? [[people[i].row, day] as const] : [])));
  }

  /** People who were deleted, by the keys that rows have. */
  private async findDeleted(keys: ReadonlyMap<number, IdentityKey>): Promise<Found['deleted']> {
    const found: Found['deleted'] = { hits: new Map(), deletions: new Map() };
    this.hasDeleted ??= (await anyDeleted(this.pool)).rows.length > 0;
    const asked = [...keys.values()].filter(({ by }) => by !== 'engine').map(({ hash }) => hash);
    if (!this.hasDeleted || !asked.length) return found;
    const cards = new Map<number, IdentityCard>();
    for (const { key, id, record, by, day } of await deletedByKeys(this.pool, `{${asked.join(',')}}`)) {
      const identity = keys.get(Number(key));
      if (!identity) continue;
      const card = cards.get(id) ?? cardOf(preparePerson(factsOf(record)), record.f.externalId);
      cards.set(id, card);
      found.deletions.set(id, { by, on: day });
      const list = found.hits.get(identity.key) ?? [];
      list.push({ id, card, by: identity.by, shown: identity.shown });
      found.hits.set(identity.key, list);
    }
    return found;
  }

  private async recordsOf(ids: readonly number[]): Promise<Map<number, { record: StoredRecord; version: number }>> {
    if (!ids.length) return new Map();
    const { rows } = await storedRecords(this.pool, `{${ids.join(',')}}`);
    return new Map(rows.map(({ id, ...stored }) => [id, stored]));
  }

  /** Organizations that are here already, by the key of their name. */
  private async findOrganizations(
    pending: readonly Sought[],
    versions: Found['versions'],
  ): Promise<Found['organizations']> {
    const keys = new Set(pending.flatMap(({ organization }) => (organization === null ? [] : [organization])));
    if (keys.size === 0) return new Map();
    const { rows } = await organizationsByKeys(this.pool, [...keys].map(String), this.runId);
    for (const { id, version } of rows) versions.set(id, version);
    return new Map(rows.map(({ key, id }) => [Number(key), id]));
  }

  /** Contacts that rows name by their number. */
  private async findNumbered(pending: readonly Sought[], versions: Found['versions']): Promise<Found['numbered']> {
    const numbers = new Set(pending.flatMap(({ number }) => number ?? []));
    if (!numbers.size) return new Map();
    const rows = await contactsNumbered(this.pool, [...numbers], this.runId);
    return new Map(
      rows.map(({ asked, id, version, record }) => {
        versions.set(id, version);
        const card = cardOf(preparePerson(factsOf(record)), record.f.externalId);
        const isPerson = kindOf(record) === 'person';
        return [asked, { id, isPerson, card, organization: isPerson ? null : organizationKey(record.f) }];
      }),
    );
  }
}
