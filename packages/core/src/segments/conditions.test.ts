import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../fields';
import {
  allOf,
  blanksOf,
  checkFields,
  dayFrom,
  EVERYBODY,
  factsOf,
  isOneOf,
  looksAt,
  meets,
  movesWithDays,
  NOTHING_ELSE,
  readCondition,
  readConditionText,
  renamedCondition,
  retiredIn,
  sayCondition,
  sayConditionFault,
  testsOf,
  withAnswers,
  type ActivitySpan,
  type Condition,
  type Subject,
  type Test,
} from './index';

const catalogue = new Catalogue([
  { key: 'custom.length', name: 'Boat length', type: 'range', group: 'custom', several: false },
  { key: 'custom.old', name: 'Old berth', type: 'text', group: 'custom', several: false, retired: true },
]);
const names = {
  field: (key: string) => catalogue.nameOf(key),
  value: (field: string, value: string) => (field === '@segment' ? 'Donors' : value),
};
const say = (condition: Condition) => sayCondition(condition, names);
const NOBODY: Subject = { ...NOTHING_ELSE, facts: {} };
const holds = (condition: Condition, more: Partial<Subject>, today = '2026-07-14') =>
  meets(condition, { ...NOBODY, ...more }, today);
const value = (v: unknown, more: object = {}) => ({ slot: 0, v: v as string, run: 1, ...more });

describe('in words', () => {
  test.each<[Condition, string]>([
    [EVERYBODY, 'everybody'],
    [isOneOf('tags', 'regatta', 'press'), 'tag is regatta or press'],
    [{ ...isOneOf('tags', 'press'), not: true }, 'tag is not press'],
    [{ field: 'email', op: 'missing' }, 'e-mail is missing'],
    [{ field: 'email', label: 'work', op: 'contains', value: 'quay' }, 'e-mail (work) contains “quay”'],
    [{ field: 'bday', op: 'month', value: 7 }, 'birthday is in July'],
    [{ field: '@activity', op: 'did', value: {} }, 'has an activity'],
    [
      { field: '@activity', op: 'did', value: { kinds: ['talk'], since: { n: -6, unit: 'month' } } },
      'has a talk in the last 6 months',
    ],
    [
      {
        field: '@activity',
        op: 'did',
        value: { kinds: ['purchase'], what: 'rigging', since: '2026-05-01' },
        not: true,
      },
      'does not have a purchase about “rigging” since 1 May 2026',
    ],
    [
      {
        field: '@activity',
        op: 'did',
        value: { kinds: ['gift'], times: { from: 2 }, sum: { from: 50 }, currency: 'GBP' },
      },
      'has 2 or more gifts that come to 50 or more in GBP',
    ],
    [{ field: 'bday', op: 'comes', value: 30 }, 'birthday is in the next 30 days, whatever the year'],
    [
      { field: '@changed', op: 'span', value: { to: { n: -6, unit: 'month' } } },
      'last changed 6 months ago or earlier',
    ],
    [
      { field: '@created', op: 'span', value: { from: { n: -7, unit: 'day' }, to: { n: 0, unit: 'day' } } },
      'came in in the last 7 days',
    ],
    [{ field: 'custom.length', op: 'holds', value: 14 }, 'boat length contains 14'],
    [
      { field: 'custom.length', op: 'holds', value: { ask: 'Boat length?' } },
      'boat length contains what is asked on opening, “Boat length?”',
    ],
    [{ field: '@permission', label: 'email', op: 'is', value: ['optedOut'] }, 'e-mail is stopped'],
    [{ field: '@segment', op: 'is', value: ['3'], not: true }, 'not in Donors'],
    [{ field: 'adr.locality', op: 'is', value: ['Oban'] }, 'town is Oban'],
    [
      { field: '@activity', op: 'did', value: { outcomes: ['opened', 'clicked'], ofLast: 5, times: { from: 2 } } },
      '2 or more of the last 5 mailings opened or clicked',
    ],
    [
      { field: '@activity', op: 'did', value: { kinds: ['call'], outcomes: ['no answer'] } },
      'has a call with the outcome no answer',
    ],
    [
      allOf(
        { field: 'email', op: 'present' },
        { join: 'any', of: [isOneOf('stage', 'Donor'), isOneOf('stage', 'Student')] },
      ),
      'e-mail is there and (stage is Donor or stage is Student)',
    ],
    [{ join: 'none', of: [isOneOf('tags', 'a'), isOneOf('tags', 'b')] }, 'none of (tag is a or tag is b)'],
  ])('%#', (condition, words) => expect(say(condition)).toBe(words));
});

describe('what is no condition is told', () => {
  const nested = (levels: number): unknown =>
    levels ? { join: 'all', of: [nested(levels - 1)] } : isOneOf('tags', 'a');
  test.each<[unknown, string, number[]]>([
    [7, 'shape', []],
    [{ join: 'some', of: [] }, 'shape', []],
    [{ join: 'all', of: [{ field: "a'; drop table contact", op: 'present' }] }, 'shape', [0]],
    [
      { join: 'all', of: [isOneOf('tags', 'a'), { field: 'note', op: 'contains', value: 'x'.repeat(10_000) }] },
      'tooLong',
      [1],
    ],
    [{ field: 'note', op: 'contains', value: ' ' }, 'value', []],
    [{ field: 'tags', op: 'is', value: [] }, 'value', []],
    [{ field: 'bday', op: 'month', value: 13 }, 'value', []],
    [{ field: '@activity', op: 'did', value: { kinds: 'gift' } }, 'value', []],
    [{ field: '@activity', op: 'did', value: { since: '2026-02-30' } }, 'date', []],
    [{ field: '@activity', op: 'did', value: { times: {} } }, 'value', []],
    [{ field: '@activity', op: 'did', value: { currency: 'pounds' } }, 'value', []],
    [{ field: '@activity', op: 'did', value: { what: 'x'.repeat(10_000) } }, 'tooLong', []],
    // What is passed over would let more people through.
    [{ field: '@activity', op: 'did', value: { kinds: ['gift'], count: 2 } }, 'unknownPart', []],
    [{ join: 'all', of: [{ ...isOneOf('tags', 'a'), unless: true }] }, 'unknownPart', [0]],
    [{ join: 'all', of: [], except: [] }, 'unknownPart', []],
    [{ field: 'custom.n', op: 'number', value: { from: 1, upto: 3 } }, 'value', []],
    [{ field: 'bday', op: 'span', value: { from: { n: -1, unit: 'year', of: 2 } } }, 'date', []],
    [{ field: 'bday', op: 'span', value: { from: '2026-02-30' } }, 'date', []],
    [{ field: 'bday', op: 'span', value: {} }, 'date', []],
    [{ field: 'bday', op: 'day', value: '02-30' }, 'date', []],
    [{ field: 'custom.n', op: 'number', value: { from: Number.NaN } }, 'value', []],
    [{ join: 'all', of: Array.from({ length: 300 }, () => isOneOf('tags', 'a')) }, 'tooMany', [199]],
    [nested(50), 'tooDeep', new Array(12).fill(0) as number[]],
  ])('%#', (given, code, at) => {
    const read = readCondition(given);
    expect(read).toMatchObject({ ok: false, error: { code, at } });
    if (!read.ok) expect(sayConditionFault(read.error)).toMatch(/\.$/);
  });
  test('a value that is null is none', () => {
    expect(readCondition({ field: 'email', op: 'present', value: null })).toMatchObject({ ok: true });
    expect(readCondition({ field: 'email', op: 'is', value: null })).toMatchObject({ ok: false });
  });
  test('text that is no JSON; an empty one is everybody', () => {
    expect(readConditionText('{')).toMatchObject({ ok: false, error: { code: 'shape' } });
    expect(readConditionText('')).toEqual({ ok: true, value: EVERYBODY });
  });
  test('a field that is not there, and a comparison that it does not take', () => {
    expect(checkFields(isOneOf('custom.gone', 'a'), catalogue)).toMatchObject({
      ok: false,
      error: { code: 'noSuchField' },
    });
    expect(checkFields(allOf(isOneOf('custom.length', 'a')), catalogue)).toMatchObject({
      ok: false,
      error: { code: 'notOfField', at: [0] },
    });
    expect(checkFields({ field: '@permission', op: 'is', value: ['allowed'] }, catalogue)).toMatchObject({ ok: false });
    expect(checkFields(isOneOf('opportunityName', 'a'), catalogue)).toMatchObject({ ok: false });
    expect(testsOf('adr.planet', catalogue)).toEqual([]);
  });
  test('a retired field counts on, and is told', () => {
    const condition: Condition = { field: 'custom.old', op: 'present' };
    expect(checkFields(condition, catalogue).ok).toBe(true);
    expect(retiredIn(allOf(condition, isOneOf('tags', 'a')), catalogue).map(({ name }) => name)).toEqual(['Old berth']);
  });
});

describe('days', () => {
  test.each<[string, number, 'day' | 'month' | 'year', string]>([
    ['2026-03-31', -1, 'month', '2026-02-28'],
    ['2024-02-29', 1, 'year', '2025-02-28'],
    ['2026-01-15', -13, 'month', '2024-12-15'],
    ['2026-12-31', 1, 'day', '2027-01-01'],
    ['2026-05-31', 1, 'month', '2026-06-30'],
  ])('%s and %d %s', (today, n, unit, day) => expect(dayFrom(today, { n, unit })).toBe(day));
  const born = (v: string) => ({ facts: factsOf({ n: 1, f: { bday: [value(v)] } }) });
  test.each<[Test, string, string, boolean]>([
    [{ field: 'bday', op: 'comes', value: 7 }, '--01-03', '2026-12-29', true],
    [{ field: 'bday', op: 'comes', value: 7 }, '1970-01-06', '2026-12-29', false],
    [{ field: 'bday', op: 'day', value: 'today' }, '1970-07-14', '2026-07-14', true],
    [{ field: 'bday', op: 'month', value: 7 }, '--07-31', '2026-01-01', true],
    [{ field: 'bday', op: 'year', value: 1970 }, '1970-12-31', '2026-01-01', true],
    [{ field: 'bday', op: 'year', value: 1970 }, '--12-31', '2026-01-01', false],
    [{ field: 'bday', op: 'span', value: { to: { n: -18, unit: 'year' } } }, '2008-07-14', '2026-07-14', true],
    [{ field: 'bday', op: 'span', value: { to: { n: -18, unit: 'year' } } }, '2008-07-15', '2026-07-14', false],
  ])('%#', (one, date, today, isMet) => expect(holds(one, born(date), today)).toBe(isMet));
  const given = (day: string | null, amount: number | null, currency = 'GBP') => ({
    kind: 'gift',
    day,
    atMs: day === null ? null : Date.parse(day),
    what: 'tiller fund',
    outcome: '',
    amount,
    currency: amount === null ? null : currency,
  });
  const gifts = [given('2026-01-04', 50), given('2026-05-02', 20), given(null, 5, 'NOK')];
  test.each<[ActivitySpan, boolean]>([
    [{}, true],
    [{ kinds: ['talk'] }, false],
    [{ what: 'Tiller' }, true],
    [{ since: '2026-05-01', times: { from: 2 } }, false],
    // What has no day is on none of them.
    [{ until: '2030-01-01', times: { from: 3 } }, false],
    [{ times: { from: 3, to: 3 } }, true],
    [{ times: { to: 2 } }, false],
    [{ kinds: ['talk'], times: { to: 2 } }, true],
    [{ sum: { from: 70 } }, true],
    [{ sum: { from: 71 } }, false],
    [{ sum: { from: 70 }, currency: 'NOK' }, false],
    [{ since: { n: -3, unit: 'month' }, sum: { to: 20 } }, true],
  ])('activities, %j', (asked, isMet) =>
    expect(
      meets(
        { field: '@activity', op: 'did', value: asked },
        { ...NOTHING_ELSE, facts: {}, activities: gifts },
        '2026-07-14',
      ),
    ).toBe(isMet),
  );
  const result = (what: string, day: string, outcome: string) => ({
    ...given(day, null),
    kind: 'result',
    what,
    outcome,
  });
  // A letter of one name each month, and a call for hands between; May was clicked in June.
  const mailings = [
    result('letter', '2026-06-02', 'sent'),
    result('letter', '2026-04-01', 'sent'),
    result('letter', '2026-04-03', 'opened'),
    result('hands', '2026-04-20', 'sent'),
    result('letter', '2026-05-01', 'sent'),
    result('letter', '2026-06-01', 'opened'),
    result('letter', '2026-06-01', 'clicked'),
  ];
  test.each<[ActivitySpan, boolean]>([
    [{ outcomes: ['opened'] }, true],
    [{ outcomes: ['opened'], times: { from: 3 } }, false],
    [{ outcomes: ['opened'], ofLast: 4, times: { from: 2 } }, true],
    [{ outcomes: ['opened'], ofLast: 3, times: { from: 2 } }, false],
    [{ outcomes: ['clicked', 'opened'], ofLast: 2, times: { from: 1, to: 1 } }, true],
    [{ outcomes: ['opened'], ofLast: 1, times: { to: 0 } }, true],
    [{ outcomes: ['opened'], ofLast: 2, what: 'Hands' }, false],
    // Asked of mailings of those days, whenever they were opened.
    [{ outcomes: ['opened'], ofLast: 5, since: '2026-04-15', until: '2026-05-31' }, true],
    [{ outcomes: ['opened'], ofLast: 5, since: '2026-06-01' }, false],
  ])('mailings, %j', (asked, isMet) =>
    expect(
      meets(
        { field: '@activity', op: 'did', value: asked },
        { ...NOTHING_ELSE, facts: {}, activities: mailings },
        '2026-07-14',
      ),
    ).toBe(isMet),
  );
  test.each([
    [{ ofLast: 5 }, 'value'],
    [{ ofLast: 5, outcomes: [] }, 'value'],
    [{ ofLast: 0, outcomes: ['opened'] }, 'value'],
    [{ ofLast: 5, outcomes: ['opened'], sum: { from: 1 } }, 'value'],
    [{ outcomes: ['opened'], offLast: 5 }, 'unknownPart'],
  ])('mailings that cannot be asked of, %j', (value, code) =>
    expect(readCondition({ field: '@activity', op: 'did', value })).toMatchObject({ ok: false, error: { code } }),
  );
  test('which conditions move by themselves', () => {
    expect(movesWithDays({ field: '@activity', op: 'did', value: { since: '2026-01-01' } })).toBe(false);
    expect(movesWithDays({ field: '@activity', op: 'did', value: { since: { n: -1, unit: 'year' } } })).toBe(true);
    expect(movesWithDays({ field: 'bday', op: 'month', value: 7 })).toBe(false);
    expect(movesWithDays({ field: 'bday', op: 'comes', value: 7 })).toBe(true);
    expect(movesWithDays({ field: '@changed', op: 'span', value: { to: { n: -6, unit: 'month' } } })).toBe(true);
    expect(movesWithDays({ field: '@changed', op: 'span', value: { to: '2026-01-01' } })).toBe(false);
  });
});

describe('what values mean', () => {
  const facts = factsOf({
    n: 9,
    f: {
      givenName: [value('Åse')],
      email: [
        value('Ase.Fjeldstad@Example.org', { label: 'home' }),
        value('office@quay.example', { slot: 1, label: 'Work mail' }),
      ],
      tel: [value('01632 960111', { norm: '+441632960111;ext=4' })],
      tags: [value('Regatta'), value('press', { slot: 1 })],
      adr: [value({ street: '3 Mill Lane', locality: 'Whitby', country: 'GB' }, { label: 'home' })],
      related: [value({ relation: 'partner', to: null, name: 'Jory' })],
      'custom.length': [value({ from: 12, to: null })],
      'custom.price': [value({ amount: 40, currency: 'GBP' })],
      'custom.berth': [value(false)],
      'also.givenName': [value('Asa')],
      lifecycle: [value({ state: 'deleted' })],
    },
  });
  test('values that a merge did not choose, and what is no field, are none', () =>
    expect(Object.keys(facts).filter((key) => /also|lifecycle/.test(key))).toEqual([]));
  test.each<[Test, boolean]>([
    [isOneOf('givenName', 'ase'), true],
    [{ field: 'email', op: 'is', value: ['ase.fjeldstad@example.org'] }, true],
    [{ field: 'email', label: 'work mail', op: 'begins', value: 'ase' }, false],
    [{ field: 'email', label: 'work mail', op: 'contains', value: 'quay' }, true],
    // "home" is a label and no address.
    [{ field: 'email', op: 'contains', value: 'home' }, false],
    [{ field: 'tel', op: 'is', value: ['+44 1632 960111'] }, true],
    [isOneOf('tags', 'REGATTA'), true],
    [isOneOf('tags', 'regat'), false],
    [{ field: 'adr', op: 'contains', value: 'mill' }, true],
    [{ field: 'adr', label: 'work', op: 'present' }, false],
    [isOneOf('adr.country', 'gb'), true],
    [{ field: 'related', label: 'partner', op: 'present' }, true],
    [{ field: 'custom.length', op: 'holds', value: 400 }, true],
    [{ field: 'custom.length', op: 'overlaps', value: { from: 1, to: 11.9 } }, false],
    [{ field: 'custom.price', op: 'number', value: { from: 40, to: 40 } }, true],
    [{ field: 'custom.berth', op: 'no' }, true],
    [{ field: 'custom.berth', op: 'missing' }, false],
    [{ field: 'note', op: 'missing' }, true],
  ])('%#', (one, isMet) => expect(holds(one, { facts })).toBe(isMet));
});

test('a blank is asked once, lets everybody through while it is open, and is filled', () => {
  const blank: Test = { field: 'custom.length', op: 'holds', value: { ask: 'Boat length?' } };
  const condition = allOf(isOneOf('tags', 'a'), blank, blank);
  expect(blanksOf(condition).map(({ ask }) => ask)).toEqual(['Boat length?']);
  expect(holds(blank, {})).toBe(true);
  expect(withAnswers(condition, { 'Boat length?': 14 })).toEqual(
    allOf(isOneOf('tags', 'a'), { ...blank, value: 14 }, { ...blank, value: 14 }),
  );
  expect(withAnswers(condition, {})).toEqual(allOf(isOneOf('tags', 'a')));
});

test('a value that got another name is asked for by that', () => {
  const condition = allOf(isOneOf('tags', 'Press', 'news'), isOneOf('stage', 'press'));
  expect(renamedCondition(condition, { field: 'tags', from: 'press', into: 'news' })).toEqual(
    allOf(isOneOf('tags', 'news'), isOneOf('stage', 'press')),
  );
});

test('what a condition looks at', () =>
  expect([...looksAt(allOf(isOneOf('adr.street', 'a'), { join: 'none', of: [isOneOf('@area', 'b')] }))]).toEqual([
    'adr',
    '@area',
  ]));
