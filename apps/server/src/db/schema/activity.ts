import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { bytea } from './bytea';
import type { Activity, ActivityKind } from '@gray-loom/core/activity';

/** An activity as it is kept: without what is at its default (core: packActivity). */
export type StoredActivity = Partial<Activity> & Pick<Activity, 'kind'>;

/** Everything dated that happens with contacts, one row each; columns are what lists, conditions and Due ask for, derived from the record. */
export const activity = pgTable(
  'activity',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedByDefaultAsIdentity(),
    /** The contact that it was written for. */
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    /** Whoever that contact is by now, after merges; kept by whoever merges and takes merges back. */
    holderId: bigint('holder_id', { mode: 'number' }).notNull(),
    version: integer('version').notNull().default(1),
    kind: text('kind').$type<ActivityKind>().notNull(),
    /** A day by its beginning (UTC). */
    at: timestamp('at', { withTimezone: true }),
    who: integer('who'),
    isOpen: boolean('is_open').notNull().default(false),
    gone: boolean('gone').notNull().default(false),
    /** What it is about, folded. */
    what: text('what').notNull().default(''),
    quantity: doublePrecision('quantity'),
    amount: doublePrecision('amount'),
    currency: text('currency'),
    outsideId: text('outside_id').notNull().default(''),
    runId: integer('run_id').notNull(),
    sourceRow: integer('source_row'),
    record: jsonb('record').$type<StoredActivity>().notNull(),
  },
  (t) => [
    index('activity_holder').on(t.holderId, t.at, t.id),
    index('activity_contact').on(t.contactId),
    index('activity_due')
      .on(t.who, t.kind, t.at, t.id, t.holderId)
      .where(sql`is_open and not gone`),
    index('activity_booked')
      .on(t.who, t.at)
      .where(sql`kind = 'appointment' and not gone`),
    index('activity_number')
      .on(t.outsideId)
      .where(sql`outside_id <> ''`),
  ],
);

/** The contents of files that are kept on contacts, each once; names and whose they are stand with the activities. */
export const storedFile = pgTable('stored_file', {
  /** SHA-256 of the content. */
  hash: text('hash').primaryKey(),
  mediaType: text('media_type').notNull(),
  size: integer('size').notNull(),
  bytes: bytea('bytes').notNull(),
  keptAt: timestamp('kept_at', { withTimezone: true }).notNull().defaultNow(),
});

/** What runs did to activities: how each was before. What it became is the step after it, or what stands now. */
export const activityStep = pgTable(
  'activity_step',
  {
    activityId: bigint('activity_id', { mode: 'number' }).notNull(),
    /** Version of the activity after it. */
    version: integer('version').notNull(),
    runId: integer('run_id').notNull(),
    /** Null where the run made it. */
    before: jsonb('before').$type<StoredActivity>(),
  },
  (t) => [primaryKey({ columns: [t.activityId, t.version] }), index('activity_step_run').on(t.runId, t.activityId)],
);
