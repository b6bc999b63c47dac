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
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { ResultKind } from '@gray-loom/core/syncing';
import { bytea } from './bytea';
import { connection } from './syncs';

/** How results of a tool come back: how far its lists were read, how often, and what its published numbers stand for. */
export const resultFeed = pgTable('result_feed', {
  connectionId: integer('connection_id')
    .primaryKey()
    .references(() => connection.id, { onDelete: 'cascade' }),
  cursor: text('cursor'),
  stopsCursor: text('stops_cursor'),
  everyMinutes: integer('every_minutes'),
  nextAt: timestamp('next_at', { withTimezone: true }),
  /** The source that calls to a published number have, by the number. */
  sources: jsonb('sources').$type<Record<string, string>>().notNull().default({}),
  trouble: text('trouble'),
});

/** taken: it stands with a contact; waits: its record is nobody here yet; asks: a person says whose it is; letGo: of somebody erased. */
export type ResultState = 'taken' | 'waits' | 'asks' | 'letGo';

/** Everything that came back from tools, once each; what of it stands with a contact is an activity. */
export const syncResult = pgTable(
  'sync_result',
  {
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    outsideId: text('outside_id').notNull(),
    kind: text('kind').$type<ResultKind>().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull(),
    outcome: text('outcome').notNull(),
    minutes: doublePrecision('minutes'),
    by: text('by').notNull(),
    incoming: boolean('incoming').notNull(),
    reached: text('reached').notNull(),
    /** What it belongs to over there, such as a mailing: its id and subject; and the address on the web that was clicked. */
    ofId: text('of_id').notNull().default(''),
    subject: text('subject').notNull().default(''),
    link: text('link').notNull().default(''),
    /** Whom it names over there, and the other's number: kept only while it is not settled whose it is. */
    recordId: text('record_id'),
    number: text('number').notNull(),
    state: text('state').$type<ResultState>().notNull(),
    contactId: bigint('contact_id', { mode: 'number' }),
    candidates: bigint('candidates', { mode: 'number' }).array().notNull(),
    runId: integer('run_id').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.connectionId, t.outsideId] }),
    index('sync_result_at').on(t.connectionId, t.at),
    index('sync_result_open')
      .on(t.connectionId, t.recordId)
      .where(sql`state in ('waits', 'asks')`),
  ],
);

/** Calls that tools made to say that something changed, kept before they are worked. */
export const hookCall = pgTable(
  'hook_call',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedByDefaultAsIdentity(),
    connectionId: integer('connection_id')
      .notNull()
      .references(() => connection.id, { onDelete: 'cascade' }),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    /** SHA-256 of the body: what is told twice is worked once. */
    hash: bytea('hash').notNull(),
    body: text('body').notNull(),
    kind: text('kind').notNull(),
    ids: jsonb('ids').$type<string[]>().notNull(),
    /** The run that took it up; null while it waits. */
    runId: integer('run_id'),
  },
  (t) => [
    uniqueIndex('hook_call_once').on(t.connectionId, t.hash),
    index('hook_call_open')
      .on(t.connectionId)
      .where(sql`run_id is null`),
    index('hook_call_at').on(t.connectionId, t.at),
  ],
);

/** Whether a tool was told to call, and the calls that were not believed. */
export const hookState = pgTable('hook_state', {
  connectionId: integer('connection_id')
    .primaryKey()
    .references(() => connection.id, { onDelete: 'cascade' }),
  /** Where it was told to call; null where it was told nothing. */
  url: text('url'),
  /** Clock over there less ours, in ms, as its last answers showed it. */
  aheadMs: doublePrecision('ahead_ms').notNull().default(0),
  falseCount: integer('false_count').notNull().default(0),
  lastFalse: text('last_false'),
  lastFalseAt: timestamp('last_false_at', { withTimezone: true }),
});
