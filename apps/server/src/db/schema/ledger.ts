import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Operation } from '@gray-loom/core/model';

export type ThreadKind = 'file' | 'hand' | 'addressBook' | 'dialer' | 'mailer' | 'form' | 'inbox' | 'rule';
export type RunState = 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';
/** A queued run waits for another one that has its thread, or until it is tried again after it failed for a passing reason. */
export type RunWait = { forRun: number } | { until: string; because: string };

/** Where values come from. */
export const thread = pgTable(
  'thread',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    kind: text('kind').$type<ThreadKind>().notNull(),
    name: text('name').notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [index('thread_kind_name').on(t.kind, t.name)],
);

/** One execution of anything that changes records; the cause of its operations. */
export const run = pgTable(
  'run',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    /** One of the kinds that are declared in run-kinds.ts. */
    kind: text('kind').notNull(),
    state: text('state').$type<RunState>().notNull(),
    threadId: integer('thread_id')
      .notNull()
      .references(() => thread.id),
    actorId: integer('actor_id'),
    title: text('title').notNull(),
    /** The contact a single change is about. */
    contactId: bigint('contact_id', { mode: 'number' }),
    undoOf: integer('undo_of'),
    undoneBy: integer('undone_by'),
    /** Durable marker of a resumable run: how far it is, and its counts so far. */
    progress: jsonb('progress').$type<{ done: number; total: number }>().notNull().default({ done: 0, total: 0 }),
    counts: jsonb('counts').$type<Record<string, number>>().notNull().default({}),
    detail: jsonb('detail').$type<Record<string, unknown>>().notNull().default({}),
    error: text('error'),
    stopRequested: boolean('stop_requested').notNull().default(false),
    pauseRequested: boolean('pause_requested').notNull().default(false),
    /** How often it was taken up again after it failed for a passing reason. */
    attempts: integer('attempts').notNull().default(0),
    /** What it waits for while it is queued, where that is known: a run that has its thread, or a time to try again. */
    waits: jsonb('waits').$type<RunWait>(),
    /** Who works on the run, and until when without another sign of life. */
    leaseBy: text('lease_by'),
    leaseUntil: timestamp('lease_until', { withTimezone: true }),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
    finishedAt: timestamp('finished_at', { withTimezone: true }),
  },
  (t) => [index('run_state').on(t.state), index('run_kind').on(t.kind, t.id)],
);

/** Workers that are at work, by their signs of life. */
export const workerSign = pgTable('worker_sign', {
  id: uuid('id').primaryKey(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull(),
});

/**
 * The operations of a run on one contact. For a contact that was new, `changes` is null: what was written is the
 * contact as it stood then, found by walking back from now, and the file's row is pointed at.
 */
export const operation = pgTable(
  'operation',
  {
    runId: integer('run_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    /** Version of the contact after the change. */
    version: integer('version').notNull(),
    sourceRow: integer('source_row'),
    changes: jsonb('changes').$type<Omit<Operation, 'target'>[]>(),
    /** The transaction that wrote it; which of two writes came first shows in it. */
    txid: bigint('txid', { mode: 'number' })
      .notNull()
      .default(sql`txid_current()`),
  },
  (t) => [primaryKey({ columns: [t.contactId, t.version] }), index('operation_run').on(t.runId, t.contactId)],
);

/** Whom a batch change is about: fixed when it starts, whoever meets the filter later. */
export const batchTarget = pgTable(
  'batch_target',
  {
    runId: integer('run_id').notNull(),
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    /** What stood there before, of what is no value of a contact. */
    before: text('before'),
  },
  (t) => [primaryKey({ columns: [t.runId, t.contactId] })],
);
