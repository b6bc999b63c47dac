import { expect, test } from '@jest/globals';
import { EventEmitter } from 'node:events';
import type pg from 'pg';
import { EventHub, type LoomEvent } from './events';
import { createLogger } from '../log';

/** A connection that can break, and counts how often it was given back. */
class Connection extends EventEmitter {
  released = 0;
  queries: string[] = [];

  query(text: string): Promise<void> {
    this.queries.push(text);
    return Promise.resolve();
  }

  release(): void {
    if (this.released++) throw new Error('Release called on client which has already been released to the pool.');
  }
}

function hub({ failing = 0 } = {}) {
  const connections: Connection[] = [];
  let left = failing;
  const pool = {
    connect: () => {
      // The first one is there; those that come after it may fail.
      if (connections.length > 0 && left-- > 0) return Promise.reject(new Error('the database is starting up'));
      connections.push(new Connection());
      return Promise.resolve(connections.at(-1));
    },
  } as unknown as pg.Pool;
  const events = new EventHub({ pool }, createLogger('test', 'silent'), 1);
  const told: LoomEvent[] = [];
  events.subscribe((event) => told.push(event));
  return { events, connections, told };
}

async function until(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise((done) => setTimeout(done, 2));
}
const LOST = Object.assign(new Error('terminating connection'), { code: '57P01' });

test('what the database tells is handed on', async () => {
  const { events, connections, told } = hub();
  await events.open();
  expect(connections[0]?.queries).toEqual(['listen gray_loom']);
  connections[0]?.emit('notification', { payload: '{"topic":"run","id":3}' });
  connections[0]?.emit('notification', { payload: '' });
  expect(told).toEqual([{ topic: 'run', id: 3 }]);
  events.close();
});

test('a connection that is lost comes back for as long as it takes, and everything is looked at again', async () => {
  const { events, connections, told } = hub({ failing: 3 });
  await events.open();
  connections[0]?.emit('error', LOST);
  await until(() => told.length > 0);
  expect(connections).toHaveLength(2);
  expect(told.map(({ topic }) => topic)).toContain('contacts');
  connections[1]?.emit('notification', { payload: '{"topic":"held"}' });
  expect(told.at(-1)).toEqual({ topic: 'held' });
  events.close();
  expect(connections.map(({ released }) => released)).toEqual([1, 1]);
});

test('a connection that breaks twice, or after it was closed, is given back once and brings nobody down', async () => {
  const { events, connections } = hub();
  await events.open();
  events.close();
  expect(() => connections[0]?.emit('error', LOST)).not.toThrow();
  expect(connections[0]?.released).toBe(1);
  const other = hub();
  await other.events.open();
  other.connections[0]?.emit('error', LOST);
  expect(() => other.connections[0]?.emit('error', LOST)).not.toThrow();
  other.events.close();
  expect(other.connections[0]?.released).toBe(1);
});

test('one that is closed while it comes back gives its connection back', async () => {
  const { events, connections } = hub();
  const opening = events.open();
  events.close();
  await opening;
  expect(connections[0]?.released).toBe(1);
  expect(connections[0]?.queries).toEqual([]);
});
