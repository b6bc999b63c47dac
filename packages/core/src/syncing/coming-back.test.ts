import { describe, expect, test } from '@jest/globals';
import { isOneOf } from '../segments';
import { lifecycleOf, valuesOf, type Value } from '../model';
import { SyncWorld } from '../testing/sync-world';
import {
  renamedSetup,
  staysInStep,
  SyncPass,
  withFormerLabels,
  withoutStage,
  wordBrake,
  type SyncLine,
  type SyncSetup,
} from './index';

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
const linkOf = (world: SyncWorld) => [...(world.stores[BOOK]?.byId.values() ?? [])][0];
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
      {
        id: 'all',
        who: { kind: 'condition', condition: isOneOf('stage', 'Student'), words: 'stage is Student' },
        give: { tags: [], source: '', owner: '', stage: '' },
      },
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
    expect(world.stores[BOOK]?.byId.get(second ?? '')).toMatchObject({ state: 'linked', asks: null });
  });
});

/** Whoever is deleted here goes over there as well. */
function removing(world: SyncWorld): void {
  const setup = world.setups[BOOK];
  if (setup) setup.whenGoneHere = 'remove';
}

describe('a record that is removed over there since its contact was deleted here', () => {
  test('is asked about where somebody edited it since, and stays until that is settled', async () => {
    const world = await inStep();
    removing(world);
    const tool = world.tools[BOOK];
    const before = there(world);
    set(world, 'lifecycle', { state: 'deleted' });
    tool?.put(before?.id ?? '', { ...before?.fields, given: [{ v: 'Kerra' }] }, [], []);
    await world.pass(BOOK);
    await world.pass(BOOK);
    expect(there(world)?.fields.given).toEqual([{ v: 'Kerra' }]);
    expect(world.stores[BOOK]?.conflicts.get(before?.id ?? '')).toEqual([
      { line: '', ours: [], theirs: [{ v: 'Kerra' }], why: 'removal' },
    ]);
    // Brought back, it has what was edited.
    const link = linkOf(world);
    if (!link) throw new Error('no link');
    await world.stores[BOOK]?.save([staysInStep(link)]);
    set(world, 'lifecycle', null);
    await world.pass(BOOK);
    expect(here(world, 'givenName')).toEqual(['Kerra']);
    expect(world.asked()).toEqual([]);
  });

  test.each([
    ['before the pass', false],
    ['after it is known that they are gone', true],
  ])('a colleague over there sends over whoever was deleted here, %s: a person is asked', async (_, isKnown) => {
    const world = await inStep();
    const id = there(world)?.id ?? '';
    set(world, 'lifecycle', { state: 'deleted' });
    if (isKnown) await world.pass(BOOK);
    await world.pass(BOOK, [], new Set([id]));
    expect(lifecycleOf(world.book.contacts.get(1)?.record ?? { n: 0, f: {} })?.state).toBe('deleted');
    expect(world.stores[BOOK]?.conflicts.get(id)).toMatchObject([
      { why: 'removal', theirs: [...(there(world)?.fields.given ?? []), ...(there(world)?.fields.family ?? [])] },
    ]);
    // It stays open, and nothing is done meanwhile.
    const writes = world.writes();
    await world.pass(BOOK);
    expect([world.asked(), world.writes()]).toEqual([[': removal'], writes]);
    // Brought back, they are in step again.
    const link = linkOf(world);
    if (!link) throw new Error('no link');
    await world.stores[BOOK]?.save([staysInStep(link)]);
    set(world, 'lifecycle', null);
    await world.pass(BOOK);
    expect([linkOf(world)?.state, world.asked()]).toEqual(['linked', []]);
  });

  test('goes without a question where nobody touched it', async () => {
    const world = await inStep();
    removing(world);
    set(world, 'lifecycle', { state: 'deleted' });
    await world.pass(BOOK);
    expect([there(world), world.asked()]).toEqual([undefined, []]);
  });

  test('comes back with everything it had, and with what changed here since', async () => {
    const world = await inStep();
    removing(world);
    const tool = world.tools[BOOK];
    const before = there(world);
    // Fields and labels that no line of the mapping knows.
    tool?.put(before?.id ?? '', { ...before?.fields, tel: [{ v: '01632 960111', label: 'boat' }] }, ['crew'], []);
    await world.pass(BOOK);
    const whole = there(world);
    const setup = world.setups[BOOK];
    if (setup) setup.lines = setup.lines.filter(({ outside }) => outside !== 'tel');
    set(world, 'lifecycle', { state: 'deleted' });
    await world.pass(BOOK);
    expect(there(world)).toBeUndefined();
    set(world, 'lifecycle', null);
    set(world, 'email', 'new@quillhaven.example');
    await world.pass(BOOK);
    expect(there(world)).toMatchObject({
      id: whole?.id,
      uid: whole?.uid,
      labels: ['crew'],
      fields: { tel: [{ v: '01632 960111', label: 'boat' }], email: [{ v: 'new@quillhaven.example' }] },
    });
    expect(linkOf(world)).toMatchObject({ state: 'linked', kept: null });
  });

  test('costs nothing in later passes', async () => {
    const world = await inStep();
    removing(world);
    set(world, 'lifecycle', { state: 'deleted' });
    await world.pass(BOOK);
    const tool = world.tools[BOOK];
    const link = linkOf(world);
    // Somebody touches the choice of the contact, which asks for a look at its link.
    if (link) world.stores[BOOK]?.byId.set(link.outsideId, { ...link, dirty: true });
    await world.pass(BOOK, ['cursorLost']);
    const reads = tool?.reads ?? 0;
    await world.pass(BOOK);
    await world.pass(BOOK, ['cursorLost']);
    // Two passes ask what changed, once and twice, and read no record.
    expect((tool?.reads ?? 0) - reads).toBe(3);
  });
});

describe('a question who somebody is', () => {
  async function asked(): Promise<{ world: SyncWorld; id: string }> {
    const world = await inStep();
    await world.step({ kind: 'newHere' });
    const emails = [1, 2].map((id) =>
      String(valuesOf(world.book.contacts.get(id)?.record ?? { n: 0, f: {} }, 'email')[0]?.v),
    );
    const id = 'somebody';
    world.tools[BOOK]?.put(id, { given: [{ v: 'Wenna' }], email: emails.map((v) => ({ v })) }, [], []);
    await world.pass(BOOK);
    expect(world.stores[BOOK]?.byId.get(id)).toMatchObject({ state: 'asking', candidates: [1, 2], band: 'likely' });
    return { world, id };
  }

  test('stays open while whoever it may be changes, and becomes nobody new by itself', async () => {
    const { world, id } = await asked();
    for (const contact of [1, 2]) {
      const [before] = valuesOf(world.book.contacts.get(contact)?.record ?? { n: 0, f: {} }, 'email');
      if (!before) throw new Error('no e-mail');
      const after = { ...before, v: `other${contact}@quillhaven.example`, run: world.book.startRun() };
      world.book.write(contact, [{ target: contact, field: 'email', slot: before.slot, before, after }]);
    }
    await world.pass(BOOK);
    await world.pass(BOOK);
    expect(world.stores[BOOK]?.byId.get(id)).toMatchObject({ state: 'asking', candidates: [1, 2] });
    expect(world.book.contacts.size).toBe(2);
  });

  test('stays open where whoever it may be is deleted', async () => {
    const { world, id } = await asked();
    for (const target of [1, 2])
      world.book.write(target, [
        {
          target,
          field: 'lifecycle',
          slot: 0,
          before: null,
          after: { slot: 0, v: { state: 'deleted' }, run: world.book.startRun() },
        },
      ]);
    await world.pass(BOOK);
    expect(world.stores[BOOK]?.byId.get(id)).toMatchObject({ state: 'asking' });
    expect(world.book.contacts.size).toBe(2);
  });

  test('answers itself once the two are one', async () => {
    const { world, id } = await asked();
    world.book.merge(1, 2);
    await world.pass(BOOK);
    // Contact 1 has a record there already, so of the other a person is asked what it is; nobody new came up.
    expect(world.stores[BOOK]?.byId.get(id)).toMatchObject({ state: 'asking', candidates: [1], band: 'certain' });
  });
});

describe('a label that stands for a stage', () => {
  async function withStage(): Promise<{ world: SyncWorld; line: SyncLine; setup: SyncSetup }> {
    const world = await inStep();
    set(world, 'stage', 'Student');
    await world.pass(BOOK);
    const setup = world.setups[BOOK];
    const line = setup?.lines.find(({ stageLabels }) => stageLabels);
    if (!setup || !line) throw new Error('no stages');
    expect(there(world)?.labels).toEqual(['at Student']);
    return { world, line, setup };
  }

  test('is renamed over there where it is renamed in the set-up, and nobody loses the stage', async () => {
    const { world, line, setup } = await withStage();
    const after = {
      ...setup,
      lines: setup.lines.map((one) =>
        one === line ? { ...line, stageLabels: { ...line.stageLabels, Student: 'learns' } } : one,
      ),
    };
    Object.assign(setup, withFormerLabels(setup, after));
    const link = linkOf(world);
    if (link) world.stores[BOOK]?.byId.set(link.outsideId, { ...link, dirty: true });
    await world.pass(BOOK);
    expect([here(world, 'stage'), there(world)?.labels]).toEqual([['Student'], ['learns']]);
    // Somebody over there still has the old label in use.
    const record = there(world);
    world.tools[BOOK]?.put('late', { given: [{ v: 'Ines' }], email: [{ v: 'ines@example.org' }] }, ['at Student'], []);
    await world.pass(BOOK);
    expect(record?.labels).toEqual(['learns']);
    expect(valuesOf(world.book.contacts.get(2)?.record ?? { n: 0, f: {} }, 'stage').map(({ v }) => v)).toEqual([
      'Student',
    ]);
    expect(world.tools[BOOK]?.records.get('late')?.labels).toEqual(['learns']);
  });

  test('stays, or goes along, where the stage is renamed here', async () => {
    const { world, setup } = await withStage();
    Object.assign(setup, renamedSetup(setup, { field: 'stage', from: 'Student', into: 'Pupil' }));
    // While the contacts are renamed one after the other, both names stand for the label.
    const link = linkOf(world);
    if (link) world.stores[BOOK]?.byId.set(link.outsideId, { ...link, dirty: true });
    await world.pass(BOOK);
    expect([here(world, 'stage'), there(world)?.labels]).toEqual([['Student'], ['at Student']]);
    set(world, 'stage', 'Pupil');
    Object.assign(setup, withoutStage(setup, 'Student'));
    await world.pass(BOOK);
    expect([here(world, 'stage'), there(world)?.labels]).toEqual([['Pupil'], ['at Student']]);
  });

  test('that was the name of the stage takes its new name', async () => {
    const { world, line, setup } = await withStage();
    line.stageLabels = { ...line.stageLabels, Student: 'Student' };
    line.formerLabels = { 'at Student': 'Student' };
    const link = linkOf(world);
    if (link) world.stores[BOOK]?.byId.set(link.outsideId, { ...link, dirty: true });
    await world.pass(BOOK);
    expect(there(world)?.labels).toEqual(['Student']);
    Object.assign(
      setup,
      withoutStage(renamedSetup(setup, { field: 'stage', from: 'Student', into: 'Pupil' }), 'Student'),
    );
    set(world, 'stage', 'Pupil');
    await world.pass(BOOK);
    expect([here(world, 'stage'), there(world)?.labels]).toEqual([['Pupil'], ['Pupil']]);
  });
});

test('a field that is gone over there clears nothing here, and is said before a run goes on without it', async () => {
  const world = await inStep();
  set(world, 'note', 'Wants a gig');
  await world.pass(BOOK);
  const tool = world.tools[BOOK];
  const record = there(world);
  expect(record?.fields.note).toEqual([{ v: 'Wants a gig' }]);
  const { note: _, ...rest } = record?.fields ?? {};
  const at = tool?.kind.fields.findIndex(({ key }) => key === 'note') ?? -1;
  const [field] = tool?.kind.fields.splice(at, 1) ?? [];
  try {
    tool?.put(record?.id ?? '', rest, [], []);
    const [store, setup] = [world.stores[BOOK], world.setups[BOOK]];
    if (!tool || !store || !setup) throw new Error('there is no such tool');
    const pass = new SyncPass(store, tool, setup, { run: world.book.startRun(), context: world.context, nonce: 'n' });
    const plan = await pass.plan();
    expect(plan.reasons.map(wordBrake)).toEqual([expect.stringContaining('that Note is kept in step with is gone')]);
    await pass.apply(plan);
    expect(here(world, 'note')).toEqual(['Wants a gig']);
    expect(there(world)?.fields.note).toBeUndefined();
  } finally {
    if (field) tool?.kind.fields.splice(at, 0, field);
  }
});
