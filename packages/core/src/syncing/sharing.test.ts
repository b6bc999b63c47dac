import { describe, expect, test } from '@jest/globals';
import { SyncWorld } from '../testing/sync-world';
import { chooseHolder, settleWho, type Link } from './index';

const MAILER = 2;

/** Us and a mailer, with people here who share one address. */
async function sharing(shares: 'first' | 'ask', people: number): Promise<SyncWorld> {
  const world = new SyncWorld({
    rules: [{ rule: 'fill', direction: 'both' }],
    makeAgain: false,
    removeThere: false,
    shares,
    steps: [],
  });
  await world.step({ kind: 'newHere' });
  for (let i = 1; i < people; i++) await world.step({ kind: 'sharesHere', who: 0 });
  await world.pass(MAILER);
  return world;
}

const links = (world: SyncWorld) => [...(world.stores[MAILER]?.byId.values() ?? [])];
const heldBy = (world: SyncWorld) => links(world).find(({ state }) => state === 'linked');
const waitingOf = (world: SyncWorld, contactId: number) =>
  links(world).find((link) => link.waitsFor !== null && link.contactId === contactId) as Link;
const waiting = (world: SyncWorld) =>
  links(world)
    .filter(({ waitsFor }) => waitsFor !== null)
    .map(({ contactId }) => contactId)
    .sort();
const there = (world: SyncWorld) => [...(world.tools[MAILER]?.records.values() ?? [])];
const given = (world: SyncWorld, id: number) => String(world.book.contacts.get(id)?.record.f.givenName?.[0]?.v);

function remove(world: SyncWorld, id: number): void {
  const after = { slot: 0, v: { state: 'deleted' as const }, run: world.book.startRun() };
  world.book.write(id, [{ target: id, field: 'lifecycle', slot: 0, before: null, after }]);
}

async function choose(world: SyncWorld, contactId: number): Promise<void> {
  const store = world.stores[MAILER];
  const setup = world.setups[MAILER];
  if (!store || !setup) throw new Error('no mailer');
  const link = waitingOf(world, contactId);
  await store.save(chooseHolder({ waiting: link, holder: heldBy(world) ?? null, newId: 'waits-9' }, setup));
}

describe('several people with one address, where there is one entry for each', () => {
  test('whoever was here first has it, the others wait, and it stays so', async () => {
    const world = await sharing('first', 3);
    expect(there(world)).toHaveLength(1);
    expect(heldBy(world)?.contactId).toBe(1);
    expect(waiting(world)).toEqual([2, 3]);
    const before = JSON.stringify(links(world));
    await world.pass(MAILER);
    expect(JSON.stringify(links(world))).toBe(before);
    expect(world.broken().filter((fault) => fault.includes('waits'))).toEqual([]);
  });

  test('the next one takes over an entry whose person is gone, and it says what is known of them', async () => {
    const world = await sharing('first', 3);
    remove(world, 1);
    await world.pass(MAILER);
    await world.pass(MAILER);
    expect(heldBy(world)?.contactId).toBe(2);
    expect(waiting(world)).toEqual([3]);
    expect(there(world).map(({ fields }) => fields.given?.[0]?.v)).toEqual([given(world, 2)]);
    expect(given(world, 2)).not.toBe(given(world, 1));
  });

  test('a person gives it to another, though a line fills blanks only; nothing of the former one comes here', async () => {
    const world = await sharing('first', 2);
    const name = given(world, 2);
    await choose(world, 2);
    await world.pass(MAILER);
    expect(heldBy(world)?.contactId).toBe(2);
    expect(waiting(world)).toEqual([1]);
    expect(there(world).map(({ fields }) => fields.given?.[0]?.v)).toEqual([name]);
    // The first one has a family name, the other one has none: it goes from the entry, and does not come here.
    expect(there(world)[0]?.fields.family ?? []).toEqual([]);
    expect(world.book.contacts.get(2)?.record.f.familyName).toBeUndefined();
    expect(await world.rest(6)).not.toBeNull();
    expect(heldBy(world)?.contactId).toBe(2);
  });

  test('nobody has it where a person has to say who, and then the one who was named', async () => {
    const world = await sharing('ask', 2);
    expect(there(world)).toEqual([]);
    expect(waiting(world)).toEqual([1, 2]);
    await choose(world, 2);
    await world.pass(MAILER);
    expect(heldBy(world)?.contactId).toBe(2);
    expect(waiting(world)).toEqual([1]);
  });

  test('whoever is the only one left to wait needs no word', async () => {
    const world = await sharing('ask', 2);
    remove(world, 1);
    await world.pass(MAILER);
    await world.pass(MAILER);
    expect(heldBy(world)?.contactId).toBe(2);
    expect(waiting(world)).toEqual([]);
  });

  test('whoever is merged into the one who has it waits no more', async () => {
    const world = await sharing('first', 2);
    expect(world.book.merge(1, 2)).not.toBeNull();
    await world.pass(MAILER);
    expect(waiting(world)).toEqual([]);
    expect(there(world)).toHaveLength(1);
  });

  test('an entry that is nobody here is asked about before anybody with its address is there', async () => {
    const world = new SyncWorld({
      rules: [{ rule: 'ask', direction: 'both' }],
      makeAgain: false,
      removeThere: false,
      shares: 'first',
      steps: [],
    });
    const [store, tool, setup] = [world.stores[MAILER], world.tools[MAILER], world.setups[MAILER]];
    if (!store || !tool || !setup) throw new Error('no mailer');
    setup.newHere = false;
    await world.step({ kind: 'newThere', tool: MAILER });
    await world.pass(MAILER);
    const [stranger] = links(world);
    expect(stranger?.state).toBe('stranger');
    // Somebody with the address comes in here, of whom nothing else says that the entry is theirs.
    store.identify = (records) => Promise.resolve(records.map(() => ({ who: 'nobody' as const })));
    const email = [{ slot: 0, v: stranger?.outsideId ?? '', run: world.book.startRun() }];
    const id = world.book.insert({ n: 1, f: { email } });
    await world.pass(MAILER);
    expect(links(world)).toMatchObject([
      { state: 'asking', candidates: [id] },
      { contactId: id, waitsFor: stranger?.outsideId },
    ]);
    const before = JSON.stringify(links(world));
    await world.pass(MAILER);
    expect(JSON.stringify(links(world))).toBe(before);
    const asked = links(world)[0] as Link;
    await store.save([settleWho(asked, { take: 'contact', contactId: id })]);
    expect(await world.rest(6)).not.toBeNull();
    expect(heldBy(world)?.contactId).toBe(id);
    expect(waiting(world)).toEqual([]);
    expect(there(world)).toHaveLength(1);
  });
});
