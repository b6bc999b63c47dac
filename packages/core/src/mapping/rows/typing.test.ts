import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { showValue, typeValue, type FieldType } from '../../fields';
import { sameContent, type ValueContent } from '../../model';
import { BY_HAND, convertValue } from './convert-value';
import { readCell, type ReadAs } from './read-cell';

const context = { country: 'GB', stages: ['Donor'], settle: (_: string, plain: string) => plain };
const CHOICES = ['north', 'south', 'by the slip'];

function read(text: string, as: ReadAs): ValueContent | undefined {
  const { values } = readCell(text, { ...BY_HAND, target: 'custom.1', label: null }, as, context, {});
  return values[0]?.[1].v;
}

const whole = fc.integer({ min: -1_000_000, max: 1_000_000 });
const cents = fc.integer({ min: 0, max: 10_000_000 }).map((n) => n / 100);
const day = fc
  .date({ min: new Date('1905-01-01'), max: new Date('2025-12-31'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));
const ARBITRARY: [FieldType, fc.Arbitrary<ValueContent>, Omit<ReadAs, 'type'>][] = [
  ['number', whole, {}],
  ['yesNo', fc.boolean(), {}],
  ['date', day.filter((iso) => !/-01-01$/.test(iso)), {}],
  ['choice', fc.constantFrom(...CHOICES), { choices: CHOICES }],
  ['choices', fc.uniqueArray(fc.constantFrom(...CHOICES), { minLength: 1 }), { choices: CHOICES }],
  ['money', cents.map((amount) => ({ amount, currency: 'GBP' })), { currency: 'EUR' }],
  [
    'range',
    fc
      .tuple(fc.option(fc.integer({ min: 0, max: 900 })), fc.option(fc.integer({ min: 900, max: 9000 })))
      .filter(([from, to]) => from !== null || to !== null)
      .map(([from, to]) => ({ from, to })),
    {},
  ],
];

test('a cell that says what its heading does is a yes, and one that denies it a no', () => {
  const yes = (header: string, cell: string) =>
    readCell(cell, { ...BY_HAND, target: 'custom.1', label: null, header }, { type: 'yesNo' }, context, {})
      .values[0]?.[1].v;
  expect(yes('Paid deposit', 'paid')).toBe(true);
  expect(yes('Paid deposit', 'Not paid')).toBe(false);
  expect(yes('Deposit paid?', 'unpaid')).toBe(false);
  expect(yes('Newsletter', 'ja')).toBe(true);
  expect(yes('Newsletter', 'paid')).toBeUndefined();
});

describe('what stands in the box when a value is edited reads back as the value', () => {
  test.each(ARBITRARY)('%s', (type, values, more) =>
    fc.assert(
      fc.property(values, (v) => {
        const back = read(typeValue({ v }), { type, ...more });
        expect({ v, same: sameContent(back, v) }).toEqual({ v, same: true });
        expect(showValue('custom.1', { v })).not.toContain('[object');
      }),
    ),
  );
});

describe('converting to the type it has changes nothing', () => {
  test.each(ARBITRARY)('%s', (type, values, more) =>
    fc.assert(
      fc.property(values, (v) => {
        const converted = convertValue({ v }, 'custom.1', { type, ...more });
        expect(converted && sameContent(converted.v, v)).toBe(true);
      }),
    ),
  );
});

describe('one type becomes another where it says something there', () => {
  test.each<[ValueContent, ReadAs, ValueContent | null]>([
    ['14', { type: 'number' }, 14],
    ['14 feet', { type: 'number' }, null],
    ['12 to 16', { type: 'range' }, { from: 12, to: 16 }],
    ['up to 16', { type: 'range' }, { from: null, to: 16 }],
    [14, { type: 'text' }, '14'],
    [true, { type: 'text' }, 'yes'],
    ['oui', { type: 'yesNo' }, true],
    ['South', { type: 'choice', choices: CHOICES }, 'south'],
    ['east', { type: 'choice', choices: CHOICES }, null],
    [['north', 'south'], { type: 'text' }, 'north; south'],
    ['250', { type: 'money', currency: 'GBP' }, { amount: 250, currency: 'GBP' }],
    [{ amount: 250, currency: 'GBP' }, { type: 'number' }, 250],
    ['1971-07-14', { type: 'date' }, '1971-07-14'],
    ['--07-14', { type: 'date' }, null],
    ['14 July', { type: 'partialDate' }, '--07-14'],
    ['1971-02-30', { type: 'date' }, null],
  ])('%j as %j', (v, as, expected) => {
    const converted = convertValue({ v }, 'custom.1', as);
    expect(converted?.v ?? null).toEqual(expected);
  });
});

test('any text is read as any type without an error thrown', () => {
  const types: FieldType[] = [
    'text',
    'longText',
    'number',
    'money',
    'range',
    'date',
    'partialDate',
    'yesNo',
    'choice',
    'choices',
    'url',
    'relation',
    'picture',
  ];
  fc.assert(
    fc.property(fc.constantFrom(...types), fc.string({ unit: 'binary', maxLength: 80 }), (type, text) => {
      const reading = readCell(
        text,
        { ...BY_HAND, target: 'custom.1', label: null },
        { type, choices: CHOICES },
        context,
        {},
      );
      expect(reading.values.length + reading.issues.length >= 0).toBe(true);
      for (const [, value] of reading.values) expect(value.v).not.toBeUndefined();
    }),
  );
});
