import { sql } from 'drizzle-orm';
import { bigint, index, integer, json, pgTable, primaryKey, smallint, text, timestamp } from 'drizzle-orm/pg-core';
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
    /** live, deleted or merged; derived from the lifecycle value in the record. */
    state: text('state').notNull().default('live'),
    mergedInto: bigint('merged_into', { mode: 'number' }),
    displayName: text('display_name').notNull(),
    sortFamily: text('sort_family').notNull(),
    sortGiven: text('sort_given').notNull(),
    email: text('email').notNull(),
    tel: text('tel').notNull(),
    organization: text('organization').notNull(),
    stage: text('stage').notNull(),
    source: text('source').notNull(),
    owner: text('owner').notNull(),
    tags: text('tags').array().notNull(),
    completeness: smallint('completeness').notNull(),
    createdRun: integer('created_run').notNull(),
    lastRun: integer('last_run').notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull(),
    touchedAt: timestamp('touched_at', { withTimezone: true }).notNull(),
    record: json('record').$type<StoredRecord>().notNull(),
  },
  (t) => [
    index('contact_live_family')
      .on(t.sortFamily, t.id)
      .where(sql`state = 'live'`),
    index('contact_live_given')
      .on(t.sortGiven, t.id)
      .where(sql`state = 'live'`),
    index('contact_live_touched')
      .on(t.touchedAt.desc(), t.id)
      .where(sql`state = 'live'`),
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

/** Text for find-as-you-type; a trigram index finds any part of it. Apart from contact, so
 * that edits of other fields leave it alone. New texts wait in the index's pending list, which answers find as well, and
 * are put in their place behind an import: in place at once they would be a third of its cost. */
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
