import { describe, expect, test } from '@jest/globals';
import { lifecycleOf, valuesOf, type Value } from '../model';
import { SyncWorld } from '../testing/sync-world';

const BOOK = 0;

/** Us and an address book in step, each line both ways; where both sides differ, the other side has the last word. */
async function inStep(): Promise<SyncWorld> {
  const world = new SyncWorld({
    rules: [{ rule: 'replace', direction: 'both' }],
    makeAgain: false,
    removeThere: false,
    steps: [],
  });
  await world.step({ kind: 'newHere' });
  await world.pass(BOOK);
  return world;
}

function set(world: SyncWorld, field: string, v: Value['v'] | null): void {
  const before = world.book.contacts.get(1)?.record.f[field]?.[0] ?? null;
  const slot = before?.slot ?? 0;
  const after = v === null ? null : { slot, v, run: world.book.startRun() };
  expect(world.book.write(1, [{ target: 1, field, slot, before, after }])).toBe(true);
}

const here = (world: SyncWorld, field: string) =>
  valuesOf(world.book.contacts.get(1)?.record ?? { n: 0, f: {} }, field).map(({ v }) => v);
const there = (world: SyncWorld) => [...(world.tools[BOOK]?.records.values() ?? [])][0];

describe('somebody who is in step again', () => {
  test('keeps what was changed here before they were deleted, and gives it to the other side', async () => {
    const world = await inStep();
    set(world, 'email', 'new@quillhaven.example');
    set(world, 'lifecycle', { state: 'deleted' });
    await world.pass(BOOK);
    set(world, 'lifecycle', null);
    expect(lifecycleOf(world.book.contacts.get(1)?.record ?? { n: 0, f: {} })).toBeFalsy();
    await world.pass(BOOK);
    expect(here(world, 'email')).toEqual(['new@quillhaven.example']);
    expect(there(world)?.fields.email?.map(({ v }) => v)).toEqual(['new@quillhaven.example']);
  });

  test('gets what was changed over there meanwhile', async () => {
    const world = await inStep();
    set(world, 'lifecycle', { state: 'deleted' });
    await world.pass(BOOK);
    const record = there(world);
    world.tools[BOOK]?.put(record?.id ?? '', { ...record?.fields, given: [{ v: 'Kerra' }] }, [], []);
    await world.pass(BOOK);
    expect(here(world, 'givenName')).not.toEqual(['Kerra']);
    set(world, 'lifecycle', null);
    await world.pass(BOOK);
    expect(here(world, 'givenName')).toEqual(['Kerra']);
  });

  test('keeps the stage whose label we took off when they left', async () => {
    const world = await inStep();
    const setup = world.setups[BOOK];
    if (!setup) throw new Error('no set-up');
    setup.scopes = [
      { id: 'all', who: { kind: 'stage', stage: 'Student' }, give: { tags: [], source: '', owner: '', stage: '' } },
    ];
    setup.whenLeaving = 'takeLabelOff';
    set(world, 'stage', 'Student');
    await world.pass(BOOK);
    expect(there(world)?.labels).toEqual(['at Student']);
    set(world, 'stage', 'Alumni');
    await world.pass(BOOK);
    expect(there(world)?.labels).toEqual([]);
    set(world, 'stage', 'Student');
    await world.pass(BOOK);
    expect([here(world, 'stage'), there(world)?.labels]).toEqual([['Student'], ['at Student']]);
  });

  test('over there after a merge here is a second record, of which a person is asked', async () => {
    const world = await inStep();
    await world.step({ kind: 'newHere' });
    await world.pass(BOOK);
    const tool = world.tools[BOOK];
    const [first, second] = [...(tool?.records.keys() ?? [])];
    tool?.remove(first ?? '');
    await world.pass(BOOK);
    world.book.merge(2, 1);
    await world.pass(BOOK);
    tool?.putBack();
    await world.pass(BOOK);
    await world.pass(BOOK);
    expect([...(tool?.records.keys() ?? [])].sort()).toEqual([first, second].sort());
    expect(world.stores[BOOK]?.conflicts.get(first ?? '')?.map(({ why }) => why)).toEqual(['twoThere']);
    expect(world.stores[BOOK]?.byId.get(second ?? '')).toMatchObject({ state: 'linked', asksTwo: false });
  });
});
