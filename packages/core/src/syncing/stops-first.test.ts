import { expect, test } from '@jest/globals';
import { SyncWorld } from '../testing/sync-world';
import type { OutsideWrite } from './index';

const DIALER = 1;

test('whoever said stop is written before everybody else', async () => {
  const world = new SyncWorld({
    rules: [{ rule: 'replace', direction: 'both' }],
    makeAgain: false,
    removeThere: false,
    steps: [],
  });
  for (let i = 0; i < 3; i++) await world.step({ kind: 'newHere' });
  await world.pass(DIALER);
  const [tool] = world.tools.slice(DIALER);
  if (!tool) throw new Error('there is no dialer');
  const written: OutsideWrite[] = [];
  const write = tool.write.bind(tool);
  tool.write = (writes) => {
    written.push(...writes);
    return write(writes);
  };
  for (const id of [1, 2, 3]) {
    const before = world.book.contacts.get(id)?.record.f.givenName?.[0] ?? null;
    const after = { slot: before?.slot ?? 0, v: `Kerra ${id}`, run: world.book.startRun() };
    expect(world.book.write(id, [{ target: id, field: 'givenName', slot: after.slot, before, after }])).toBe(true);
  }
  world.book.stop(3, ['call', 'post']);
  await world.pass(DIALER);
  // What a tool keeps no stop of is none of its business.
  expect(written.map((one) => (one.kind === 'update' ? one.stop : one.kind))).toEqual([['call'], [], []]);
});
