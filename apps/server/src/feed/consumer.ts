import type { Tx, Database } from '../db/connect';
import { inTransaction } from '../db/connect';
import type { Logger } from '../log';
import { tell } from './events';
import { ensurePosition, findPosition, keepPosition } from './positions';
import { changesSince, type Change } from './read-changes';

/** Somebody who reads the feed. Each change is handled once: what `handle` writes and how far it read are one transaction. */
export interface Consumer {
  name: string;
  /** What comes of its reading, in one sentence, for Settings. */
  sentence: string;
  /** What it reads when it is first heard of. */
  from: 'beginning' | 'now';
  /** Changes of one transaction. */
  batch: number;
  handle(tx: Tx, changes: readonly Change[]): Promise<void>;
  /**
   * Work that follows from what was handled and is found in the database; done again after a crash. 'later' asks for another
   * turn, where something else has to end first.
   */
  then?(database: Database): Promise<'done' | 'later'>;
}

const FIRST_PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 10 * 60_000;

/** Lets one consumer handle its next changes. Returns how many; 0 where another process is at it or it waits after a failure. */
async function handleNext(database: Database, consumer: Consumer): Promise<number> {
  return inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ ready: boolean }>(
      `select next_try_at is null or next_try_at <= now() as ready from feed_consumer where name = $1 for update skip locked`,
      [consumer.name],
    );
    if (!rows[0]?.ready) return 0;
    const from = await findPosition(tx.client, consumer.name);
    if (!from) return 0;
    const { changes, cursor } = await changesSince(tx.client, from, consumer.batch);
    if (!changes.length) return 0;
    await consumer.handle(tx, changes);
    await keepPosition(tx.client, consumer.name, cursor);
    return changes.length;
  });
}

/** What went wrong, without a value of anybody's. */
function codeOf(error: unknown): string {
  const { code, name } = error as { code?: unknown; name?: unknown };
  return typeof code === 'string' ? code : typeof name === 'string' ? name : 'unknown';
}

async function keepFailure({ pool }: Database, name: string, error: unknown): Promise<void> {
  await pool.query(
    `update feed_consumer set failures = failures + 1, error = $2, failing_since = coalesce(failing_since, now()),
       next_try_at = now() + least($3::float * 2 ^ least(failures, 20), $4::float) * interval '1 millisecond' where name = $1`,
    [name, codeOf(error), FIRST_PAUSE_MS, LONGEST_PAUSE_MS],
  );
  await tell(pool, { topic: 'setup' });
}

/** Whether a consumer may be at work: it does not wait after a failure. Tells whether it had failed before, too. */
async function stateOf({ pool }: Database, name: string): Promise<{ ready: boolean; failed: boolean }> {
  const { rows } = await pool.query<{ ready: boolean; failed: boolean }>(
    `select next_try_at is null or next_try_at <= now() as ready, error is not null as failed from feed_consumer where name = $1`,
    [name],
  );
  return rows[0] ?? { ready: false, failed: false };
}

async function forgetFailure({ pool }: Database, name: string): Promise<void> {
  await pool.query(
    'update feed_consumer set failures = 0, error = null, failing_since = null, next_try_at = null where name = $1',
    [name],
  );
  await tell(pool, { topic: 'setup' });
}

/** The consumers of this process, and what each of them still has to follow up. */
export class FeedReaders {
  /** After a start everybody follows up what a crash may have left. */
  private readonly owing: Set<string>;

  constructor(
    private readonly database: Database,
    private readonly consumers: readonly Consumer[],
    private readonly log: Logger,
  ) {
    this.owing = new Set(consumers.map(({ name }) => name));
  }

  async open(): Promise<void> {
    for (const { name, from } of this.consumers) await ensurePosition(this.database.pool, name, from);
  }

  /** Lets every consumer read what is there. One that fails waits, longer each time, and holds up nobody else. */
  async readAll(): Promise<number> {
    let all = 0;
    for (const consumer of this.consumers) all += await this.read(consumer);
    return all;
  }

  private async read(consumer: Consumer): Promise<number> {
    let handled = 0;
    try {
      for (let n = await handleNext(this.database, consumer); n > 0; n = await handleNext(this.database, consumer)) {
        handled += n;
        this.owing.add(consumer.name);
      }
      if (this.owing.has(consumer.name)) await this.followUp(consumer);
    } catch (error) {
      this.log.error(
        { consumer: consumer.name, code: codeOf(error), stack: stackOf(error) },
        'a consumer of the feed failed',
      );
      await keepFailure(this.database, consumer.name, error);
    }
    return handled;
  }

  private async followUp({ name, then }: Consumer): Promise<void> {
    const { ready, failed } = await stateOf(this.database, name);
    if (!ready) return;
    if ((await then?.(this.database)) !== 'later') this.owing.delete(name);
    // What failed was the follow-up, since a failed handling is forgotten with the next that is done.
    if (failed) await forgetFailure(this.database, name);
  }
}

/** Where an error came from, without what it says: its message may hold values. */
function stackOf(error: unknown): string | undefined {
  return error instanceof Error ? error.stack?.split('\n').slice(1, 6).join('\n') : undefined;
}
