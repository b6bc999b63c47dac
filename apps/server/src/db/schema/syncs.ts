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
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { ConnectorKind } from '@gray-loom/wire';
import type {
  ApartReason,
  Base,
  Capabilities,
  IdentityBand,
  Intent,
  Link,
  LinkState,
  OutsideRecord,
  OutsideValue,
  PairEvent,
  PlannedConflict,
  SecondTake,
  SyncChoice,
  SyncSetup,
} from '@gray-loom/core/syncing';

/** new: never ran; on: by its timetable and by hand; paused: by hand only; stopped: not any more, its links are kept. */
export type ConnectionState = 'new' | 'on' | 'paused' | 'stopped';

/** An outside tool that is kept in step, how, and how far both sides were looked at. */
export const connection = pgTable('connection', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  kind: text('kind').$type<ConnectorKind>().notNull(),
  threadId: integer('thread_id').notNull(),
  /** What it was told to be reached, as it was typed, without secrets; and where the records are, found by it. */
  settings: jsonb('settings').$type<Record<string, string>>().notNull(),
  place: text('place').notNull(),
  /** The secrets among its settings, encrypted with a key that is not in the database. */
  secret: text('secret').notNull(),
  state: text('state').$type<ConnectionState>().notNull().default('new'),
  setup: jsonb('setup').$type<SyncSetup>().notNull(),
  /** Goes up with every change of the set-up; a run needs a trial of the same. */
  setupVersion: integer('setup_version').notNull().default(1),
  setupAt: timestamp('setup_at', { withTimezone: true }).notNull().defaultNow(),
  triedVersion: integer('tried_version').notNull().default(0),
  everyMinutes: integer('every_minutes'),
  nextRunAt: timestamp('next_run_at', { withTimezone: true }),
  capabilities: jsonb('capabilities').$type<Capabilities>().notNull(),
  theirCursor: text('their_cursor'),
  /** Who entered or left a segment since is looked at by the next pass. */
  listsFrom: timestamp('lists_from', { withTimezone: true }),
  /** Number of the look of its thread, from 0, so that connections of one kind are told apart. */
  look: integer('look').notNull().default(0),
  /** What went wrong the last time, in words; null when nothing did. */
  trouble: text('trouble'),
  /** A run that the brake holds until a person decides. */
  brakedRun: integer('braked_run'),
  /** Part of the address that the other side calls when something changed. */
  hook: text('hook').notNull().unique(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** The tie between a record over there and a contact here, with what both sides last agreed on. */
export const syncLink = pgTable(
  'sync_link',
  {
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    outsideId: text('outside_id').notNull(),
    /** As it was linked; a contact that was merged leads to its taker. 0 while nobody is known. */
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    state: text('state').$type<LinkState>().notNull(),
    apart: text('apart').$type<ApartReason>(),
    version: text('version').notNull(),
    base: json('base').$type<Base>(),
    seen: json('seen').$type<OutsideRecord>(),
    intent: json('intent').$type<Intent>(),
    dirty: boolean('dirty').notNull(),
    scope: text('scope'),
    candidates: bigint('candidates', { mode: 'number' }).array().notNull(),
    band: text('band').$type<IdentityBand>(),
    asks: text('asks').$type<Link['asks']>(),
    notTaken: text('not_taken'),
    unreadable: text('unreadable'),
    /** The whole record, of one that we removed. */
    kept: text('kept'),
    /** Where its record would be, while somebody else has that place. */
    waitsFor: text('waits_for'),
    updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.connectionId, t.outsideId] }),
    index('sync_link_contact').on(t.contactId),
    index('sync_link_uid').on(t.connectionId, sql`(seen->>'uid')`),
    index('sync_link_waits')
      .on(t.connectionId, t.waitsFor)
      .where(sql`waits_for is not null`),
    index('sync_link_unfinished')
      .on(t.connectionId)
      .where(sql`dirty or intent is not null or state in ('making', 'fresh', 'asking', 'stranger')`),
  ],
);

/** What a person has to decide on one pair. */
export const syncConflict = pgTable(
  'sync_conflict',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    outsideId: text('outside_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    line: text('line').notNull(),
    why: text('why').$type<PlannedConflict['why']>().notNull(),
    ours: jsonb('ours').$type<OutsideValue[]>().notNull(),
    theirs: jsonb('theirs').$type<OutsideValue[]>().notNull(),
    runId: integer('run_id').notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    uniqueIndex('sync_conflict_pair').on(t.connectionId, t.outsideId, t.line),
    index('sync_conflict_contact').on(t.contactId),
  ],
);

/** What a person said becomes of the records of a merged contact in all tools, where the one it was merged into has records as well. */
export const mergedChoice = pgTable('merged_choice', {
  contactId: bigint('contact_id', { mode: 'number' }).primaryKey(),
  /** The run that merged it; what was said counts while that stands. */
  mergeRun: integer('merge_run').notNull(),
  take: text('take').$type<SecondTake>().notNull(),
  runId: integer('run_id').notNull(),
});

export type SyncChangeKind = 'add' | 'change' | 'remove' | PairEvent;

/** What a run did, or a trial would do: the report of a run, and the story of a contact. */
export const syncChange = pgTable(
  'sync_change',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedByDefaultAsIdentity(),
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    runId: integer('run_id').notNull(),
    outsideId: text('outside_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    name: text('name').notNull(),
    side: text('side').$type<'here' | 'there'>().notNull(),
    /** Name of the field; '' for what happened to the pair as a whole. */
    field: text('field').notNull(),
    kind: text('kind').$type<SyncChangeKind>().notNull(),
    before: jsonb('before').$type<OutsideValue[]>().notNull(),
    after: jsonb('after').$type<OutsideValue[]>().notNull(),
    /** Kept by the brake to be looked at, and not done. */
    planned: boolean('planned').notNull().default(false),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    index('sync_change_run').on(t.runId, t.id),
    index('sync_change_contact').on(t.contactId, t.id),
    index('sync_change_day').on(t.connectionId, t.at),
  ],
);

/** A person's word on one contact and one connection: sent by hand, or never. */
export const syncChoice = pgTable(
  'sync_choice',
  {
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    choice: text('choice').$type<SyncChoice>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.connectionId, t.contactId] })],
);
