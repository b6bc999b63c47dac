import {
  bigint,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { MatchModelJson, PairHistogram } from '@gray-loom/core/matching';

export type GroupState = 'open' | 'later' | 'merged' | 'apart' | 'gone';

/** A frozen matching model; every verdict names the version it was given under. */
export const matchModel = pgTable('match_model', {
  version: integer('version').primaryKey().generatedByDefaultAsIdentity(),
  runId: integer('run_id').notNull(),
  people: integer('people').notNull(),
  model: jsonb('model').$type<MatchModelJson>().notNull(),
  /** How many pairs weighed how much when it was made. */
  pairs: jsonb('pairs').$type<PairHistogram>(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** A group of likely duplicates, known by its members, so that a scan never asks the same thing twice. */
export const matchGroup = pgTable(
  'match_group',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    /** What its members are; people and organizations are matched by fields of their own. */
    kind: text('kind').$type<'person' | 'organization'>().notNull().default('person'),
    memberKey: text('member_key').notNull(),
    memberIds: bigint('member_ids', { mode: 'number' }).array().notNull(),
    state: text('state').$type<GroupState>().notNull(),
    band: text('band').$type<'certain' | 'likely' | 'possible'>().notNull(),
    probability01: real('probability01').notNull(),
    bits: real('bits').notNull(),
    name: text('name').notNull(),
    modelVersion: integer('model_version').notNull(),
    decidedRun: integer('decided_run'),
    /** Who has the group on screen, and until when nobody else is given it. */
    lookedBy: integer('looked_by'),
    lookedUntil: timestamp('looked_until', { withTimezone: true }),
    /** Who takes its records for one and may not merge them, since some are outside their remit. */
    proposedBy: integer('proposed_by'),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [uniqueIndex('match_group_members').on(t.memberKey), index('match_group_state').on(t.state, t.bits)],
);

/** A person's word that two records are different people; a < b. */
export const keepApart = pgTable(
  'keep_apart',
  {
    a: bigint('a', { mode: 'number' }).notNull(),
    b: bigint('b', { mode: 'number' }).notNull(),
    runId: integer('run_id').notNull(),
  },
  (t) => [primaryKey({ columns: [t.a, t.b] })],
);

/** An e-mail or phone that several people use, on a person's word, by the text it is compared by; it proves nothing any more. */
export const sharedLine = pgTable('shared_line', {
  line: text('line').primaryKey(),
  runId: integer('run_id').notNull(),
});

/** Contacts that changed in what they are known by, and are to be checked for duplicates; the run that changed them last. */
export const matchDue = pgTable('match_due', {
  contactId: bigint('contact_id', { mode: 'number' }).primaryKey(),
  runId: integer('run_id').notNull(),
});

export type HouseholdState = 'proposed' | 'kept' | 'refused';

/** People of one home: proposed by a scan, kept or refused by a person. Members that were merged stand for whoever took them in. */
export const household = pgTable(
  'household',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    state: text('state').$type<HouseholdState>().notNull(),
    /** As somebody named it; empty as long as its people's names make the name. */
    name: text('name').notNull().default(''),
    memberKey: text('member_key').notNull(),
    memberIds: bigint('member_ids', { mode: 'number' }).array().notNull(),
  },
  (t) => [uniqueIndex('household_members').on(t.memberKey), index('household_of').using('gin', t.memberIds)],
);

/** How a pair compared when a person decided on it, so that decisions can teach the weights. */
export const matchDecision = pgTable(
  'match_decision',
  {
    runId: integer('run_id').notNull(),
    a: bigint('a', { mode: 'number' }).notNull(),
    b: bigint('b', { mode: 'number' }).notNull(),
    same: boolean('same').notNull(),
    levels: smallint('levels').array().notNull(),
    /** Weight by the model of then, before rules and what was learned. */
    bits: real('bits').notNull(),
  },
  (t) => [primaryKey({ columns: [t.runId, t.a, t.b] })],
);
