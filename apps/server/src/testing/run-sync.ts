import { randomBytes } from 'node:crypto';
import type { ConnectionDetail, ConnectionSummary, SyncSetup } from '@gray-loom/wire';
import { startAddressBook, type AddressBook } from '../../../stand-ins/src/address-book/server';
import { failRun } from '../runs/runs';
import { startTestApp, type TestApp } from './start-test-app';

export const KEY = randomBytes(32).toString('base64');
/** An app, an outside address book, and a connection between the two. */
export interface SyncedApp {
  app: TestApp;
  book: AddressBook;
  connectionId: number;
  /** Runs the connection, or tries it; gives how the run ended. */
  run(options?: {
    trial?: boolean;
    only?: number[];
    onlyThere?: string[];
  }): Promise<{ id: number; state: string; counts: Record<string, number>; error: string | null }>;
  /** Does what a worker would do with a run that waits. */
  work(runId: number): Promise<void>;
  detail(): Promise<ConnectionDetail>;
  setup(change: (setup: SyncSetup) => SyncSetup): Promise<void>;
  put(name: string, lines: Record<string, string | string[]>): void;
  card(name: string): string;
  end(): Promise<void>;
}

/** A card of version 3 with these lines. */
export function cardOf(lines: Record<string, string | string[]>): string {
  const all = Object.entries(lines).flatMap(([name, values]) => [values].flat().map((value) => `${name}:${value}`));
  return ['BEGIN:VCARD', 'VERSION:3.0', ...all, 'END:VCARD', ''].join('\r\n');
}

export async function startSyncedApp(cards: { name: string; text: string }[] = []): Promise<SyncedApp> {
  const book = await startAddressBook({ port: 0, file: null, user: 'office', password: 'secret', cards: () => cards });
  const app = await startTestApp({ GRAY_LOOM_KEY: KEY, GRAY_LOOM_STAND_INS: `http://127.0.0.1:${book.port}` });
  const { id: connectionId } = await app.json<{ id: number }>('/connections', 'POST', {
    name: 'Office address book',
    settings: { address: `http://127.0.0.1:${book.port}/`, user: 'office', password: 'secret' },
  });
  const work = async (runId: number) => {
    await app.work(runId).catch(async (error: unknown) => {
      await failRun(app.database, runId, String(error));
      throw error;
    });
  };
  return {
    app,
    book,
    connectionId,
    work,
    run: async ({ trial = false, only, onlyThere = [] } = {}) => {
      const { runId } = await app.json<{ runId: number }>(`/connections/${connectionId}/run`, 'POST', {
        trial,
        only: only ?? null,
        onlyThere,
      });
      await work(runId);
      return app.json(`/runs/${runId}`);
    },
    detail: () => app.json(`/connections/${connectionId}`),
    setup: async (change) => {
      const { setup } = await app.json<ConnectionDetail>(`/connections/${connectionId}`);
      await app.json<ConnectionSummary>(`/connections/${connectionId}`, 'PATCH', { setup: change(setup) });
    },
    put: (name, lines) => book.book.put(name, cardOf(lines), Date.now()),
    card: (name) => book.book.find(name)?.text ?? '',
    end: async () => {
      await app.end();
      await book.stop();
    },
  };
}
