import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { Logger as QueueLogger, runMigrations } from 'graphile-worker';
import type { Database } from './connect';

/** Brings the database to the current shape; safe to run by several processes at once. */
export async function migrateDatabase({ pool, db }: Database, folder: string): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock(4310)');
    await client.query('create extension if not exists pg_trgm');
    await migrate(db, { migrationsFolder: folder });
    await runMigrations({ pgPool: pool, logger: new QueueLogger(() => () => undefined) });
  } finally {
    // A connection that cannot unlock is closed, and its lock goes with it.
    const [unlocked] = await Promise.allSettled([client.query('select pg_advisory_unlock(4310)')]);
    client.release(unlocked.status === 'rejected');
  }
}
