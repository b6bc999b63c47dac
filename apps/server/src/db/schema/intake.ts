import { sql } from 'drizzle-orm';
import { bigint, index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { bytea } from './bytea';
import type { DelimitedShape } from '@gray-loom/core/formats';
import type { ColumnGuess, LayoutFit, Mapping } from '@gray-loom/core/mapping';
import type { Issue, Operation } from '@gray-loom/core/model';

export type IntakeState = 'read' | 'trying' | 'tried' | 'committing' | 'done' | 'stopped';
export type RowOutcome = 'new' | 'fill' | 'replace' | 'same' | 'fold' | 'held';

/** How a file compares with the last one of its layout. */
export interface ReadAsBefore extends Omit<LayoutFit, 'mapping'> {
  /** Null where it is read as the file whose held rows it brings back. */
  savedId: number | null;
  name: string;
  usedAt: string;
  rows: number;
}

/** Mappings as files were last brought in by them, one for each layout. */
export const savedMapping = pgTable('saved_mapping', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull(),
  layout: text('layout').notNull().unique(),
  headers: jsonb('headers').$type<(string | null)[]>().notNull(),
  mapping: jsonb('mapping').$type<Mapping>().notNull(),
  /** Rows of the last file. */
  rows: integer('rows').notNull(),
  used: integer('used').notNull().default(1),
  usedAt: timestamp('used_at', { withTimezone: true }).notNull().defaultNow(),
});

/** Which fields go out in which order and form, kept for the next time. */
export const exportLayout = pgTable('export_layout', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  fields: jsonb('fields').$type<string[]>().notNull(),
  format: text('format').$type<'csv' | 'tsv' | 'xlsx'>().notNull(),
});

/** Columns of the grid that were given a name: which, how wide, how many stay in sight, and in which order the list is. */
export const gridLayout = pgTable('grid_layout', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  columns: jsonb('columns').$type<{ key: string; width: number }[]>().notNull(),
  pinned: integer('pinned').notNull().default(1),
  sort: text('sort').notNull().default('family'),
});

/** A file that came in, how it was read, and what is to be done with it. */
export const intake = pgTable('intake', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull(),
  bytes: bigint('bytes', { mode: 'number' }).notNull(),
  state: text('state').$type<IntakeState>().notNull(),
  shape: jsonb('shape').$type<DelimitedShape>().notNull(),
  guesses: jsonb('guesses').$type<ColumnGuess[]>().notNull(),
  mapping: jsonb('mapping').$type<Mapping>().notNull(),
  issues: jsonb('issues').$type<Issue[]>().notNull(),
  rowCount: integer('row_count').notNull(),
  trialRun: integer('trial_run'),
  importRun: integer('import_run'),
  actorId: integer('actor_id'),
  /** The saved mapping the file is read by, and in what it differs from the file that one was made for. */
  readAs: jsonb('read_as').$type<ReadAsBefore>(),
  /** The import whose held rows this file brings back, mended. */
  mends: integer('mends'),
  /** When its content was let go, since somebody who came in by it was erased; null while it is kept. */
  letGoAt: timestamp('let_go_at', { withTimezone: true }),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** A person's word on one row of a file, given at its trial. */
export const rowChoice = pgTable(
  'row_choice',
  {
    intakeId: integer('intake_id')
      .notNull()
      .references(() => intake.id, { onDelete: 'cascade' }),
    row: integer('row').notNull(),
    choice: jsonb('choice')
      .$type<'hold' | 'new' | { contactId: number; asked: 'take' | 'keep'; back?: boolean }>()
      .notNull(),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.intakeId, t.row] })],
);

/** The file itself, in pieces, so that every server and worker that shares the database can read it. */
export const fileChunk = pgTable(
  'file_chunk',
  {
    intakeId: integer('intake_id')
      .notNull()
      .references(() => intake.id, { onDelete: 'cascade' }),
    seq: integer('seq').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (t) => [primaryKey({ columns: [t.intakeId, t.seq] })],
);

/** What became of each row of an import, or of a trial (then for a bounded number of rows of each outcome). */
export const importRow = pgTable(
  'import_row',
  {
    runId: integer('run_id').notNull(),
    row: integer('row').notNull(),
    outcome: text('outcome').$type<RowOutcome>().notNull(),
    contactId: bigint('contact_id', { mode: 'number' }),
    issues: jsonb('issues').$type<Issue[]>(),
    /** Raw cells of a held row, and of a trial's rows. */
    cells: jsonb('cells').$type<string[]>(),
    /** What a trial would change in the contact. */
    changes: jsonb('changes').$type<Omit<Operation, 'target'>[]>(),
    /** Set when a held row was let in, dropped, or came back in a mended file, and by which run. */
    settled: text('settled').$type<'letIn' | 'dropped' | 'broughtBack'>(),
    settledBy: integer('settled_by'),
  },
  (t) => [
    primaryKey({ columns: [t.runId, t.row] }),
    index('import_row_held')
      .on(t.runId, t.row)
      .where(sql`outcome = 'held' and settled is null`),
  ],
);
