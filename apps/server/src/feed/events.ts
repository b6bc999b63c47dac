import type pg from 'pg';
import type { Database } from '../db/connect';
import type { Logger } from '../log';

const CHANNEL = 'gray_loom';

const TOPICS = ['run', 'contacts', 'groups', 'looks', 'intakes', 'held', 'syncs', 'setup', 'segments'] as const;

/** What is told to every open screen: what moved, not what it is now. */
export interface LoomEvent {
  /** run: a run moved; contacts, groups, intakes, held, syncs, setup: lists to look at again. */
  topic: (typeof TOPICS)[number];
  id?: number;
}

/** Tells all servers, through the database, inside the caller's transaction if there is one. */
export async function tell(client: pg.Pool | pg.PoolClient, event: LoomEvent): Promise<void> {
  await client.query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)]);
}

export type Listener = (event: LoomEvent) => void;

/** How long to wait before a database that went away is asked anew. */
const AGAIN_MS = 1000;

/** Hands events from the database to listeners of this process; comes back for as long as it takes when the connection is lost. */
export class EventHub {
  private readonly listeners = new Set<Listener>();
  private client: pg.PoolClient | null = null;
  private closed = false;

  constructor(
    private readonly database: Pick<Database, 'pool'>,
    private readonly log: Logger,
    private readonly againMs = AGAIN_MS,
  ) {}

  async open(): Promise<void> {
    const client = await this.database.pool.connect();
    // What breaks on its way out, or breaks twice, is nobody's any more.
    client.on('error', (error) => {
      if (!this.drop(client)) return;
      this.log.warn({ code: (error as { code?: string }).code }, 'the event connection was lost');
      this.comeBack();
    });
    this.client = client;
    if (this.closed) {
      this.drop(client);
      return;
    }
    client.on('notification', ({ payload }) => {
      if (payload) this.hand(JSON.parse(payload) as LoomEvent);
    });
    try {
      await client.query(`listen ${CHANNEL}`);
    } catch (error) {
      this.drop(client);
      throw error;
    }
  }

  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  close(): void {
    this.closed = true;
    if (this.client) this.drop(this.client);
  }

  private hand(event: LoomEvent): void {
    for (const listener of this.listeners) listener(event);
  }

  /** Gives a connection back for good; false where that was done before. */
  private drop(client: pg.PoolClient): boolean {
    if (this.client !== client) return false;
    this.client = null;
    client.release(true);
    return true;
  }

  private comeBack(): void {
    setTimeout(() => {
      if (this.closed) return;
      this.open().then(
        // What was told meanwhile was told to nobody, so everything is looked at again.
        () => TOPICS.forEach((topic) => this.hand({ topic })),
        () => {
          this.log.error('the event connection did not come back; it is tried again');
          this.comeBack();
        },
      );
    }, this.againMs);
  }
}
