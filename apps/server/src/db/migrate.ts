import { readMigrationFiles } from 'drizzle-orm/migrator';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { Logger as QueueLogger, runMigrations } from 'graphile-worker';
import type { Database, Queryable } from './connect';
import { dropRemitViews, makeRemitViews, migrationsDone } from './statements/remit-views';

/** Brings the database to the current shape; safe to run by several processes at once. */
export async function migrateDatabase({ pool, db }: Database, folder: string): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock(4310)');
    await client.query('create extension if not exists pg_trgm');
    // A table that views stand on keeps its shape.
    if (await migrationsWait(client, folder)) await dropRemitViews(client);
    await migrate(db, { migrationsFolder: folder });
    await makeRemitViews(client);
    await runMigrations({ pgPool: pool, logger: new QueueLogger(() => () => undefined) });
  } finally {
    // A connection that cannot unlock is closed, and its lock goes with it.
    const [unlocked] = await Promise.allSettled([client.query('select pg_advisory_unlock(4310)')]);
    client.release(unlocked.status === 'rejected');
  }
}

/** Whether the shape of the database is older than the folder's. */
async function migrationsWait(client: Queryable, folder: string): Promise<boolean> {
  const { rows } = await migrationsDone(client);
  const last = readMigrationFiles({ migrationsFolder: folder }).at(-1);
  return (rows[0]?.last ?? 0) < (last?.folderMillis ?? 0);
}
