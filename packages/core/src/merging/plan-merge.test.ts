import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Catalogue } from '../fields';
import { applyOperations, invertOperations, valuesOf, type ContactRecord, type Operation } from '../model';
import { anyRecord } from '../testing/generators';
import { contentKey } from '../writing';
import { SURVIVOR_RULES, type MergeRules } from './merge-fields';
import { planMerge } from './plan-merge';

const catalogue = new Catalogue();
const timeOf = (value: { run: number }) => value.run * 1000;
const bare = (run: number, values: Record<string, string>): ContactRecord => ({
  n: 1,
  f: Object.fromEntries(Object.entries(values).map(([field, v]) => [field, [{ slot: 0, v, run }]])),
});

function apply(
  members: { id: number; record: ContactRecord }[],
  operations: readonly Operation[],
): Map<number, ContactRecord> {
  const result = new Map(members.map(({ id, record }) => [id, record]));
  for (const { id, record } of members) {
    const applied = applyOperations(
      record,
      operations.filter((operation) => operation.target === id),
    );
    if (!applied.ok) throw new Error('a plan applies to what it was made from');
    result.set(id, applied.value);
  }
  return result;
}

const merge = (
  members: { id: number; record: ContactRecord }[],
  choices: Record<string, number> = {},
  keepId: number | null = null,
) => planMerge({ members, choices, keepId, catalogue, timeOf, run: 99 });

/** What a contact says, without regard to slots and order. */
function said(record: ContactRecord): Record<string, string[]> {
  return Object.fromEntries(
    Object.keys(record.f)
      .filter((field) => !field.startsWith('also.') && field !== 'lifecycle')
      .sort()
      .map((field) => [
        field,
        valuesOf(record, field)
          .map((value) => `${contentKey(catalogue.find(field)?.type ?? 'text', value)}@${value.run}`)
          .sort(),
      ]),
  );
}

describe('rules', () => {
  const members = [
    { id: 1, record: bare(1, { organization: 'Tern Joinery Limited', note: 'a' }) },
    { id: 2, record: bare(2, { organization: 'Tern', note: 'b' }) },
    { id: 3, record: bare(3, { organization: 'Jessop', note: 'a' }) },
  ];
  const chosen = (rules: MergeRules, field: string) =>
    planMerge({
      members,
      choices: {},
      catalogue,
      timeOf,
      rules,
      trustOf: ({ run }) => run,
      run: 99,
    }).rows.find((row) => row.field === field)?.result[0]?.v;
  test.each([
    ['newest', 'Jessop', 'a'],
    ['longest', 'Tern Joinery Limited', 'a'],
    ['trusted', 'Tern Joinery Limited', 'a'],
    ['frequent', 'Jessop', 'a'],
  ] as const)('%s', (otherwise, organization, note) => {
    expect(chosen({ otherwise, byField: {} }, 'organization')).toBe(organization);
    expect(chosen({ otherwise, byField: {} }, 'note')).toBe(note);
  });
  test('a field may have its own', () => {
    const rules: MergeRules = { otherwise: 'newest', byField: { organization: 'longest' } };
    expect(chosen(rules, 'organization')).toBe('Tern Joinery Limited');
    expect(chosen({ ...rules, byField: { note: 'longest' } }, 'organization')).toBe('Jessop');
  });
  test('the order of members does not matter under any rule', () => {
    for (const otherwise of SURVIVOR_RULES) {
      const plan = (list: typeof members) =>
        planMerge({ members: list, choices: {}, catalogue, timeOf, rules: { otherwise, byField: {} }, run: 99 });
      expect(plan([...members].reverse())).toEqual(plan(members));
    }
  });
});

describe('merging', () => {
  test('the newest value is proposed, well written before shouted', () => {
    const plan = merge([
      { id: 1, record: bare(1, { givenName: 'Benedita', familyName: 'Aguilar', organization: 'Tern' }) },
      { id: 2, record: bare(2, { givenName: 'BENEDITA', familyName: 'Aguiar' }) },
    ]);
    const result = Object.fromEntries(plan.rows.map((row) => [row.field, row.result[0]?.v]));
    expect(result).toEqual({ givenName: 'Benedita', familyName: 'Aguiar', organization: 'Tern' });
  });
  test('a person’s choice overrides, and what was not chosen stays with the contact', () => {
    const members = [
      { id: 1, record: bare(1, { familyName: 'Aguilar' }) },
      { id: 2, record: bare(2, { familyName: 'Aguiar' }) },
    ];
    const plan = merge(members, { familyName: 1 });
    const kept = apply(members, plan.operations).get(plan.keepId);
    expect(kept?.f.familyName?.[0]?.v).toBe('Aguilar');
    expect(kept?.f['also.familyName']?.map((value) => value.v)).toEqual(['Aguiar']);
  });
  test('rows in which all agree are told from those in which they differ', () => {
    const plan = merge([
      { id: 1, record: bare(1, { givenName: 'Ana', note: 'x' }) },
      { id: 2, record: bare(2, { givenName: 'ANA', familyName: 'Reis' }) },
    ]);
    expect(Object.fromEntries(plan.rows.map((row) => [row.field, row.kind]))).toEqual({
      givenName: 'agree',
      familyName: 'one',
      note: 'one',
    });
  });
  test('merge and undo give back the same live data', () => {
    fc.assert(
      fc.property(anyRecord(), anyRecord(), anyRecord(), (a, b, c) => {
        const members = [
          { id: 1, record: a },
          { id: 2, record: b },
          { id: 3, record: c },
        ];
        const plan = merge(members);
        const merged = apply(members, plan.operations);
        for (const { id, record } of members) {
          const back = applyOperations(
            merged.get(id) as ContactRecord,
            invertOperations(plan.operations.filter((operation) => operation.target === id)),
          );
          expect(back.ok && back.value.f).toEqual(record.f);
        }
      }),
    );
  });
  test('the order of members does not matter', () => {
    fc.assert(
      fc.property(anyRecord(), anyRecord(), anyRecord(), (a, b, c) => {
        const members = [
          { id: 1, record: a },
          { id: 2, record: b },
          { id: 3, record: c },
        ];
        expect(merge([...members].reverse())).toEqual(merge(members));
      }),
    );
  });
  test('merging what was merged equals merging all at once', () => {
    fc.assert(
      fc.property(anyRecord(), anyRecord(), anyRecord(), (a, b, c) => {
        const members = [
          { id: 1, record: a },
          { id: 2, record: b },
          { id: 3, record: c },
        ];
        const atOnce = apply(members, merge(members, {}, 1).operations).get(1) as ContactRecord;
        const two = members.slice(0, 2);
        const first = apply(two, merge(two, {}, 1).operations).get(1) as ContactRecord;
        const then = [
          { id: 1, record: first },
          { id: 3, record: c },
        ];
        const inTurn = apply(then, merge(then, {}, 1).operations).get(1) as ContactRecord;
        const words = (record: ContactRecord) =>
          Object.fromEntries(
            Object.entries(said(record)).map(([field, values]) => [
              field,
              values
                .map((value) => (['email', 'tel', 'tags'].includes(field) ? value.replace(/@\d+$/, '') : value))
                .sort(),
            ]),
          );
        expect(words(inTurn)).toEqual(words(atOnce));
      }),
    );
  });
});

describe('spelling before the rule', () => {
  const named = (id: number, run: number, familyName: string, email = '') => {
    const record = bare(run, { givenName: 'Barnaby', familyName });
    return { id, record: email ? { n: 2, f: { ...record.f, email: [{ slot: 1, v: email, run }] } } : record };
  };
  const family = (
    members: { id: number; record: ContactRecord }[],
    shareOf?: (field: string, folded: string) => number,
  ) =>
    planMerge({ members, choices: {}, catalogue, timeOf, run: 99, ...(shareOf ? { shareOf } : {}) }).rows.find(
      ({ field }) => field === 'familyName',
    )?.result[0]?.v;

  test('a slip does not win by being the newest', () => {
    expect(family([named(1, 1, 'Holloway'), named(2, 2, 'Holloway'), named(3, 3, 'Hollowya')])).toBe('Holloway');
  });
  test('the mailbox tells which of two writings is the slip', () => {
    const mailbox = 'barnaby.holloway@example.org';
    expect(family([named(1, 1, 'Holloway', mailbox), named(2, 2, 'Hollowya', mailbox)])).toBe('Holloway');
    expect(family([named(1, 1, 'Hollowya', mailbox), named(2, 2, 'Holloway')])).toBe('Holloway');
  });
  test('and so does how common the name is in the book', () => {
    const members = [named(1, 1, 'Holloway'), named(2, 2, 'Hollowya')];
    expect(family(members)).toBe('Hollowya');
    expect(family(members, (_field, folded) => (folded === 'holloway' ? 0.01 : 0.0001))).toBe('Holloway');
  });
  test('another name altogether is no slip: the newest wins', () => {
    const members = [named(1, 1, 'Holloway', 'b.holloway@example.org'), named(2, 2, 'Holloway'), named(3, 3, 'Okafor')];
    expect(family(members)).toBe('Okafor');
  });
  test('what a person chose stands', () => {
    const members = [named(1, 1, 'Holloway'), named(2, 2, 'Holloway'), named(3, 3, 'Hollowya')];
    const plan = planMerge({ members, choices: { familyName: 3 }, catalogue, timeOf, run: 99 });
    expect(plan.rows.find(({ field }) => field === 'familyName')?.result[0]?.v).toBe('Hollowya');
  });
});
