import { integer, jsonb, pgTable, smallint, text } from 'drizzle-orm/pg-core';
import type { PipelineStage } from '@gray-loom/core/fields';

/** Ordered ways that opportunities go; opportunities themselves are records of their kind. */
export const pipeline = pgTable('pipeline', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull().unique(),
  ordinal: smallint('ordinal').notNull().default(0),
  stages: jsonb('stages').$type<PipelineStage[]>().notNull(),
});
