import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  ACTIVITY_KINDS,
  activityOf,
  changedParts,
  daysOverdue,
  faultOfActivity,
  faultOfTouchSettings,
  lastTouch,
  rhythmOf,
  momentOf,
  nextOf,
  packActivity,
  planArrivals,
  undoActivity,
  unpackActivity,
  wallTime,
  type Activity,
  type Here,
  type Repeat,
} from './index';

const day = fc.constantFrom('2026-01-31', '2026-02-28', '2024-02-29', '2026-07-14');
const activity: fc.Arbitrary<Activity> = fc
  .record({
    kind: fc.constantFrom(...ACTIVITY_KINDS),
    at: fc.option(fc.oneof(day, fc.constant('2026-03-29T00:30:00.000Z'))),
    who: fc.option(fc.integer({ min: 1, max: 3 })),
    what: fc.constantFrom('', 'Rigging knife', 'rigging  knife', 'Spring letter'),
    text: fc.constantFrom('', 'Called back', 'Asked for a berth'),
    amount: fc.option(fc.record({ amount: fc.constantFrom(20, 50), currency: fc.constantFrom('GBP', 'NOK') })),
    outsideId: fc.constantFrom('', '', 'A-1', 'A-2'),
    isOpen: fc.boolean(),
    gone: fc.boolean(),
  })
  .map(({ kind, ...rest }) => activityOf(kind, rest));

describe('one shape for all kinds', () => {
  test('what is packed is unpacked the same, and the default takes no room', () => {
    fc.assert(
      fc.property(activity, (one) => {
        expect(unpackActivity(JSON.parse(JSON.stringify(packActivity(one))) as Activity)).toEqual(one);
      }),
    );
    expect(packActivity(activityOf('gift'))).toEqual({ kind: 'gift' });
  });
  test.each<[string, Activity, string | null]>([
    ['a note without a text', activityOf('note', { at: '2026-01-01', text: '  ' }), 'nothing'],
    ['a task without a subject', activityOf('task'), 'noWhat'],
    ['a task without a day is fine', activityOf('task', { what: 'Ring back' }), null],
    ['an appointment at no time', activityOf('appointment', { what: 'Visit' }), 'noStart'],
    ['a gift of which nobody knows the day is fine', activityOf('gift'), null],
    ['the 29th of February where there is none', activityOf('gift', { at: '2025-02-29' }), 'noSuchDay'],
    ['the 29th of February where there is one', activityOf('gift', { at: '2024-02-29' }), null],
    ['half past 25', activityOf('talk', { at: '2026-01-01T25:30:00Z' }), 'noSuchDay'],
    [
      'an end before its start',
      activityOf('appointment', { what: 'Visit', at: '2026-01-02T10:00:00Z', end: '2026-01-02T09:00:00Z' }),
      'endBeforeStart',
    ],
    [
      'a day that ends at a time',
      activityOf('appointment', { what: 'Visit', at: '2026-01-02', end: '2026-01-02T09:00:00Z' }),
      'mixedEnds',
    ],
    [
      'an amount in no currency',
      activityOf('gift', { at: '2026-01-01', amount: { amount: 5, currency: '' } }),
      'currency',
    ],
    ['a note of a megabyte', activityOf('note', { at: '2026-01-01', text: 'x'.repeat(1_000_000) }), 'tooLong'],
    [
      'a repeat every no days',
      activityOf('task', { what: 'x', at: '2026-01-01', repeat: { ...every('day', 0) } }),
      'repeat',
    ],
    ['a repeat from no day', activityOf('task', { what: 'x', repeat: every('day') }), 'repeatWithoutDay'],
  ])('%s', (_, one, code) => expect(faultOfActivity(one)?.code ?? null).toBe(code));
});

function every(unit: Repeat['unit'], n = 1, rest: Partial<Repeat> = {}): Repeat {
  return { every: n, unit, first: '2026-01-31', zone: 'Europe/London', until: null, ...rest };
}

describe('what repeats', () => {
  const series = (repeat: Repeat, at: string, count: number) => {
    const days = [at];
    while (days.length < count) {
      const last = days[days.length - 1] ?? at;
      const next = nextOf(repeat, last, last.slice(0, 10));
      if (next === null) break;
      days.push(next);
    }
    return days;
  };
  test('comes back to its day after a shorter month', () => {
    expect(series(every('month'), '2026-01-31', 5)).toEqual([
      '2026-01-31',
      '2026-02-28',
      '2026-03-31',
      '2026-04-30',
      '2026-05-31',
    ]);
    const leap = every('year', 1, { first: '2024-02-29' });
    expect(series(leap, '2024-02-29', 5).at(-1)).toBe('2028-02-29');
    expect(nextOf(leap, '2024-02-29', '2025-01-01')).toBe('2025-02-28');
  });
  test('keeps the time on the wall where clocks change', () => {
    const weekly = every('week', 1, { first: '2026-03-22' });
    const days = series(weekly, '2026-03-22T09:00:00.000Z', 3);
    expect(days).toEqual(['2026-03-22T09:00:00.000Z', '2026-03-29T08:00:00.000Z', '2026-04-05T08:00:00.000Z']);
    expect(days.map((at) => wallTime(Date.parse(at), 'Europe/London').slice(11))).toEqual(['09:00', '09:00', '09:00']);
  });
  test('ends on its last day, and a day far ahead is found at once', () => {
    expect(nextOf(every('week', 2, { until: '2026-02-20' }), '2026-02-14', '2026-02-14')).toBeNull();
    expect(nextOf(every('day'), '2026-01-31', '2900-06-01')).toBe('2900-06-02');
  });
  test('law: the next day is later, is the first such day, and is in step with the first', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('day' as const, 'week' as const, 'month' as const, 'year' as const),
        fc.integer({ min: 1, max: 13 }),
        day,
        fc.integer({ min: 0, max: 4000 }),
        (unit, n, first, later) => {
          const repeat = every(unit, n, { first });
          const after = new Date(Date.parse(first) + later * 86_400_000).toISOString().slice(0, 10);
          const next = nextOf(repeat, first, after) ?? '';
          expect(next > after).toBe(true);
          // Whoever walks from the first on, one at a time, comes to the same day.
          let walked: string = first;
          while (walked <= after) walked = nextOf(repeat, first, walked) ?? '';
          expect(next).toBe(walked);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('clocks', () => {
  test.each([
    ['2026-03-29T00:30', 'Europe/London', '2026-03-29T00:30:00.000Z'],
    // Left out: clocks went from 1:00 to 2:00.
    ['2026-03-29T01:30', 'Europe/London', '2026-03-29T01:30:00.000Z'],
    // There twice: the first is meant.
    ['2026-10-25T01:30', 'Europe/London', '2026-10-25T00:30:00.000Z'],
    ['2026-07-01T09:00', 'America/New_York', '2026-07-01T13:00:00.000Z'],
    ['2026-07-01T09:00', 'Asia/Kathmandu', '2026-07-01T03:15:00.000Z'],
  ])('%s in %s', (wall, zone, moment) => expect(new Date(momentOf(wall, zone)).toISOString()).toBe(moment));
});

describe('undo', () => {
  test('law: a step and its undo give what was there, whoever changed something else meanwhile', () => {
    fc.assert(
      fc.property(activity, activity, fc.string({ maxLength: 4 }), (before, other, place) => {
        const after = { ...other, kind: before.kind };
        const now = { ...after, place };
        const { activity: back, left } = undoActivity(now, { before, after });
        expect(left).toEqual([]);
        expect({ ...(back ?? now), place: '' }).toEqual({ ...before, place: '' });
      }),
    );
  });
  test('what somebody changed since stays, and is told', () => {
    const before = activityOf('task', { what: 'Ring back', at: '2026-02-01' });
    const after = { ...before, what: 'Ring her back', at: '2026-02-02' };
    const undone = undoActivity({ ...after, what: 'Write to her' }, { before, after });
    expect(undone.left).toEqual(['what']);
    expect(undone.activity).toMatchObject({ what: 'Write to her', at: '2026-02-01' });
  });
  test('what a run made goes; not what somebody changed since, and not twice', () => {
    const made = activityOf('note', { at: '2026-02-01', text: 'Likes larch' });
    expect(undoActivity(made, { before: null, after: made }).activity?.gone).toBe(true);
    expect(undoActivity({ ...made, text: 'Likes oak' }, { before: null, after: made })).toEqual({
      activity: null,
      left: ['text'],
    });
    expect(undoActivity({ ...made, gone: true }, { before: null, after: made })).toEqual({ activity: null, left: [] });
  });
});

/** Writes a plan down, as the database would. */
function arrive(here: readonly Here<number>[], coming: readonly Activity[]): Here<number>[] {
  const all = [...here];
  for (const one of planArrivals(here, coming)) {
    if (one.is === 'new') all.push({ id: all.length, activity: one.activity });
    if (one.is === 'changed') all[one.id] = { id: one.id, activity: one.activity };
  }
  return all;
}

describe('what arrives', () => {
  const gift = (rest: Partial<Activity> = {}) =>
    activityOf('gift', { at: '2025-01-04', what: 'Tiller fund', amount: { amount: 50, currency: 'GBP' }, ...rest });
  test('law: arriving a second time, in any part of it, changes nothing', () => {
    fc.assert(
      fc.property(fc.array(activity), fc.array(activity), (first, second) => {
        const here = arrive(arrive([], first), second);
        expect(planArrivals(here, second).filter(({ is }) => is === 'new' || is === 'changed')).toEqual([]);
      }),
    );
  });
  test('law: none is lost; each without a number counts as often as it stands in the file', () => {
    fc.assert(
      fc.property(fc.array(activity), (coming) => {
        const plain = coming.map((one) => ({ ...one, outsideId: '' }));
        expect(arrive([], plain)).toHaveLength(plain.length);
      }),
    );
  });
  test('two equal gifts of one day are two, and a third in the next file is new', () => {
    const here = arrive([], [gift(), gift()]);
    expect(planArrivals(here, [gift(), gift(), gift()]).map(({ is }) => is)).toEqual(['same', 'same', 'new']);
  });
  test('a number that is known brings what changed, and leaves who of us did it', () => {
    const here = arrive([], [{ ...gift({ outsideId: 'G-7' }), who: 2 }]);
    const [plan] = planArrivals(here, [gift({ outsideId: 'G-7', amount: { amount: 70, currency: 'GBP' } })]);
    expect(plan).toMatchObject({ is: 'changed', activity: { amount: { amount: 70 }, who: 2 } });
  });
  test('the same number twice in one file is one, as the last says', () => {
    const plan = planArrivals([], [gift({ outsideId: 'G-7' }), gift({ outsideId: 'G-7', text: 'by cheque' })]);
    expect(plan).toMatchObject([
      { is: 'new', activity: { text: 'by cheque' } },
      { is: 'again', place: 0 },
    ]);
  });
  test('what was removed here stays removed', () => {
    const here = [{ id: 0, activity: gift({ outsideId: 'G-7', gone: true }) }];
    expect(planArrivals(here, [gift({ outsideId: 'G-7', text: 'again' })])).toEqual([{ is: 'same', id: 0 }]);
  });
});

describe('keeping in touch', () => {
  const touches = [
    activityOf('talk', { at: '2026-01-10T10:00:00Z', who: 1 }),
    activityOf('note', { at: '2026-02-20', who: 2, text: 'x' }),
    activityOf('talk', { at: '2026-02-01', who: 2, gone: true }),
    activityOf('appointment', { at: '2026-09-01', who: 3, what: 'Visit' }),
  ];
  test('counts the kinds that are chosen, of the past, and nothing that was removed', () => {
    expect(lastTouch(touches, ['talk', 'appointment'], '2026-02-27')).toEqual({ day: '2026-01-10', who: 1 });
    expect(lastTouch(touches, ['note'], '2026-02-27')).toEqual({ day: '2026-02-20', who: 2 });
    expect(lastTouch(touches, ['gift'], '2026-02-27')).toBeNull();
  });
  test('is overdue by the days since the rhythm passed', () => {
    expect(daysOverdue(30, { day: '2026-01-10', who: 1 }, '2020-01-01', '2026-02-27')).toBe(18);
    expect(daysOverdue(30, null, '2026-02-20', '2026-02-27')).toBe(-23);
  });
  test('whoever falls under several rhythms is heard from by the shortest', () => {
    const rhythms = [
      { stage: 'Donor', everyDays: 90 },
      { segmentId: 4, everyDays: 30 },
    ];
    expect(rhythmOf({ rhythms }, { stage: 'Donor', segments: new Set([4]) })).toBe(30);
    expect(rhythmOf({ rhythms }, { stage: 'Donor', segments: new Set() })).toBe(90);
    expect(rhythmOf({ rhythms }, { stage: 'Alumni', segments: new Set([5]) })).toBeNull();
  });
  test('settings that cannot be are refused in words', () => {
    const kinds = ['talk' as const];
    expect(faultOfTouchSettings({ kinds, rhythms: [{ stage: 'Donor', everyDays: 30 }] })).toBeNull();
    expect(faultOfTouchSettings({ kinds: [], rhythms: [] })).toMatch('at least one kind');
    expect(faultOfTouchSettings({ kinds, rhythms: [{ stage: 'Donor', everyDays: 0.5 }] })).toMatch('whole number');
    const twice = [
      { stage: 'Donor', everyDays: 3 },
      { stage: 'Donor', everyDays: 4 },
    ];
    expect(faultOfTouchSettings({ kinds, rhythms: twice })).toMatch('one rhythm only');
  });
  test('parts that differ are told', () => {
    expect(changedParts(activityOf('task', { what: 'a' }), activityOf('task', { what: 'b', isOpen: false }))).toEqual([
      'what',
      'isOpen',
    ]);
  });
});
