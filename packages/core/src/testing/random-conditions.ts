/** Random people and conditions in which marks, labels, ends of ranges and turns of the year meet often. */

import fc from 'fast-check';
import type { TouchSettings } from '../activity';
import type { ContactRecord, Value, ValueContent } from '../model';
import type { Condition, Test } from '../segments';

/** The day that the conditions are asked on, and what counts then as being in touch. */
export const TODAY = '2026-02-27';
export const TOUCH: TouchSettings = {
  kinds: ['talk', 'note'],
  rhythms: [
    { stage: 'Donor', everyDays: 7 },
    { stage: 'Enquiry', everyDays: 300 },
    { segmentId: 7, everyDays: 30 },
  ],
};
const word = fc.constantFrom(
  'Ana',
  'ana',
  'Åse',
  'Reis',
  'quay',
  "O'Neil",
  'Jan-Willem',
  'a',
  '100%',
  'x_y',
  'Œuf',
  '^|',
);
const phrase = fc.array(word, { minLength: 1, maxLength: 2 }).map((words) => words.join(' '));
const label = fc.constantFrom('home', 'work', '', 'Work mail');
const day = fc.constantFrom('1990-02-28', '2026-02-27', '2026-03-01', '2024-02-29', '1899-12-31');
const partial = fc.oneof(day, fc.constantFrom('--02-28', '--03-01', '--12-31', '--01-05'));
const number = fc.constantFrom(-1.5, 0, 3, 14, 14.25, 1e9);
const end = fc.option(number, { nil: null });
const tag = fc.constantFrom('Regatta', 'press', 'open yard 2025', 'a|b');
const stage = fc.constantFrom('Donor', 'Enquiry');
const email = fc.constantFrom('ana@example.org', 'Ana.Reis+x@example.net', 'no mailbox');
const tel = fc.constantFrom('+441632960111', '+12065550105', 'extension 4');

export type Draft = [field: string, values: { v: ValueContent; norm?: string; label?: string }[]];
const one = (field: string, v: fc.Arbitrary<ValueContent>): fc.Arbitrary<Draft> =>
  v.map((value) => [field, [{ v: value }]]);
const many = (field: string, v: fc.Arbitrary<ValueContent>): fc.Arbitrary<Draft> =>
  fc
    .array(fc.record({ v, label }), { minLength: 1, maxLength: 3 })
    .map((values) => [field, values.map((value) => ({ v: value.v, ...(value.label ? { label: value.label } : {}) }))]);
const field: fc.Arbitrary<Draft> = fc.oneof(
  one('givenName', phrase),
  one('note', phrase),
  one('organization', phrase),
  one('stage', stage),
  many('email', email),
  many('tel', tel),
  many('tags', tag),
  many('otherDate', partial),
  many(
    'adr',
    fc.record({ street: phrase, locality: phrase, country: fc.constantFrom('GB', 'NO') }, { requiredKeys: [] }),
  ),
  many(
    'related',
    fc.record({ relation: fc.constantFrom('partner', 'assistant'), to: fc.constant(null), name: phrase }),
  ),
  one('bday', partial),
  one('custom.length', number),
  one(
    'custom.price',
    number.map((amount) => ({ amount, currency: 'GBP' })),
  ),
  one(
    'custom.fits',
    fc.record({ from: end, to: end }).filter(({ from, to }) => from === null || to === null || from <= to),
  ),
  one('custom.berth', fc.boolean()),
  one('custom.rig', fc.uniqueArray(tag, { minLength: 1, maxLength: 2 })),
  one('custom.launched', day),
  one('custom.word', fc.oneof(phrase, day)),
);
/** The record of drafts; the first of a field counts. */
export const recordOf = (drafts: readonly Draft[], isOrganization: boolean): ContactRecord => {
  let n = 1;
  const f: Record<string, Value[]> = isOrganization ? { kind: [{ slot: 0, v: 'organization', run: 1 }] } : {};
  for (const [key, values] of drafts)
    f[key] ??= values.map((value, rank): Value => ({ ...value, slot: n++, run: 1, rank }));
  return { n, f };
};

const text = fc.oneof(word, phrase, email, tel, tag, stage, fc.constantFrom('o', 'example', 'ork', '0163', 'quay'));
const unit = fc.constantFrom('day' as const, 'month' as const, 'year' as const);
const bound = fc.oneof(day, fc.record({ n: fc.integer({ min: -40, max: 40 }), unit }));
const span = fc.record({ from: bound, to: bound }, { requiredKeys: [] }).filter((s) => 'from' in s || 'to' in s);
const numbers = fc.record({ from: number, to: number }, { requiredKeys: [] }).filter((s) => 'from' in s || 'to' in s);
const anyField = fc.constantFrom(
  ...[
    'givenName',
    'note',
    'organization',
    'stage',
    'email',
    'tel',
    'tags',
    'otherDate',
    'adr',
    'adr.street',
    'adr.country',
  ],
  ...[
    'related',
    'bday',
    'custom.length',
    'custom.price',
    'custom.fits',
    'custom.berth',
    'custom.rig',
    'custom.launched',
  ],
  ...['custom.word', 'suffix'],
);
const compare = fc.oneof(
  fc.record({ op: fc.constantFrom('present' as const, 'missing' as const, 'yes' as const, 'no' as const) }),
  fc.record({ op: fc.constant('is' as const), value: fc.array(text, { minLength: 1, maxLength: 3 }) }),
  fc.record({ op: fc.constantFrom('contains' as const, 'begins' as const), value: text }),
  fc.record({ op: fc.constantFrom('number' as const, 'overlaps' as const), value: numbers }),
  fc.record({ op: fc.constant('holds' as const), value: number }),
  fc.record({ op: fc.constant('span' as const), value: span }),
  fc.record({ op: fc.constant('year' as const), value: fc.constantFrom(1990, 2026) }),
  fc.record({ op: fc.constant('month' as const), value: fc.integer({ min: 1, max: 12 }) }),
  fc.record({ op: fc.constant('day' as const), value: fc.constantFrom('today', '02-28', '12-31') }),
  fc.record({ op: fc.constant('comes' as const), value: fc.constantFrom(0, 1, 7, 310, 366) }),
);
const ofSubject = fc.oneof(
  fc.record({ field: fc.constantFrom('@created', '@changed'), op: fc.constant('span' as const), value: span }),
  fc.record({ field: fc.constant('@complete'), op: fc.constant('number' as const), value: numbers }),
  fc.record({
    field: fc.constantFrom('@run', '@thread'),
    op: fc.constant('is' as const),
    value: fc.constantFrom(['1'], ['RUN']),
  }),
  fc.record({ field: fc.constant('@find'), op: fc.constant('contains' as const), value: text }),
  fc.record({
    field: fc.constant('@permission'),
    label: fc.constantFrom('email', 'call'),
    op: fc.constant('is' as const),
    value: fc.uniqueArray(fc.constantFrom('allowed', 'optedOut', 'unknown'), { minLength: 1, maxLength: 2 }),
  }),
  fc.record({
    field: fc.constant('@activity'),
    op: fc.constant('did' as const),
    value: fc.record(
      {
        kinds: fc.uniqueArray(fc.constantFrom('gift', 'note', 'talk'), { maxLength: 2 }),
        outcomes: fc.uniqueArray(fc.constantFrom('opened', 'clicked', 'reached'), { minLength: 1, maxLength: 2 }),
        what: fc.constantFrom('quay', 'Larch', 'a'),
        since: bound,
        until: bound,
        times: fc.constantFrom({ from: 1 }, { from: 2 }, { to: 1 }, { from: 0, to: 2 }, { from: 1, to: 1 }),
        sum: fc.constantFrom({ from: 50 }, { to: 50 }, { from: 20, to: 70 }),
        currency: fc.constantFrom('GBP', 'NOK'),
      },
      { requiredKeys: [] },
    ),
  }),
  fc.record({
    field: fc.constant('@activity'),
    op: fc.constant('did' as const),
    value: fc.record(
      {
        outcomes: fc.uniqueArray(fc.constantFrom('opened', 'clicked', 'sent'), { minLength: 1, maxLength: 2 }),
        ofLast: fc.constantFrom(1, 2, 5),
        what: fc.constantFrom('quay', 'a'),
        since: bound,
        until: bound,
        times: fc.constantFrom({ from: 1 }, { from: 2 }, { to: 1 }, { from: 0, to: 2 }, { from: 1, to: 1 }),
      },
      { requiredKeys: ['outcomes', 'ofLast'] },
    ),
  }),
  fc.record({ field: fc.constant('@touch'), op: fc.constant('span' as const), value: span }),
  fc.record({
    field: fc.constantFrom('@touch', '@overdue'),
    op: fc.constantFrom('present' as const, 'missing' as const),
  }),
  fc.record({
    field: fc.constant('@touchBy'),
    op: fc.constant('is' as const),
    value: fc.constantFrom(['1'], ['2', '3']),
  }),
  fc.record({
    field: fc.constant('@overdue'),
    op: fc.constant('number' as const),
    value: fc.constantFrom({ from: 0 }, { to: -1 }, { from: -20, to: 400 }),
  }),
  fc.record({ field: fc.constant('@duplicate'), op: fc.constantFrom('present' as const, 'missing' as const) }),
  fc.record({ field: fc.constant('@duplicate'), op: fc.constant('is' as const), value: fc.constant(['certain']) }),
);
const leaf: fc.Arbitrary<Test> = fc
  .tuple(
    fc.oneof(
      {
        weight: 5,
        arbitrary: fc
          .tuple(anyField, label, compare)
          .map(([key, of, rest]) => ({ field: key, ...(of ? { label: of } : {}), ...rest })),
      },
      { weight: 2, arbitrary: ofSubject },
    ),
    fc.boolean(),
  )
  .map(([test, not]) => ({ ...test, ...(not ? { not: true as const } : {}) }) as Test);
export const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    leaf,
    fc.record({
      join: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      of: fc.array(tie('tree'), { maxLength: 3 }),
    }),
  ),
}));

/** Somebody with whatever conditions ask of beside values. */
export const person = fc.record({
  drafts: fc.array(field, { maxLength: 9 }),
  isOrganization: fc.boolean(),
  daysAgo: fc.constantFrom(0, 1, 30, 400),
  said: fc.option(
    fc.record({
      channel: fc.constantFrom('email' as const, 'call' as const),
      state: fc.constantFrom('allowed' as const, 'optedOut' as const),
      ofAddress: fc.boolean(),
    }),
  ),
  band: fc.option(fc.constantFrom('certain', 'possible')),
  /** In the segment that has a rhythm. */
  isClose: fc.boolean(),
  activities: fc.array(
    fc.record({
      kind: fc.constantFrom('gift' as const, 'note' as const, 'talk' as const),
      at: fc.oneof(day, fc.constant('2026-02-27T23:59:00.000Z')),
      what: fc.constantFrom('', 'Quay', 'larch by the quay'),
      who: fc.constantFrom(null, 1, 2),
      amount: fc.option(fc.record({ amount: fc.constantFrom(20, 50), currency: fc.constantFrom('GBP', 'NOK') })),
      gone: fc.boolean(),
      outcome: fc.constantFrom('', 'reached'),
    }),
    { maxLength: 3 },
  ),
  /** What came of mailings. */
  results: fc.array(
    fc.record({
      kind: fc.constant('result' as const),
      at: fc.oneof(
        day,
        fc.constantFrom('2026-02-27T23:59:00.000Z', '2026-02-27T08:00:00.000Z', '2026-06-01T08:00:00.000Z'),
      ),
      what: fc.constantFrom('Quay', 'larch by the quay'),
      gone: fc.constantFrom(false, false, false, true),
      outcome: fc.constantFrom('sent', 'sent', 'opened', 'clicked'),
    }),
    { maxLength: 8 },
  ),
});
