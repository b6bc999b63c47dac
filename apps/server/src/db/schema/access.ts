import { integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

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

/** Tries to sign in, by hashes of account and address, and addresses that an account was signed in to from. */
export const signInTry = pgTable(
  'sign_in_try',
  {
    kind: text('kind').$type<'both' | 'address' | 'account' | 'known'>().notNull(),
    key: text('key').notNull(),
    count: integer('count').notNull().default(1),
    since: timestamp('since', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.kind, t.key] })],
);

/** Settings of the workspace, such as the country that national phone numbers are read in. */
export const setting = pgTable('setting', {
  key: text('key').primaryKey(),
  value: jsonb('value').notNull(),
});
