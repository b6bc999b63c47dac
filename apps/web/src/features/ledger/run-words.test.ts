import { describe, expect, test } from '@jest/globals';
import type { RunSummary } from '@gray-loom/wire';
import { outcomesInWords, runInWords } from './run-words';

const run = (change: Partial<RunSummary>): RunSummary =>
  ({ id: 1, kind: 'import', state: 'done', title: 'members.csv', counts: {}, error: null, ...change }) as RunSummary;

describe('what a run did, in one sentence', () => {
  test.each<[Partial<RunSummary>, string]>([
    [{ counts: { new: 1312, fill: 52, held: 11, same: 0 } }, 'members.csv: 1,312 new, 52 filled, 11 held'],
    [{ counts: {} }, 'members.csv: no rows'],
    [{ counts: { new: 3 }, state: 'stopped' }, 'members.csv: 3 new, stopped'],
    [{ state: 'queued' }, 'members.csv waits its turn'],
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
  ])('%j', (change, words) => expect(runInWords(run(change))).toBe(words));
  test('outcomes that did not occur are not named', () =>
    expect(outcomesInWords({ new: 0, replace: 2, fold: 1 })).toBe('2 replaced, 1 folded'));
});
