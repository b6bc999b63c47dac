import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from '../fields';
import { applyOperations, invertOperations, type ContactRecord, type Value } from '../model';
import { planBatch, type BatchChange, type BatchPlan } from './batch-change';

const catalogue = new Catalogue();
const value = (v: Value['v'], slot = 0, rank?: number): Value => ({
  slot,
  v,
  run: 1,
  ...(rank === undefined ? {} : { rank }),
});
const ANA: ContactRecord = {
  n: 5,
  f: { givenName: [value('Ana')], tags: [value('press', 1, 0), value('Regatta', 2, 1)], stage: [value('Donor')] },
};
const GONE: ContactRecord = { n: 2, f: { givenName: [value('Bo')], lifecycle: [value({ state: 'deleted' })] } };
const plan = (change: BatchChange, record = ANA, more: object = {}) =>
  planBatch(change, { id: 7, record, ...more }, 9, 'field' in change ? catalogue.find(change.field) : undefined);
/** What a field says after a plan. */
const after = (made: BatchPlan, field: string, record = ANA) => {
  if (made.outcome !== 'change') return made.outcome === 'refused' ? made.why : made.outcome;
  const applied = applyOperations(record, made.operations);
  return applied.ok ? (applied.value.f[field] ?? []).map(({ v }) => v) : 'conflict';
};
const tags = (add: string[], remove: string[] = [], only = false): BatchChange => ({
  kind: 'tags',
  add: add.map((v) => ({ v })),
  remove,
  only,
});

describe('tags', () => {
  test.each<[BatchChange, unknown]>([
    [tags(['news', 'PRESS']), ['press', 'Regatta', 'news']],
    [tags([], ['regatta']), ['press']],
    [tags(['news'], [], true), ['news']],
    [tags(['regatta', 'press'], [], true), 'same'],
    [tags([], [], true), []],
    [tags([], ['crew']), 'same'],
  ])('%#', (change, said) => expect(after(plan(change), 'tags')).toEqual(said));
});

describe('a field', () => {
  const set = (field: string, v: string, how: 'replace' | 'fill' | 'add' = 'replace'): BatchChange => ({
    kind: 'set',
    field,
    value: { v },
    how,
  });
  test.each<[BatchChange, string, unknown]>([
    [set('stage', 'Student'), 'stage', ['Student']],
    [set('stage', 'donor'), 'stage', 'same'],
    [set('stage', 'Student', 'fill'), 'stage', 'same'],
    [set('source', 'Fair', 'fill'), 'source', ['Fair']],
    [set('tags', 'news', 'add'), 'tags', ['press', 'Regatta', 'news']],
    [set('tags', 'press', 'replace'), 'tags', ['press']],
    [{ kind: 'clear', field: 'stage' }, 'stage', []],
    [{ kind: 'clear', field: 'source' }, 'source', 'same'],
    [{ kind: 'clear', field: 'givenName' }, 'givenName', 'nobody'],
  ])('%#', (change, field, said) => expect(after(plan(change), field)).toEqual(said));
});

describe('who is left as they are', () => {
  test.each<[BatchChange, object, string]>([
    [{ kind: 'permission', channel: 'email', state: 'allowed', how: 'signed' }, { permission: 'optedOut' }, 'optedOut'],
    [{ kind: 'permission', channel: 'email', state: 'optedOut', how: 'asked' }, { permission: 'optedOut' }, 'same'],
    [{ kind: 'permission', channel: 'email', state: 'optedOut', how: 'asked' }, { permission: 'allowed' }, 'change'],
    [{ kind: 'sync', connectionId: 1, choice: 'never' }, { choice: 'never' }, 'same'],
    [{ kind: 'sync', connectionId: 1, choice: null }, {}, 'same'],
    [{ kind: 'restore' }, {}, 'same'],
  ])('%#', (change, more, said) => {
    const made = plan(change, ANA, more);
    expect(made.outcome === 'refused' ? made.why : made.outcome).toBe(said);
  });
  test('whoever was deleted is changed by nothing but being brought back', () => {
    expect(plan({ kind: 'clear', field: 'givenName' }, GONE)).toEqual({ outcome: 'refused', why: 'gone' });
    expect(after(plan({ kind: 'restore' }, GONE), 'lifecycle', GONE)).toEqual([]);
    const merged = { ...GONE, f: { ...GONE.f, lifecycle: [value({ state: 'merged', into: 3 })] } };
    expect(plan({ kind: 'restore' }, merged)).toEqual({ outcome: 'refused', why: 'notDeleted' });
  });
});

test('done twice it changes nothing more, and taken back everything is as it was', () => {
  const label = fc.constantFrom('press', 'Press', 'regatta', 'news', 'crew');
  const change: fc.Arbitrary<BatchChange> = fc.oneof(
    fc
      .record({ add: fc.array(label), remove: fc.array(label), only: fc.boolean() })
      .map(({ add, remove, only }) => tags(add, remove, only)),
    fc.record({
      kind: fc.constant('set' as const),
      field: fc.constantFrom('stage', 'source', 'tags'),
      value: label.map((v) => ({ v })),
      how: fc.constantFrom('replace' as const, 'fill' as const, 'add' as const),
    }),
    fc.record({ kind: fc.constant('clear' as const), field: fc.constantFrom('stage', 'tags', 'source') }),
    fc.constant<BatchChange>({ kind: 'delete' }),
  );
  const values = fc.uniqueArray(label, { selector: (v) => v.toLowerCase() });
  fc.assert(
    fc.property(change, values, fc.option(label), (one, has, stage) => {
      const record: ContactRecord = {
        n: has.length + 1,
        f: {
          givenName: [value('Ana')],
          ...(has.length ? { tags: has.map((v, i) => value(v, i + 1, i)) } : {}),
          ...(stage ? { stage: [value(stage)] } : {}),
        },
      };
      const made = plan(one, record);
      if (made.outcome !== 'change') return;
      const done = applyOperations(record, made.operations);
      if (!done.ok) throw new Error('a plan does not apply');
      if (one.kind !== 'delete') expect(plan(one, done.value).outcome).toBe('same');
      const back = applyOperations(done.value, invertOperations(made.operations));
      expect(back.ok && back.value.f).toEqual(record.f);
    }),
  );
});
