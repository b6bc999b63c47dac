import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import type { Logger } from '../log';
import { PROGRAM, type Actor } from './actor';
import { codeOf } from './error-code';
import * as schema from './schema';

// Counts and ids fit a JavaScript number by far.
pg.types.setTypeParser(pg.types.builtins.INT8, (text) => Number(text));

export type Db = NodePgDatabase<typeof schema>;

/** A pool or a connection, for statements that take either. */
export type Queryable = Pick<pg.Pool, 'query'>;

/** A database as one actor reads and writes it. */
export interface Database {
  pool: pg.Pool;
  db: Db;
  actor: Actor;
}

/** A transaction: the builder, and the connection for COPY and set-based statements. */
export interface Tx {
  client: pg.PoolClient;
  db: Db;
  actor: Actor;
}

export function connect(url: string, log: Logger, max = 10): Database {
  const pool = new pg.Pool({ connectionString: url, max });
  pool.on('error', (error) =>
    log.warn({ code: (error as { code?: string }).code }, 'an idle database connection failed'),
  );
  pool.on('connect', (client) =>
    client.on('error', (error) =>
      log.warn({ code: (error as { code?: string }).code }, 'a database connection failed'),
    ),
  );
  return { pool, db: drizzle(pool, { schema }), actor: PROGRAM };
}

/** The same database for another actor. */
export function actingAs(database: Database, actor: Actor): Database {
  return { ...database, actor };
}

const DEADLOCK = '40P01';

/**
 * Runs work in one transaction: all of it, or nothing. With `tries` it is done anew, up to so often, where the database ends it because
 * two transactions wait for each other; it may then leave nothing outside the database before it is through.
 */
export async function inTransaction<T>(
  database: Database,
  work: (tx: Tx) => Promise<T>,
  { tries = 1 } = {},
): Promise<T> {
  for (let left = tries - 1; ; left--) {
    try {
      return await inOneTransaction(database, work);
    } catch (error) {
      if (left <= 0 || codeOf(error) !== DEADLOCK) throw error;
    }
  }
}

async function inOneTransaction<T>({ pool, actor }: Database, work: (tx: Tx) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken = false;
  try {
    await client.query('begin');
    const result = await work({ client, db: drizzle(client, { schema }), actor });
    await client.query('commit');
    return result;
  } catch (error) {
    const [rolledBack] = await Promise.allSettled([client.query('rollback')]);
    broken = rolledBack.status === 'rejected';
    throw error;
  } finally {
    client.release(broken);
  }
}
