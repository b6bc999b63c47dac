import type { RemitParts } from '../actor';
import { bigint, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

export const account = pgTable('account', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  email: text('email').notNull().unique(),
  name: text('name').notNull(),
  role: text('role').$type<'administrator' | 'editor' | 'viewer'>().notNull(),
  passwordHash: text('password_hash').notNull(),
  /** Name of a picture that was taken in. */
  picture: text('picture'),
  /** Secret of the second factor (RFC 6238), sealed; null where there is none. */
  totpSecret: text('totp_secret'),
  /** The last time step whose code was used, so that no code is used twice. */
  totpStep: bigint('totp_step', { mode: 'number' }),
  /** Hashes of the recovery codes that are left. */
  recoveryHashes: text('recovery_hashes').array().notNull().default([]),
  /** Hash of the secret in the address of its calendar; null where it has none. */
  calendarHash: text('calendar_hash').unique(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  /** Since when it can sign in no more. */
  retiredAt: timestamp('retired_at', { withTimezone: true }),
});

/**
 * The part of the book that an account sees and changes: contacts of these owners, sources, areas, or with these tags. An account
 * without a row sees everybody.
 */
export const accountRemit = pgTable('account_remit', {
  accountId: integer('account_id')
    .primaryKey()
    .references(() => account.id, { onDelete: 'cascade' }),
  owners: text('owners').array().notNull(),
  sources: text('sources').array().notNull(),
  tags: text('tags').array().notNull(),
  areas: text('areas').array().notNull(),
  /** Since when it is so; what others wrote at that moment is counted once more a little later. */
  changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
});

/** A link by which somebody becomes an account, or an account gets a new password. Only a hash of its token is kept. */
export const invitation = pgTable('invitation', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  tokenHash: text('token_hash').notNull().unique(),
  email: text('email').notNull(),
  name: text('name').notNull(),
  role: text('role').$type<'administrator' | 'editor' | 'viewer'>().notNull(),
  /** The part of the book that it is for; null is all of it. */
  remit: jsonb('remit').$type<RemitParts>(),
  /** The account whose password it sets; null where it makes one. */
  accountId: integer('account_id').references(() => account.id, { onDelete: 'cascade' }),
  madeBy: integer('made_by').references(() => account.id),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
  usedAt: timestamp('used_at', { withTimezone: true }),
});

/** A signed-in browser. Only a hash of its token is kept. */
export const session = pgTable('session', {
  tokenHash: text('token_hash').primaryKey(),
  id: integer('id').notNull().unique().generatedByDefaultAsIdentity(),
  accountId: integer('account_id')
    .notNull()
    .references(() => account.id, { onDelete: 'cascade' }),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
  /** From where and by which browser it was opened. */
  address: text('address').notNull().default(''),
  browser: text('browser').notNull().default(''),
});

/** Contacts that one account handed to another, as the other is told of it. */
export const handed = pgTable('handed', {
  id: integer('id').primaryKey().generatedByDefaultAsIdentity(),
  toAccount: integer('to_account')
    .notNull()
    .references(() => account.id, { onDelete: 'cascade' }),
  byAccount: integer('by_account').references(() => account.id),
  runId: integer('run_id').notNull(),
  count: integer('count').notNull(),
  /** The note in which the account is named, where that is what it is told of. */
  activityId: bigint('activity_id', { mode: 'number' }),
  at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  seenAt: timestamp('seen_at', { withTimezone: true }),
});

/** How many contacts each account was given in turn; whoever has fewest is next. */
export const ownerTurn = pgTable('owner_turn', {
  accountId: integer('account_id')
    .primaryKey()
    .references(() => account.id, { onDelete: 'cascade' }),
  given: bigint('given', { mode: 'number' }).notNull(),
});

/** Who has a contact on screen, and until when that counts if nothing more is heard. */
export const contactLook = pgTable(
  'contact_look',
  {
    contactId: bigint('contact_id', { mode: 'number' }).notNull(),
    accountId: integer('account_id')
      .notNull()
      .references(() => account.id, { onDelete: 'cascade' }),
    until: timestamp('until', { withTimezone: true }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.contactId, t.accountId] })],
);

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
