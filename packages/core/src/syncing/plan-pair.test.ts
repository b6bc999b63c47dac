import { describe, expect, test } from '@jest/globals';
import { isOneOf } from '../segments';
import { Catalogue } from '../fields';
import { applyOperations, type ContactRecord, type Value } from '../model';
import { brakeReasons, DEFAULT_LIMITS, NO_TOTALS, wordBrake } from './brake';
import { findFights } from './fights';
import { sayLine, type SyncLine } from './lines';
import { isMadeField, madeField, madeFieldKey, withMadeFields } from './made-fields';
import type { Capabilities, OutsideField, OutsideRecord } from './outside';
import { isQuiet, planPair, type Base, type PairInput } from './plan-pair';
import { takesPart, type Scope } from './scope';

const catalogue = new Catalogue();
const FIELDS: OutsideField[] = [
  { key: 'name', name: 'Name', type: 'name', most: 1, capitals: true, longest: 40 },
  { key: 'given', name: 'Given name', type: 'text', most: 1 },
  { key: 'tel', name: 'Phone', type: 'tel', most: 3 },
  { key: 'email', name: 'E-mail', type: 'email', most: 20, labelled: true },
  { key: 'note', name: 'Note', type: 'longText', most: 1 },
  { key: 'bday', name: 'Birthday', type: 'date', most: 1 },
];
const line = (field: string, outside: string, more: Partial<SyncLine> = {}): SyncLine => ({
  id: field,
  field,
  outside,
  direction: 'both',
  rule: 'ask',
  ...more,
});
const record = (f: Record<string, string[]>): ContactRecord => {
  let n = 1;
  return {
    f: Object.fromEntries(
      Object.entries(f).map(([field, texts]) => [
        field,
        texts.map((v, i): Value => {
          const several = catalogue.find(field)?.several;
          return { slot: several ? n++ : 0, v, run: 1, ...(i ? { rank: i } : {}) };
        }),
      ]),
    ),
    n: 20,
  };
};
const theirs = (fields: Record<string, string[]>, more: Partial<OutsideRecord> = {}): OutsideRecord => ({
  id: 'x',
  version: '1',
  fields: Object.fromEntries(Object.entries(fields).map(([key, texts]) => [key, texts.map((v) => ({ v }))])),
  labels: [],
  ...more,
});
const agreed = (field: string, texts: string[]): Base => ({ [field]: { o: texts.map((v) => ({ v })) } });

function plan(
  one: SyncLine,
  ours: ContactRecord,
  there: OutsideRecord,
  base: Base | null,
  more: Partial<PairInput> = {},
) {
  const found = planPair({
    id: 7,
    record: ours,
    stopped: [],
    changedAtMs: () => 0,
    theirs: there,
    base,
    lines: [one],
    capabilities: { fields: FIELDS, keepsStops: ['email', 'call'] },
    context: { catalogue, country: 'GB' },
    clock: { aheadMs: 0, errorMs: 1000 },
    run: 9,
    ...more,
  });
  const after = applyOperations(ours, found.operations);
  return {
    ...found,
    here: (after.ok ? after.value.f[one.field] : undefined)?.map(({ v }) => v) ?? [],
    there: found.fields?.[one.outside]?.map(({ v }) => v) ?? null,
    after: after.ok ? after.value : ours,
  };
}

describe('one value', () => {
  const note = line('note', 'note');
  test('what moved on one side is carried across, whichever side that is', () => {
    expect(plan(note, record({ note: ['a'] }), theirs({ note: ['b'] }), agreed('note', ['a'])).here).toEqual(['b']);
    expect(plan(note, record({ note: ['b'] }), theirs({ note: ['a'] }), agreed('note', ['a'])).there).toEqual(['b']);
  });
  test('taken away on one side it is taken away on the other, but a blank takes nothing away where they never agreed', () => {
    expect(plan(note, record({ note: ['a'] }), theirs({}), agreed('note', ['a'])).here).toEqual([]);
    expect(plan(note, record({ note: ['a'] }), theirs({}), null)).toMatchObject({ here: ['a'], there: ['a'] });
  });
  test('moved on both sides it is asked about, and nothing is written', () => {
    const found = plan(note, record({ note: ['b'] }), theirs({ note: ['c'] }), agreed('note', ['a']));
    expect(found.conflicts).toMatchObject([{ line: 'note', why: 'bothChanged' }]);
    expect(isQuiet(found)).toBe(true);
  });
  test.each([
    ['there', ['c'], null],
    ['here', ['b'], ['b']],
  ] as const)('moved on both sides, %s replaces', (wins, here, there) => {
    const rule = line('note', 'note', { rule: 'replace', wins });
    expect(plan(rule, record({ note: ['b'] }), theirs({ note: ['c'] }), agreed('note', ['a']))).toMatchObject({
      here,
      there,
    });
  });
  test('the newest wins by our clock, and asks where the clocks cannot tell', () => {
    const newest = line('note', 'note', { rule: 'newest' });
    const at = (changedAtMs: number, oursMs: number, aheadMs = 0) =>
      plan(newest, record({ note: ['b'] }), theirs({ note: ['c'] }, { changedAtMs }), agreed('note', ['a']), {
        changedAtMs: () => oursMs,
        clock: { aheadMs, errorMs: 1000 },
      });
    expect(at(60_000, 10_000).here).toEqual(['c']);
    expect(at(60_000, 10_000, 86_400_000).there).toEqual(['b']);
    expect(at(10_500, 10_000).conflicts).toHaveLength(1);
  });
  test('filling blanks replaces nothing on either side', () => {
    const fill = line('note', 'note', { rule: 'fill' });
    expect(isQuiet(plan(fill, record({ note: ['b'] }), theirs({ note: ['a'] }), agreed('note', ['a'])))).toBe(true);
    expect(plan(fill, record({}), theirs({ note: ['a'] }), null).here).toEqual(['a']);
  });
  test('a direction that is off is never taken', () => {
    const inward = line('note', 'note', { direction: 'in' });
    expect(plan(inward, record({ note: ['b'] }), theirs({ note: ['a'] }), agreed('note', ['a']))).toMatchObject({
      here: ['b'],
      there: null,
    });
    const outward = line('note', 'note', { direction: 'out' });
    expect(isQuiet(plan(outward, record({ note: ['a'] }), theirs({ note: ['b'] }), agreed('note', ['a'])))).toBe(true);
  });
  test('of two dates the one that says more stands on both sides without a question, and others are asked about', () => {
    const both = (ours: string, there: string) =>
      plan(line('bday', 'bday'), record({ bday: [ours] }), theirs({ bday: [there] }), null);
    expect(both('--07-16', '1984-07-16')).toMatchObject({ conflicts: [], fields: null });
    expect(both('--07-16', '1984-07-16').operations[0]?.after?.v).toBe('1984-07-16');
    expect(both('1984-07-16', '1984')).toMatchObject({ conflicts: [], fields: { bday: [{ v: '1984-07-16' }] } });
    expect(both('1984-07-16', '1985').conflicts).toHaveLength(1);
    expect(both('--07-16', '1984').conflicts).toHaveLength(1);
    expect(both('1984-07-16', '1984-07-17').conflicts).toHaveLength(1);
  });

  test('what cannot be read as a value of the field is asked about and stays there', () => {
    const found = plan(line('bday', 'bday'), record({}), theirs({ bday: ['some time in May'] }), null);
    expect(found).toMatchObject({ here: [], there: null, conflicts: [{ why: 'unreadable' }] });
  });
  test('a fixed value is written whatever is here', () => {
    const fixed = line('', 'note', { id: 'fixed', direction: 'out', rule: 'replace', fixed: 'From Quillhaven' });
    expect(plan(fixed, record({}), theirs({}), null).there).toEqual(['From Quillhaven']);
    expect(plan(fixed, record({}), theirs({ note: ['From Quillhaven'] }), null).there).toBeNull();
  });
});

describe('a tool that holds less than we do', () => {
  const name = line('name', 'name');
  test('capitals over there do not become capitals here', () => {
    const found = plan(
      name,
      record({ givenName: ['Ana'], familyName: ['van der Berg'] }),
      theirs({ name: ['ANA VAN DER BERG'] }),
      null,
    );
    expect(isQuiet(found)).toBe(true);
  });
  test('a changed name over there changes the part that changed, in our writing', () => {
    const found = plan(
      name,
      record({ givenName: ['Ana'], familyName: ['Reis'] }),
      theirs({ name: ['ANA PENROSE'] }),
      agreed('name', ['ANA REIS']),
    );
    expect(found.after.f).toMatchObject({ givenName: [{ v: 'Ana', run: 1 }], familyName: [{ v: 'Penrose', run: 9 }] });
  });
  test('a fourth phone stays here, and takes its place there when there is room', () => {
    const phones = ['+44 1632 960001', '+44 1632 960002', '+44 1632 960003', '+44 1632 960004'];
    const three = phones.slice(0, 3);
    const tel = line('tel', 'tel');
    expect(isQuiet(plan(tel, record({ tel: phones }), theirs({ tel: three }), agreed('tel', three)))).toBe(true);
    const found = plan(tel, record({ tel: phones }), theirs({ tel: three.slice(1) }), agreed('tel', three));
    expect(found.here).toEqual(phones.slice(1));
    expect(found.there).toEqual(phones.slice(1));
    // The story tells all that stood here and stands here.
    const told = found.changes.find(({ side }) => side === 'here');
    expect([told?.before.length, told?.after.length]).toEqual([4, 3]);
  });
});

describe('several values', () => {
  const email = line('email', 'email');
  test('are united: what came on either side is on both', () => {
    const found = plan(
      email,
      record({ email: ['a@x.test', 'b@x.test'] }),
      theirs({ email: ['a@x.test', 'c@x.test'] }),
      agreed('email', ['a@x.test']),
    );
    expect(found.here).toEqual(['a@x.test', 'b@x.test', 'c@x.test']);
    expect(found.there).toEqual(['a@x.test', 'c@x.test', 'b@x.test']);
  });
  test('two edits of one value contradict each other', () => {
    const found = plan(
      email,
      record({ email: ['b@x.test'] }),
      theirs({ email: ['c@x.test'] }),
      agreed('email', ['a@x.test']),
    );
    expect(found.conflicts).toHaveLength(1);
  });
  test('one that is the same in another writing is the same, and stays as it is written on each side', () => {
    const found = plan(
      line('tel', 'tel'),
      record({ tel: ['+44 7700 900111'] }),
      theirs({ tel: ['07700 900111'] }),
      null,
    );
    expect(isQuiet(found)).toBe(true);
  });
  test('what is no e-mail stays over there and does not come in', () => {
    const found = plan(email, record({ email: ['a@x.test'] }), theirs({ email: ['ask her'] }), null);
    expect(found).toMatchObject({ here: ['a@x.test'], there: ['ask her', 'a@x.test'] });
  });
});

describe('stages as labels', () => {
  const stage = line('stage', 'labels', {
    rule: 'replace',
    wins: 'there',
    stageLabels: { Enquiry: 'enq', Student: 'stu', Donor: 'don' },
  });
  const at = (here: string, labels: string[], was: string) =>
    plan(stage, record({ stage: [here] }), theirs({}, { labels }), agreed('stage', [was]));
  test('a label that came is the stage, and those that were there go', () => {
    expect(at('Enquiry', ['enq', 'stu', 'regatta'], 'enq')).toMatchObject({
      here: ['Student'],
      labels: ['stu', 'regatta'],
    });
  });
  test('another stage here sets its label and takes the others off', () => {
    expect(at('Donor', ['enq', 'regatta'], 'enq')).toMatchObject({ here: ['Donor'], labels: ['regatta', 'don'] });
  });
  test('of two that came the further one counts', () => {
    expect(at('Enquiry', ['enq', 'don', 'stu'], 'enq')).toMatchObject({ here: ['Donor'], labels: ['don'] });
  });
  test('a stage without a label is not taken away', () => {
    const found = plan(stage, record({ stage: ['Supplier'] }), theirs({}, { labels: ['regatta'] }), null);
    expect(found).toMatchObject({ here: ['Supplier'], labels: null });
  });
});

test('permissions only tighten, on both sides', () => {
  const found = plan(line('note', 'note'), record({}), theirs({}, { stopped: ['email'] }), null, { stopped: ['call'] });
  expect(found).toMatchObject({ stopHere: ['email'], stopThere: ['call'] });
});
test('a channel that a person opened again is not closed anew by what is still closed over there', () => {
  const closed = theirs({}, { stopped: ['call', 'email'] });
  const first = plan(line('note', 'note'), record({}), closed, null, { stopped: ['call'] });
  const again = plan(line('note', 'note'), record({}), closed, first.baseHere, { stopped: ['email'] });
  expect(again).toMatchObject({ stopHere: [], stopThere: [] });
  const opened = theirs({}, { stopped: ['email'] });
  const later = plan(line('note', 'note'), record({}), opened, again.baseHere, { stopped: ['email'] });
  const more = plan(line('note', 'note'), record({}), closed, later.baseHere, { stopped: ['email'] });
  expect(more.stopHere).toEqual(['call']);
});

describe('who takes part', () => {
  const give = { tags: [], source: '', owner: '', stage: '' };
  const scopes: Scope[] = [
    { id: 'label', who: { kind: 'labelThere', label: 'Crew' }, give },
    { id: 'tag', who: { kind: 'condition', condition: isOneOf('tags', 'regatta'), words: 'tag is regatta' }, give },
  ];
  const ask = (more: object) =>
    takesPart(scopes, { record: record({}), theirs: null, choice: null, meets: new Set<string>(), ...more });
  test('the first that fits counts', () => {
    const meets = new Set(['tag']);
    expect(ask({ theirs: { labels: ['crew'] }, meets })).toMatchObject({ scope: { id: 'label' } });
    expect(ask({ meets })).toMatchObject({ scope: { id: 'tag' } });
  });
  test('whoever was taken out by hand does not, whoever is sent by hand does', () => {
    expect(ask({ theirs: { labels: ['crew'] }, choice: 'never' })).toEqual({ takesPart: false, why: 'never' });
    expect(ask({ choice: 'send' })).toEqual({ takesPart: true, scope: null });
    expect(ask({})).toEqual({ takesPart: false, why: 'noScope' });
  });
});

describe('in words', () => {
  test.each([
    [line('tel', 'tel', { rule: 'newest' }), 'Phone: newest wins, both ways'],
    [line('email', 'email', { direction: 'in', rule: 'replace' }), 'E-mail: replaces, from there only'],
    [line('note', 'note', { direction: 'out', rule: 'fill' }), 'Note: fills blanks only, to there only'],
    [
      line('name', 'name', { rule: 'replace', wins: 'here' }),
      'Name: what is here replaces where both changed, both ways',
    ],
    [line('', 'note', { fixed: 'x' }), 'Note over there is always "x"'],
  ])('%#', (one, words) =>
    expect(sayLine(one, catalogue, { fields: FIELDS } as Parameters<typeof sayLine>[2])).toBe(words),
  );
  test('the brake says what and how many', () => {
    const [reason] = brakeReasons({ ...NO_TOTALS, goneThere: 5000 }, DEFAULT_LIMITS);
    expect(reason && wordBrake(reason)).toBe('5,000 records are gone over there at once; the limit is 25.');
    expect(brakeReasons(NO_TOTALS, DEFAULT_LIMITS)).toEqual([]);
  });
});

test('two connections that each put their own value in place fight, also over a part of a name', () => {
  const inward = (field: string) => ({ ...line(field, field), direction: 'in' as const, rule: 'replace' as const });
  expect(
    findFights([
      { id: 1, lines: [inward('name')] },
      { id: 2, lines: [inward('givenName')] },
    ]),
  ).toEqual([{ field: 'givenName', connections: [1, 2] }]);
  expect(
    findFights([
      { id: 1, lines: [inward('note')] },
      { id: 2, lines: [line('note', 'note')] },
    ]),
  ).toEqual([]);
});

describe('fields that are made over there', () => {
  const holds = { fields: FIELDS, canMakeFields: true } as unknown as Capabilities;
  test.each([
    ['Berth number', 'x-berth-number', 'Berth number'],
    ['  Größe (m) ', 'x-grosse-m', 'Grosse m'],
    ['x', 'x-x', 'X'],
  ])('"%s" has the key %s', (name, key, shown) => {
    expect(madeFieldKey(name)).toBe(key);
    expect(isMadeField(key)).toBe(true);
    expect(withMadeFields(holds, [key, key]).fields.filter((one) => one.key === key)).toEqual([madeField(key)]);
    expect(madeField(key).name).toBe(shown);
  });
  test('a name without letters makes none, and one that cannot be made is not added', () => {
    expect(madeFieldKey('!?')).toBe('');
    expect(isMadeField(`x-${'a'.repeat(80)}`)).toBe(false);
    expect(withMadeFields(holds, ['shoe size']).fields).toEqual(FIELDS);
    expect(withMadeFields({ ...holds, canMakeFields: false }, ['x-berth']).fields).toEqual(FIELDS);
  });
});
