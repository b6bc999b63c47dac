import type pg from 'pg';
import type { Database } from './db/connect';
import type { Logger } from './log';

const CHANNEL = 'gray_loom';

/** What is told to every open screen: what moved, not what it is now. */
export interface LoomEvent {
  /** run: a run moved; contacts, groups, intakes, held, syncs: lists to look at again. */
  topic: 'run' | 'contacts' | 'groups' | 'looks' | 'intakes' | 'held' | 'syncs';
  id?: number;
}

/** Tells all servers, through the database, inside the caller's transaction if there is one. */
export async function tell(client: pg.Pool | pg.PoolClient, event: LoomEvent): Promise<void> {
  await client.query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)]);
}

export type Listener = (event: LoomEvent) => void;

/** Hands events from the database to listeners of this process; reconnects when the connection is lost. */
export class EventHub {
  private readonly listeners = new Set<Listener>();
  private client: pg.PoolClient | null = null;
  private closed = false;

  constructor(
    private readonly database: Database,
    private readonly log: Logger,
  ) {}

  async open(): Promise<void> {
    const client = await this.database.pool.connect();
    this.client = client;
    client.on('notification', ({ payload }) => {
      if (!payload) return;
      const event = JSON.parse(payload) as LoomEvent;
      for (const listener of this.listeners) listener(event);
    });
    client.once('error', (error) => {
      this.log.warn({ code: (error as { code?: string }).code }, 'the event connection was lost');
      client.release(true);
      this.client = null;
      if (!this.closed)
        setTimeout(() => void this.open().catch(() => this.log.error('the event connection did not come back')), 1000);
    });
    await client.query(`listen ${CHANNEL}`);
  }

  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  close(): void {
    this.closed = true;
    this.client?.release(true);
    this.client = null;
  }
}
