import { integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

export const account = pgTable('account', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  email: text('email').notNull().unique(),
  name: text('name').notNull(),
  role: text('role').$type<'administrator' | 'editor' | 'viewer'>().notNull(),
  passwordHash: text('password_hash').notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** A signed-in browser. Only a hash of its token is kept. */
export const session = pgTable('session', {
  tokenHash: text('token_hash').primaryKey(),
  accountId: integer('account_id')
    .notNull()
    .references(() => account.id, { onDelete: 'cascade' }),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
});

/** Settings of the workspace, such as the country that national phone numbers are read in. */
export const setting = pgTable('setting', {
  key: text('key').primaryKey(),
  value: jsonb('value').notNull(),
});
