import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  date,
  doublePrecision,
  index,
  integer,
  json,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { ContactKind } from '@gray-loom/core/model';
import type { Condition } from '@gray-loom/core/segments';

/** A condition that was given a name. Who meets it is worked out when asked; who met it last is kept, for entering and leaving. */
export const segment = pgTable(
  'segment',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    name: text('name').notNull(),
    description: text('description').notNull().default(''),
    kind: text('kind').$type<ContactKind>().notNull().default('person'),
    condition: json('condition').$type<Condition>().notNull(),
    /** Whose it is; null where everybody has it. */
    accountId: integer('account_id'),
    madeBy: integer('made_by'),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
    changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
    /** The import whose people it finds, where it was made by one. */
    runId: integer('run_id'),
    /** How many are in it, as far as the feed was read. */
    members: integer('members').notNull().default(0),
    /** When everybody was last held against it; null while that is still to be done. */
    reviewedAt: timestamp('reviewed_at', { withTimezone: true }),
    /** The day it was last reviewed for. */
    reviewedFor: date('reviewed_for'),
  },
  () => [uniqueIndex('segment_name').on(sql`lower(name)`)],
);

/** Who is in a segment, as far as the feed was read. Rows come by the hundred thousand, so that none is checked against its segment. */
export const segmentMember = pgTable(
  'segment_member',
  {
    segmentId: integer('segment_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    since: timestamp('since', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.segmentId, t.contactId] }),
    index('segment_member_contact').on(t.contactId, t.segmentId),
  ],
);

/** What made somebody enter or leave: a change of theirs, the segment's own change, a day that passed, or what is no change of a contact. */
export type EventCause = 'change' | 'condition' | 'day' | 'review';

/** Somebody entered a segment or left it. Only ever added to. */
export const segmentEvent = pgTable(
  'segment_event',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedByDefaultAsIdentity(),
    segmentId: integer('segment_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    entered: boolean('entered').notNull(),
    cause: text('cause').$type<EventCause>().notNull(),
    /** The change in the feed, and its run. */
    changeId: text('change_id'),
    runId: integer('run_id'),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [index('segment_event_segment').on(t.segmentId, t.id), index('segment_event_at').on(t.segmentId, t.at)],
);

/** How many were in a segment at the end of a day. */
export const segmentCount = pgTable(
  'segment_count',
  {
    segmentId: integer('segment_id')
      .notNull()
      .references(() => segment.id, { onDelete: 'cascade' }),
    day: date('day').notNull(),
    n: integer('n').notNull(),
  },
  (t) => [primaryKey({ columns: [t.segmentId, t.day] })],
);

/** The state of the whole book at the end of a day; the last day is as it was when it was last looked at. */
export const bookState = pgTable('book_state', {
  day: date('day').primaryKey(),
  people: integer('people').notNull(),
  /** Percent, on average. */
  completeness: doublePrecision('completeness').notNull(),
  /** People who changed within a year. */
  fresh: integer('fresh').notNull(),
});
