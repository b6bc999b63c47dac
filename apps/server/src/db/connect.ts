import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import type { Logger } from '../log';
import { PROGRAM, seesPart, type Actor } from './actor';
import { codeOf } from './error-code';
import * as schema from './schema';
import { REMIT_SCHEMA, setAccount } from './statements/remit-views';

// Counts and ids fit a JavaScript number by far.
pg.types.setTypeParser(pg.types.builtins.INT8, (text) => Number(text));

export type Db = NodePgDatabase<typeof schema>;

/** A pool or a connection, for statements that take either. */
export type Queryable = Pick<pg.Pool, 'query'>;

/** A database as one actor reads and writes it: of an actor with a remit, the contacts that are within it and no others. */
export interface Database {
  pool: pg.Pool;
  db: Db;
  actor: Actor;
  /** What it was connected by. */
  roots: Roots;
}

/** The connections of a process, whoever they are used for. */
interface Roots {
  pool: pg.Pool;
  db: Db;
  /** Connections that read the views of a remit; opened when somebody with one comes. */
  remits(): pg.Pool;
}

/** A transaction: the builder, and the connection for COPY and set-based statements. */
export interface Tx {
  client: pg.PoolClient;
  db: Db;
  actor: Actor;
  roots: Roots;
}

function openPool(config: pg.PoolConfig, log: Logger): pg.Pool {
  const pool = new pg.Pool(config);
  pool.on('error', (error) =>
    log.warn({ code: (error as { code?: string }).code }, 'an idle database connection failed'),
  );
  pool.on('connect', (client) =>
    client.on('error', (error) =>
      log.warn({ code: (error as { code?: string }).code }, 'a database connection failed'),
    ),
  );
  return pool;
}

/** Views are planned once for each statement that is kept: planning them costs more than most answers do. */
const REMIT_OPTIONS = `-c search_path=${REMIT_SCHEMA},public -c plan_cache_mode=force_generic_plan`;

/** Ends the pool of remits with the pool of everybody else. */
function rootsOf(url: string, log: Logger, max: number): Roots {
  const pool = openPool({ connectionString: url, max }, log);
  let remits: pg.Pool | null = null;
  const end = pool.end.bind(pool);
  pool.end = (async () => {
    await Promise.all([end(), remits?.end()]);
  }) as typeof pool.end;
  return {
    pool,
    db: drizzle(pool, { schema }),
    remits: () =>
      (remits ??= openPool({ connectionString: url, max: Math.max(2, max / 2), options: REMIT_OPTIONS }, log)),
  };
}

export function connect(url: string, log: Logger, max = 10): Database {
  const roots = rootsOf(url, log, max);
  return { pool: roots.pool, db: roots.db, actor: PROGRAM, roots };
}

/** Whose remit holds on a connection of the pool of remits. */
const settled = new WeakMap<pg.PoolClient, number>();

/** The part of a pool that statements need, for one account: each connection is told whose remit holds before it is used. */
function remitPool(pool: pg.Pool, accountId: number): pg.Pool {
  const connectAs = async () => {
    const client = await pool.connect();
    if (settled.get(client) !== accountId) {
      try {
        await setAccount(client, accountId);
      } catch (error) {
        client.release(true);
        throw error;
      }
      settled.set(client, accountId);
    }
    return client;
  };
  const query = async (...asked: Parameters<pg.PoolClient['query']>) => {
    const client = await connectAs();
    // As a pool does: a connection on which a statement failed is not used again.
    let broken = true;
    try {
      const result = (await client.query(...asked)) as unknown;
      broken = false;
      return result;
    } finally {
      client.release(broken);
    }
  };
  return { connect: connectAs, query } as unknown as pg.Pool;
}

/** The same database for another actor. */
export function actingAs({ roots }: Database, actor: Actor): Database {
  if (!seesPart(actor)) return { pool: roots.pool, db: roots.db, actor, roots };
  const pool = remitPool(roots.remits(), actor.accountId);
  return { pool, db: drizzle(pool, { schema }), actor, roots };
}

/**
 * The whole book in the same actor's name, whatever its remit. For what has to know of everybody without showing them: whether
 * somebody is here already, what a run of many did.
 */
export function wholeBook({ roots, actor }: Pick<Database, 'roots' | 'actor'>): Database {
  return { pool: roots.pool, db: roots.db, actor, roots };
}

/**
 * From within a transaction, where everybody is looked at: the transaction itself, or, of an actor with a remit, what is committed.
 * Whoever holds the locks of what is looked for (lockKeys) misses nothing by that.
 */
export function everybodyIn(tx: Tx): { pool: Queryable; db: Db } {
  return seesPart(tx.actor) ? tx.roots : { pool: tx.client, db: tx.db };
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

async function inOneTransaction<T>({ pool, actor, roots }: Database, work: (tx: Tx) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken = false;
  try {
    await client.query('begin');
    const result = await work({ client, db: drizzle(client, { schema }), actor, roots });
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
