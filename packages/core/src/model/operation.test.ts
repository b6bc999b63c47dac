import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyRecord, anyOperations } from '../testing/generators';
import {
  applyOperations,
  invertOperations,
  undoWherePossible,
  withoutUndone,
  type HistoryStep,
  type Operation,
} from './operation';
import { emptyRecord, type ContactRecord, type Value } from './value';

const ana: ContactRecord = {
  n: 2,
  f: { givenName: [{ slot: 0, v: 'Ana', run: 1 }], email: [{ slot: 1, v: 'ana@example.org', run: 1 }] },
};
const rename: Operation = {
  target: 7,
  field: 'givenName',
  slot: 0,
  before: { slot: 0, v: 'Ana', run: 1 },
  after: { slot: 0, v: 'Anna', run: 2 },
};

describe('operations', () => {
  test('an operation whose before holds is applied', () => {
    const result = applyOperations(ana, [rename]);
    expect(result.ok && result.value.f.givenName?.[0]?.v).toBe('Anna');
  });

  test('an operation whose before moved is a conflict that tells what is there, and nothing is applied', () => {
    const moved = { ...ana, f: { ...ana.f, givenName: [{ slot: 0, v: 'Anne', run: 3 }] } };
    const add: Operation = { target: 7, field: 'note', slot: 0, before: null, after: { slot: 0, v: 'x', run: 2 } };
    const result = applyOperations(moved, [add, rename]);
    expect(result.ok).toBe(false);
    expect(!result.ok && result.error[0]?.now?.v).toBe('Anne');
  });

  test('the same text from another thread is not what was there', () => {
    const other = { ...ana, f: { ...ana.f, givenName: [{ slot: 0, v: 'Ana', run: 9 }] } };
    expect(applyOperations(other, [rename]).ok).toBe(false);
  });

  test('applying and then applying the inverse gives the same values', () => {
    fc.assert(
      fc.property(anyRecord(), (record) =>
        fc.assert(
          fc.property(anyOperations(record), (operations) => {
            const there = applyOperations(record, operations);
            if (!there.ok) throw new Error('generated operations always apply');
            const back = applyOperations(there.value, invertOperations(operations));
            expect(back.ok && back.value.f).toEqual(record.f);
          }),
          { numRuns: 5 },
        ),
      ),
      { numRuns: 60 },
    );
  });

  test('a slot number is never used again', () => {
    const added = applyOperations(emptyRecord(), [
      { target: 1, field: 'email', slot: 4, before: null, after: { slot: 4, v: 'a@b.test', run: 1 } },
    ]);
    const gone = added.ok
      ? applyOperations(added.value, [
          { target: 1, field: 'email', slot: 4, before: { slot: 4, v: 'a@b.test', run: 1 }, after: null },
        ])
      : added;
    expect(gone.ok && gone.value.n).toBe(5);
  });

  test('undo takes back what still holds and lists what moved on since', () => {
    const add: Operation = {
      target: 7,
      field: 'organization',
      slot: 0,
      before: null,
      after: { slot: 0, v: 'Tern Joinery', run: 2 },
    };
    const after = applyOperations(ana, [rename, add]);
    if (!after.ok) throw new Error('applies');
    const edited = { ...after.value, f: { ...after.value.f, givenName: [{ slot: 0, v: 'Annika', run: 5 }] } };
    const undone = undoWherePossible(edited, [rename, add]);
    expect(undone.record.f.organization).toBeUndefined();
    expect(undone.record.f.givenName?.[0]?.v).toBe('Annika');
    expect(undone.left).toHaveLength(1);
  });
});

describe('taking back what something undone lies under', () => {
  const note = (v: string | null, run: number): Value | null => (v === null ? null : { slot: 0, v, run });
  const step = (before: Value | null, after: Value | null, undone = false): HistoryStep => ({
    operations: [{ target: 1, field: 'note', slot: 0, before, after }],
    undone,
  });
  const inverse: Operation = { target: 1, field: 'note', slot: 0, before: note('c', 3), after: note('b', 2) };
  const back = (...history: HistoryStep[]) => withoutUndone([inverse], history)[0]?.after?.v ?? null;

  test('what stands comes back as it was', () => expect(back(step(note('a', 1), note('b', 2)))).toBe('b'));
  test('what was taken back meanwhile does not come back, nor what lies under that', () => {
    expect(back(step(note('a', 1), note('b', 2), true))).toBe('a');
    expect(back(step(null, note('a', 1), true), step(note('a', 1), note('b', 2), true))).toBeNull();
    expect(back(step(null, note('a', 1)), step(note('a', 1), note('b', 2), true))).toBe('a');
  });
  test('other slots are left alone', () => {
    const other = { target: 1, field: 'note', slot: 1, before: null, after: note('x', 9) };
    expect(back({ operations: [other], undone: true })).toBe('b');
  });
});
