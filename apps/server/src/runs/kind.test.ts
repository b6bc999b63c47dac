import { describe, expect, test } from '@jest/globals';
import { outcomesInWords } from '@gray-loom/wire';
import { runKinds } from '../run-kinds';
import { RunKinds, type RunKind } from './kind';

const run = (change: object) => ({
  kind: 'import',
  state: 'done' as const,
  title: 'members.csv',
  counts: {},
  error: null,
  progress: { done: 0, total: 0 },
  ...change,
});

describe('what a run did, in one sentence', () => {
  test.each<[object, string]>([
    [{ counts: { new: 1312, fill: 52, held: 11, same: 0 } }, 'members.csv: 1,312 new, 52 filled, 11 held'],
    [{ counts: {} }, 'members.csv: no rows'],
    [{ counts: { new: 3 }, state: 'stopped' }, 'members.csv: 3 new, stopped'],
    [{ state: 'queued' }, 'members.csv waits its turn'],
    [{ state: 'paused', progress: { done: 4000, total: 9000 } }, 'members.csv waits at row 4,000'],
    [{ state: 'paused', kind: 'sync', title: 'Office' }, 'Office waits for a decision'],
    [{ state: 'failed', error: 'the disk is full' }, 'members.csv failed: the disk is full'],
    [{ state: 'failed' }, 'members.csv failed: no reason kept'],
    [{ kind: 'edit', title: 'E-mail of Ana Reis' }, 'Changed E-mail of Ana Reis'],
    [
      { kind: 'pickMerge', title: 'Regattas merged into regatta', counts: { changed: 1200 } },
      'Regattas merged into regatta: 1,200 contacts',
    ],
    [{ kind: 'convert', title: 'Boat length from text to number' }, 'Boat length from text to number: 0 contacts'],
    [
      { kind: 'undo', title: 'Undo of members.csv', counts: { removed: 5, restored: 2, left: 1 } },
      'Undo of members.csv: 5 removed, 2 restored, 1 left as they are',
    ],
    [{ kind: 'undo', title: 'Undo of an edit' }, 'Undo of an edit'],
    [
      { kind: 'scan', title: 'Scan', counts: { people: 2395, certain: 177, likely: 21, possible: 8 } },
      'Scan: 2,395 people, 177 certain, 21 likely, 8 possible groups',
    ],
    [{ kind: 'delete', title: 'Deleted Ana Reis' }, 'Deleted Ana Reis'],
    [{ kind: 'of another version', title: 'Something' }, 'Something'],
  ])('%j', (change, words) => expect(runKinds.sentence(run(change))).toBe(words));

  test('outcomes that did not occur are not named', () =>
    expect(outcomesInWords({ new: 0, replace: 2, fold: 1 })).toBe('2 replaced, 1 folded'));

  test('opportunities are named beside people', () =>
    expect(outcomesInWords({ same: 1, opportunitiesNew: 1, opportunitiesChanged: 2 })).toBe(
      '1 same, 1 new opportunity, 2 opportunities changed',
    ));
});

test('a kind that is declared twice is refused', () => {
  const [first] = runKinds.all;
  expect(() => new RunKinds([first as RunKind, first as RunKind])).toThrow('declared twice');
});

test('kinds that share a thread ask for the same limits', () => {
  const limits = new Map<string, string>();
  for (const { work } of runKinds.all) {
    if (!work) continue;
    const { name, ...rest } = work.thread;
    expect(limits.get(name) ?? JSON.stringify(rest)).toBe(JSON.stringify(rest));
    limits.set(name, JSON.stringify(rest));
  }
  expect(limits.size).toBeGreaterThan(3);
});
