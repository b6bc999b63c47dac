import { boolean, integer, jsonb, pgTable, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import type { AreaRule, FieldType } from '@gray-loom/core/fields';

export type PickKind = 'source' | 'tag' | 'stage';

/** Pick-lists: sources, tags, stages. */
export const pick = pgTable(
  'pick',
  {
    id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
    kind: text('kind').$type<PickKind>().notNull(),
    label: text('label').notNull(),
    foldKey: text('fold_key').notNull(),
    ordinal: smallint('ordinal').notNull().default(0),
    meaning: text('meaning').notNull().default(''),
    /** Number of a colour of the palette, for tags; 0 is none. */
    colour: smallint('colour').notNull().default(0),
    /** What it was called before, folded: a file or a tool that still says so means this one. */
    formerly: text('formerly').array().notNull().default([]),
  },
  (t) => [uniqueIndex('pick_kind_key').on(t.kind, t.foldKey)],
);

/** Fields a workspace made itself. A retired field keeps its values and is not offered. */
export const customField = pgTable('custom_field', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  type: text('type').$type<FieldType>().notNull(),
  choices: jsonb('choices').$type<string[]>().notNull().default([]),
  /** Heading that the field stands under. */
  heading: text('heading').notNull().default(''),
  ordinal: smallint('ordinal').notNull().default(0),
  /** ISO 4217, for money. */
  currency: text('currency'),
  retired: boolean('retired').notNull().default(false),
  /** The file in whose mapping it was made: it goes when that file is dropped or taken back and nobody uses it. */
  madeFor: integer('made_for'),
});

/** What is asked of a field at entry: required, and whether two contacts may share a value. */
export const fieldRule = pgTable('field_rule', {
  field: text('field').primaryKey(),
  required: boolean('required').notNull().default(false),
  unique: text('unique_rule').$type<'no' | 'warn' | 'refuse'>().notNull().default('no'),
});

/** Areas by country, region or postal prefix; the first that fits is a contact's area. */
export const area = pgTable('area', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  ordinal: smallint('ordinal').notNull().default(0),
  rules: jsonb('rules').$type<AreaRule[]>().notNull(),
});
