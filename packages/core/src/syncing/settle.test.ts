import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from '../fields';
import { applyOperations, valuesOf, type ContactRecord } from '../model';
import { LAW_TIMEOUT_MS, lawWithin } from '../testing/law-budget';
import { anyEdits, SyncWorld } from '../testing/sync-world';
import type { SyncLine } from './lines';
import type { Capabilities, OutsideRecord } from './outside';
import { confirmation, outsideWrite } from './pair-writes';
import { freshLink } from './pass-item';
import type { Link } from './ports';
import {
  leftApart,
  removalOf,
  settleLine,
  settleWho,
  standingOf,
  type DisputedPair,
  type ValueDecision,
} from './settle';

const catalogue = new Catalogue();
const PHONES: SyncLine = { id: 'tel', field: 'tel', outside: 'tel', direction: 'both', rule: 'ask' };
const STAGE: SyncLine = {
  id: 'stage',
  field: 'stage',
  outside: 'labels',
  direction: 'both',
  rule: 'ask',
  stageLabels: { Enquiry: 'at Enquiry', Donor: 'at Donor' },
};
const CAPABILITIES = {
  fields: [{ key: 'tel', name: 'Phone', type: 'tel', most: 3 }],
  labels: true,
  knownLabels: [],
  keepsStops: [],
} as unknown as Capabilities;

const ours: ContactRecord = {
  f: {
    tel: [
      { slot: 1, v: '+44 20 7946 0001', run: 1 },
      { slot: 2, v: '+44 20 7946 0222', run: 1, rank: 1 },
    ],
    stage: [{ slot: 0, v: 'Enquiry', run: 1 }],
  },
  n: 3,
};
const theirs: OutsideRecord = {
  id: 'ana',
  version: '5',
  fields: { tel: [{ v: '+44 20 7946 0001' }, { v: '+44 20 7946 0333' }] },
  labels: ['at Donor', 'regatta'],
};
const link: Link = { ...freshLink('ana', 7), version: '5', seen: theirs, base: { tel: { o: [] }, other: { o: [] } } };

const pair = (more: Partial<DisputedPair> = {}): DisputedPair => ({
  contactId: 7,
  version: 3,
  record: ours,
  link,
  theirs,
  capabilities: CAPABILITIES,
  context: { catalogue, country: 'GB' },
  run: 9,
  others: [{ line: 'other', ours: [], theirs: [], why: 'bothChanged' }],
  ...more,
});

function settle(line: SyncLine, decision: ValueDecision) {
  const settled = settleLine(line, decision, pair());
  if (!settled.ok) throw new Error(settled.error);
  const after = applyOperations(ours, settled.value.operations);
  if (!after.ok) throw new Error('the operations do not fit');
  return { write: settled.value, values: valuesOf(after.value, line.field).map(({ v }) => v) };
}

describe('a decision about one line', () => {
  test('a question shows both values as they stand', () => {
    expect(standingOf(STAGE, pair())).toEqual({ ours: [{ v: 'at Enquiry' }], theirs: [{ v: 'at Donor' }] });
    expect(standingOf(PHONES, pair()).theirs.map(({ v }) => v)).toEqual(['+44 20 7946 0001', '+44 20 7946 0333']);
  });
  test('ours leaves the contact as it is, and counts as the only side that moved', () => {
    const { write, values } = settle(PHONES, { take: 'ours' });
    expect(values).toEqual(['+44 20 7946 0001', '+44 20 7946 0222']);
    expect(write.link).toMatchObject({ dirty: true, base: { tel: { o: theirs.fields.tel }, other: { o: [] } } });
  });
  test('theirs takes the place of what stands here', () => {
    expect(settle(PHONES, { take: 'theirs' }).values).toEqual(['+44 20 7946 0001', '+44 20 7946 0333']);
    expect(settle(STAGE, { take: 'theirs' }).values).toEqual(['Donor']);
  });
  test('both forgets what was agreed on, so that each side gets what it lacks', () => {
    const { write } = settle(PHONES, { take: 'both' });
    expect(write.link.base).toEqual({ other: { o: [] } });
    expect(write.operations).toEqual([]);
  });
  test('a value that is typed takes the place of those that differ, and leaves those that both have', () => {
    expect(settle(PHONES, { take: 'typed', text: ' +44 20 7946 0444 ' }).values).toEqual([
      '+44 20 7946 0001',
      '+44 20 7946 0444',
    ]);
    expect(settle(STAGE, { take: 'typed', text: 'Donor' }).values).toEqual(['Donor']);
  });
  test('the other questions about the pair stay open, and the version guards the contact', () => {
    const { write } = settle(PHONES, { take: 'theirs' });
    expect(write.conflicts).toEqual(pair().others);
    expect(write.version).toBe(3);
  });
  test.each([
    [{ take: 'typed', text: '  ' }, 'nothingTyped'],
    [{ take: 'typed', text: 'ask Ana' }, 'unreadableText'],
  ] as const)('%j is refused', (decision, error) => {
    expect(settleLine(PHONES, decision, pair())).toEqual({ ok: false, error });
  });
});

test('a field of one value cannot have both', () => {
  expect(settleLine(STAGE, { take: 'both' }, pair())).toEqual({ ok: false, error: 'oneValue' });
});

describe('a decision about who somebody is', () => {
  const asking: Link = { ...freshLink('ben', 0), state: 'asking', candidates: [3, 4] };
  test('is written as a link that the next pass goes on from', () => {
    expect(settleWho(asking, { take: 'contact', contactId: 4 }).link).toMatchObject({
      state: 'linked',
      contactId: 4,
      candidates: [],
      dirty: true,
    });
    expect(settleWho(asking, { take: 'new' }).link).toMatchObject({ state: 'fresh', contactId: 0, dirty: true });
    expect(settleWho(asking, { take: 'leave' }).link).toMatchObject({ state: 'apart', apart: 'person', dirty: false });
  });
  test('a second record is left, or goes by the steps of a pass', () => {
    expect(leftApart({ ...link, asks: 'two' })).toMatchObject({
      link: { state: 'apart', asks: null },
      conflicts: [],
    });
    const item = removalOf({ ...link, asks: 'two' }, 'merged');
    expect(outsideWrite(item)).toEqual({ kind: 'remove', id: 'ana', version: '5' });
    expect(confirmation(item, 7, { ok: true, record: null })).toMatchObject({
      link: { state: 'apart', apart: 'merged', asks: null },
      event: 'removedThere',
    });
  });
});

test(
  'whatever is decided, both sides agree afterwards and nobody is asked again',
  async () => {
    let settled = 0;
    let histories = 0;
    await fc.assert(
      fc.asyncProperty(anyEdits, fc.constantFrom('ours', 'theirs', 'both'), async (history, take) => {
        histories++;
        const world = new SyncWorld(history);
        await world.begin();
        for (const step of history.steps) await world.step(step);
        expect(await world.rest(12)).not.toBeNull();
        settled += await world.settleAll(take);
        // A value taken into the book may be another edit for the next tool, of which a person is asked in turn.
        for (let i = 0; i < 12 && world.asked().length; i++) {
          expect(await world.rest(12)).not.toBeNull();
          settled += await world.settleAll(take);
        }
        expect(await world.rest(12)).not.toBeNull();
        expect(world.asked()).toEqual([]);
        expect(world.broken()).toEqual([]);
      }),
      lawWithin(8, 250),
    );
    // Some histories ask nobody; most do.
    expect(settled).toBeGreaterThan(histories < 50 ? -1 : histories / 10);
  },
  LAW_TIMEOUT_MS,
);
