import { sql } from 'drizzle-orm';
import { bigint, index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

export type ChangeKind = 'values' | 'permission' | 'activity';

/**
 * The feed: what changed, in order, a row for each write. Which fields, and what stood there before and after, is found in the
 * operation of a contact and version, so that whoever is erased is erased in one place.
 */
export const change = pgTable(
  'change',
  {
    seq: bigint('seq', { mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    /**
     * The transaction that wrote it. Numbers are given out before the commit, so only what is older than the oldest transaction
     * still under way is read: nothing that commits late is passed over.
     */
    txid: bigint('txid', { mode: 'number' })
      .notNull()
      .default(sql`txid_current()`),
    kind: text('kind').$type<ChangeKind>().notNull(),
    runId: integer('run_id').notNull(),
    actorId: integer('actor_id'),
    contacts: bigint('contacts', { mode: 'number' }).array().notNull(),
    /** Versions of the contacts after the change, in step with them; empty for a change of permissions or activities. */
    versions: integer('versions').array().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [index('change_order').on(t.txid, t.seq)],
);

/** Who reads the feed, how far, and what stands in the way. */
export const feedConsumer = pgTable('feed_consumer', {
  name: text('name').primaryKey(),
  /** The last change that was handled: its transaction, its row, and the place of the contact in it. */
  txid: bigint('txid', { mode: 'number' }).notNull(),
  seq: bigint('seq', { mode: 'number' }).notNull(),
  place: integer('place').notNull(),
  failures: integer('failures').notNull().default(0),
  /** What went wrong the last time, by its code; null while nothing does. */
  error: text('error'),
  failingSince: timestamp('failing_since', { withTimezone: true }),
  nextTryAt: timestamp('next_try_at', { withTimezone: true }),
});
