import { describe, expect, test } from '@jest/globals';
import { isOneOf } from '../segments';
import { valuesOf, type Value } from '../model';
import { SyncWorld } from '../testing/sync-world';
import type { Scope } from './index';

const BOOK = 0;
const give = { tags: [], source: '', owner: '', stage: '' };

/** Two people here, both over there already under the same mailboxes; only one of them takes part, by what is known here. */
async function world(who: Scope['who'] = { kind: 'condition', condition: isOneOf('stage', 'Student'), words: '' }) {
  const world = new SyncWorld({
    rules: [{ rule: 'replace', direction: 'both' }],
    makeAgain: false,
    removeThere: false,
    steps: [],
  });
  const setup = world.setups[BOOK];
  if (!setup) throw new Error('no set-up');
  setup.scopes = [{ id: 'some', who, give }];
  for (let i = 0; i < 2; i++) await world.step({ kind: 'newHere' });
  for (const [id, { record }] of world.book.contacts) {
    const email = String(valuesOf(record, 'email')[0]?.v);
    world.tools[BOOK]?.put(`card-${id}`, { family: [{ v: 'Trelawny' }], email: [{ v: email }] }, [], []);
  }
  world.tools[BOOK]?.put('card-9', { family: [{ v: 'Penrose' }], email: [{ v: 'nobody@example.org' }] }, [], []);
  stage(world, 1, 'Student');
  return world;
}

function stage(world: SyncWorld, target: number, v: string): void {
  const before = world.book.contacts.get(target)?.record.f.stage?.[0] ?? null;
  const after: Value = { slot: 0, v, run: world.book.startRun() };
  world.book.write(target, [{ target, field: 'stage', slot: 0, before, after }]);
}

const states = (world: SyncWorld) =>
  Object.fromEntries(
    [...(world.stores[BOOK]?.byId ?? [])].map(([id, { state, contactId }]) => [id, [state, contactId]]),
  );
const there = (world: SyncWorld) => [...(world.tools[BOOK]?.records.keys() ?? [])].sort();
const ALL = ['card-1', 'card-2', 'card-9'];

describe('who takes part by what is known of them here', () => {
  test('is linked with the record that is there already, and not made a second time', async () => {
    const it = await world();
    await it.pass(BOOK);
    expect(there(it)).toEqual(ALL);
    expect(states(it)).toEqual({ 'card-1': ['linked', 1], 'card-2': ['stranger', 2], 'card-9': ['stranger', 0] });
    expect(it.book.contacts.size).toBe(2);
  });

  test('is linked once they take part, though nobody changed the record meanwhile', async () => {
    const it = await world();
    await it.pass(BOOK);
    stage(it, 2, 'Student');
    await it.pass(BOOK);
    expect(there(it)).toEqual(ALL);
    expect(states(it)['card-2']).toEqual(['linked', 2]);
  });

  test('is known again where a record there becomes theirs', async () => {
    const it = await world();
    it.tools[BOOK]?.remove('card-1');
    const email = String(valuesOf(it.book.contacts.get(1)?.record ?? { n: 0, f: {} }, 'email')[0]?.v);
    stage(it, 1, 'Alumni');
    await it.pass(BOOK);
    it.tools[BOOK]?.put('card-9', { family: [{ v: 'Penrose' }], email: [{ v: email }] }, [], []);
    stage(it, 1, 'Student');
    await it.pass(BOOK);
    expect(there(it)).toEqual(['card-2', 'card-9']);
    expect(states(it)['card-9']).toEqual(['linked', 1]);
  });

  test('may be found by a label there or by hand: the record of whoever is sent is found all the same', async () => {
    const it = await world({ kind: 'labelThere', label: 'Crew' });
    await it.pass(BOOK);
    expect(states(it)).toEqual({ 'card-1': ['stranger', 1], 'card-2': ['stranger', 2], 'card-9': ['stranger', 0] });
    const record = it.tools[BOOK]?.records.get('card-1');
    it.tools[BOOK]?.put('card-1', record?.fields ?? {}, ['Crew'], []);
    await it.pass(BOOK);
    expect([there(it), states(it)['card-1']]).toEqual([ALL, ['linked', 1]]);
  });

  test('is stopped by a word over there though they do not take part, once', async () => {
    const it = await world();
    const DIALER = 1;
    const setup = it.setups[DIALER];
    if (!setup) throw new Error('no set-up');
    setup.scopes = [{ id: 'some', who: { kind: 'byHand' }, give }];
    const email = String(valuesOf(it.book.contacts.get(2)?.record ?? { n: 0, f: {} }, 'email')[0]?.v);
    it.tools[DIALER]?.put('p-2', { name: [{ v: 'ANA' }], email: [{ v: email }] }, [], ['call']);
    await it.pass(DIALER);
    expect(it.book.contacts.get(2)?.stopped).toEqual(['call']);
    // Opened by somebody's word here it stays open, though the record changes.
    const kept = it.book.contacts.get(2);
    if (kept) kept.stopped = [];
    it.tools[DIALER]?.put('p-2', { name: [{ v: 'ANNA' }], email: [{ v: email }] }, [], ['call']);
    await it.pass(DIALER);
    expect([it.book.contacts.get(2)?.stopped, it.book.contacts.get(1)?.stopped]).toEqual([[], []]);
  });
});
