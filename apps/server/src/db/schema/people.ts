import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { bytea } from './bytea';
import type { Facts } from '@gray-loom/core/segments';
import type { RecordKind } from '@gray-loom/core/model';
import type { StoredRecord } from '../record-codec';

/**
 * A contact: its values as one JSON document, and what lists show and sort by, derived from them. The document is read
 * and written whole, so it is kept as text (json), which costs less to write and to read than the taken-apart form.
 */
export const contact = pgTable(
  'contact',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedByDefaultAsIdentity(),
    version: integer('version').notNull().default(1),
    /** person or organization (vCard KIND); derived from the kind value in the record. */
    kind: text('kind').$type<RecordKind>().notNull().default('person'),
    /** live, deleted, merged or erased; derived from the lifecycle value in the record. */
    state: text('state').notNull().default('live'),
    mergedInto: bigint('merged_into', { mode: 'number' }),
    displayName: text('display_name').notNull(),
    /** Family name first. */
    listName: text('list_name').notNull(),
    sortFamily: text('sort_family').notNull(),
    sortGiven: text('sort_given').notNull(),
    email: text('email').notNull(),
    tel: text('tel').notNull(),
    organization: text('organization').notNull(),
    stage: text('stage').notNull(),
    source: text('source').notNull(),
    owner: text('owner').notNull(),
    /** Area that the main address lies in, by the definitions in force when it was last derived. */
    area: text('area').notNull().default(''),
    tags: text('tags').array().notNull(),
    completeness: smallint('completeness').notNull(),
    createdRun: integer('created_run').notNull(),
    lastRun: integer('last_run').notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull(),
    touchedAt: timestamp('touched_at', { withTimezone: true }).notNull(),
    record: json('record').$type<StoredRecord>().notNull(),
  },
  (t) => [
    index('contact_gone')
      .on(t.id)
      .where(sql`state in ('deleted', 'erased')`),
    index('contact_live_family')
      .on(t.sortFamily, t.id)
      .where(sql`state = 'live' and kind = 'person'`),
    index('contact_live_given')
      .on(t.sortGiven, t.id)
      .where(sql`state = 'live' and kind = 'person'`),
    // Read from its end; what is written last then goes to one end of it, which costs half as much.
    index('contact_live_touched')
      .on(t.touchedAt, t.id)
      .where(sql`state = 'live' and kind = 'person'`),
    index('contact_live_organizations')
      .on(t.sortFamily, t.id)
      .where(sql`state = 'live' and kind = 'organization'`),
    index('contact_live_opportunities')
      .on(t.stage, t.id)
      .where(sql`state = 'live' and kind = 'opportunity'`),
    index('contact_area')
      .on(t.area)
      .where(sql`area <> ''`),
    index('contact_owner')
      .on(t.owner)
      .where(sql`owner <> ''`),
    index('contact_deleted')
      .on(t.lastRun)
      .where(sql`state = 'deleted'`),
    index('contact_merged_into')
      .on(t.mergedInto)
      .where(sql`merged_into is not null`),
  ],
);

/** Look-up by normal form: mailbox, phone, outside id, name, as numbers of their keys (core: indexKeys). */
export const contactKey = pgTable(
  'contact_key',
  {
    key: bigint('key', { mode: 'number' }).notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.contactId] })],
);

/**
 * Text for find-as-you-type; a trigram index finds any part of it. Apart from contact, so that edits of other fields leave
 * it alone. What an import brings waits in contact_search_fresh and is put here behind it (book/place-texts.ts).
 */
export const contactSearch = pgTable(
  'contact_search',
  {
    contactId: bigint('contact_id', { mode: 'number' }).primaryKey(),
    text: text('text').notNull(),
  },
  (t) => [
    index('contact_search_trigrams')
      .using('gin', sql`${t.text} gin_trgm_ops`)
      .with({ fastupdate: true, gin_pending_list_limit: 65536 }),
  ],
);

/**
 * Search texts that a large import has just written. They are looked through one by one, so they are found at once; the
 * trigram index, a third of an import's cost, is filled behind it. The text of a contact is in one of the two.
 */
export const contactSearchFresh = pgTable('contact_search_fresh', {
  contactId: bigint('contact_id', { mode: 'number' }).primaryKey(),
  text: text('text').notNull(),
});

/**
 * What conditions look at, of people and organizations (core: segments/facts): narrow, so that counting all who meet a condition
 * reads a seventh of what reading the contacts would. Written with the contact.
 */
export const contactFacts = pgTable(
  'contact_facts',
  {
    contactId: bigint('contact_id', { mode: 'number' }).primaryKey(),
    /** Kind and state in one: live person, live organization, deleted person, deleted organization; 0 for whoever was merged away or erased. */
    who: smallint('who').$type<FactsWho>().notNull(),
    facts: jsonb('facts').$type<Facts>().notNull(),
  },
  () => [
    // Days of the year that come round are looked for every day; whoever has none is not in it.
    index('contact_facts_bday')
      .on(sql`(right(facts->>'bday', 5) collate "C")`)
      .where(sql`who = 1 and facts ? 'bday'`),
    index('contact_facts_anniversary')
      .on(sql`(right(facts->>'anniversary', 5) collate "C")`)
      .where(sql`who = 1 and facts ? 'anniversary'`),
  ],
);
export type FactsWho = 0 | 1 | 2 | 3 | 4;

/**
 * How many live records have a tag, source, stage, owner or area, and how many there are at all: changes are added by the
 * transaction that makes them, so that two writers never wait for each other, and summed up now and then by a worker.
 */
export const tally = pgTable(
  'tally',
  {
    kind: text('kind').$type<TallyKind>().notNull(),
    label: text('label').notNull(),
    who: text('who').$type<RecordKind>().notNull(),
    n: integer('n').notNull(),
  },
  (t) => [index('tally_kind').on(t.kind, t.label, t.who)],
);
/** The same of the people and organizations within a remit, for each account that has one. */
export const remitTally = pgTable(
  'remit_tally',
  {
    accountId: integer('account_id').notNull(),
    kind: text('kind').$type<TallyKind>().notNull(),
    label: text('label').notNull(),
    who: text('who').$type<RecordKind>().notNull(),
    n: integer('n').notNull(),
  },
  (t) => [index('remit_tally_account').on(t.accountId, t.kind, t.label, t.who)],
);
export type TallyKind = 'live' | 'tag' | 'source' | 'stage' | 'owner' | 'area';

export type Channel = 'email' | 'text' | 'call' | 'voicemail' | 'post';

/** What somebody said about being written to or called. Only ever added to: the evidence stands, whatever it is worth later. */
export const permissionEvidence = pgTable(
  'permission_evidence',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    contactId: bigint('contact_id', { mode: 'number' }),
    /** Number of the mailbox's or phone's key, where it is said of the address and not of the person. */
    addressKey: bigint('address_key', { mode: 'number' }),
    /** The address as it was written then. */
    address: text('address').notNull().default(''),
    channel: text('channel').$type<Channel>().notNull(),
    state: text('state').$type<'allowed' | 'optedOut'>().notNull(),
    /** How it was said, in a few words, and where. */
    how: text('how').notNull(),
    statedAt: timestamp('stated_at', { withTimezone: true }).notNull(),
    runId: integer('run_id').notNull(),
    /** The transaction that wrote it, as with operations. */
    txid: bigint('txid', { mode: 'number' })
      .notNull()
      .default(sql`txid_current()`),
  },
  (t) => [index('permission_contact').on(t.contactId), index('permission_address').on(t.addressKey)],
);

/** What tools say of addresses that mail came back from, or that it reached after all: of the address, whoever has it. */
export const returnedMail = pgTable(
  'returned_mail',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    addressKey: bigint('address_key', { mode: 'number' }).notNull(),
    address: text('address').notNull(),
    /** It came back; false: something that was sent later was opened. */
    cameBack: boolean('came_back').notNull(),
    /** The tool and the mailing. */
    how: text('how').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull(),
    runId: integer('run_id').notNull(),
  },
  (t) => [index('returned_mail_address').on(t.addressKey)],
);

/** Somebody who was erased on request: kept out until an administrator lifts it. Who it was is not kept. */
export const blockedIdentity = pgTable('blocked_identity', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  /** The run that erased them. */
  runId: integer('run_id').notNull(),
  /** How they asked for it, as somebody wrote it down. */
  reason: text('reason').notNull(),
  erasedAt: timestamp('erased_at', { withTimezone: true }).notNull().defaultNow(),
});

/** What they would be told by if they came again (core: identityForms), as hashes with a key that is outside the database. */
export const blockedKey = pgTable(
  'blocked_key',
  {
    hash: bytea('hash').notNull(),
    identityId: integer('identity_id')
      .notNull()
      .references(() => blockedIdentity.id, { onDelete: 'cascade' }),
  },
  (t) => [primaryKey({ columns: [t.hash, t.identityId] })],
);

/** Pictures by what they hold, so that one used twice is kept once. */
export const picture = pgTable('picture', {
  hash: text('hash').primaryKey(),
  mediaType: text('media_type').notNull(),
  bytes: bytea('bytes').notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});
