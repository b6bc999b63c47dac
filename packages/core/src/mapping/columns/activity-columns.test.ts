import { describe, expect, test } from '@jest/globals';
import { activityOf } from '../../activity';
import type { ColumnMapping } from '../mapping';
import { readActivities, type ActivityCell, type ActivityTarget } from '../rows/activity-cells';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';

/** Which columns of a table mean something of an activity, and what its entries are. */
function meant(headers: string[], ...rows: string[][]) {
  const mapping = defaultMapping(guessColumns(headers, rows), 'GB');
  const targets: Record<string, string | null> = Object.fromEntries(
    mapping.columns.map(({ header, target }) => [header, target]),
  );
  return { targets, kind: mapping.activityKind };
}
const many = (row: (i: number) => string[]) => Array.from({ length: 12 }, (_, i) => row(i));
const names =
  'Ana Reis,Tom Okoro,Kari Pike,Una Marsh,Bo Strand,Ida Fjord,Rhys Bowen,Elin Dahl,Jo Carne,Ned Quay,Cy Weir,Ivo Marl'.split(
    ',',
  );
const name = (i: number) => names[i % names.length] ?? '';
const email = (i: number) => `p${i % 5}@example.org`;
const day = (i: number) => `2025-0${1 + (i % 9)}-1${i % 10}`;

describe('columns of something dated', () => {
  test('gifts of a donations file', () => {
    const { targets, kind } = meant(
      ['Donor', 'Email', 'Date', 'Amount', 'Fund'],
      ...many((i) => [name(i), email(i), day(i), String(20 + i * 5), i % 2 ? 'Tiller fund' : 'Bursary']),
    );
    expect(targets).toEqual({
      Donor: 'fullName',
      Email: 'email',
      Date: 'activityDate',
      Amount: 'activityAmount',
      Fund: 'activityWhat',
    });
    expect(kind).toBe('gift');
  });
  test('orders, in German, with numbers of their own', () => {
    const { targets, kind } = meant(
      ['Name', 'E-Mail', 'Bestellnummer', 'Bestellt am', 'Artikel', 'Anzahl', 'Betrag'],
      ...many((i) => [
        name(i),
        email(i),
        `B-${100 + i}`,
        `1${i % 10}.03.2025`,
        'Tauwerk',
        String(1 + (i % 3)),
        '1.234,56',
      ]),
    );
    expect(targets).toMatchObject({
      Bestellnummer: 'activityId',
      'Bestellt am': 'activityDate',
      Artikel: 'activityWhat',
      Anzahl: 'activityQuantity',
      Betrag: 'activityAmount',
    });
    expect(kind).toBe('purchase');
  });
  test('places on courses of people who stand there several times; of people who stand there once they are theirs', () => {
    const courses = ['Sailmaking', 'Rigging', 'Oars'];
    const table = (email: (i: number) => string) =>
      meant(['Name', 'Email', 'Course', 'Date'], ...many((i) => [name(i % 5), email(i), courses[i % 3] ?? '', day(i)]));
    expect(table((i) => `p${i % 5}@example.org`)).toMatchObject({
      targets: { Course: 'activityWhat', Date: 'activityDate' },
      kind: 'enrolment',
    });
    expect(Object.values(table((i) => `p${i}@example.org`).targets)).not.toContain('activityWhat');
  });
  test('a birthday beside a number is none, and neither is an opportunity', () => {
    const people = meant(
      ['Name', 'Email', 'Birthday', 'Berths'],
      ...many((i) => [name(i), email(i), `19${50 + i}-03-04`, String(i)]),
    );
    expect(Object.values(people.targets).filter((target) => target?.startsWith('activity'))).toEqual([]);
    const deals = meant(
      ['Name', 'Email', 'Opportunity', 'Stage', 'Amount', 'Close date'],
      ...many((i) => [name(i), email(i), `Mooring ${i}`, 'Enquiry', String(400 + i), day(i)]),
    );
    expect(Object.values(deals.targets).filter((target) => target?.startsWith('activity'))).toEqual([]);
    expect(deals.targets.Amount).toBe('opportunityValue');
  });
});

const column: ColumnMapping = {
  column: 0,
  header: null,
  target: null,
  label: null,
  dateOrder: 'dayFirst',
  decimal: ',',
  separator: null,
  newField: null,
  onBad: 'hold',
};
const cells = (of: Partial<Record<ActivityTarget, string>>): ActivityCell[] =>
  Object.entries(of).map(([target, text]) => ({ target: target as ActivityTarget, text, column, path: { row: 1 } }));
const read = (of: Partial<Record<ActivityTarget, string>>) =>
  readActivities(cells(of), { kind: 'gift', currency: 'GBP' });

describe('what a row tells', () => {
  test('a gift with its amount as it is written there', () => {
    expect(read({ activityDate: '4.1.2025', activityAmount: '1.234,56', activityWhat: ' Tiller  fund ' })).toEqual({
      activities: [
        activityOf('gift', {
          at: '2025-01-04',
          what: 'Tiller fund',
          amount: { amount: 1234.56, currency: 'GBP' },
          isOpen: false,
        }),
      ],
      issues: [],
    });
  });
  test('its own currency and its own kind before those of the file', () => {
    const [one] = read({ activityAmount: '50', activityCurrency: 'nok', activityKind: 'Bestellung' }).activities;
    expect(one).toMatchObject({ kind: 'purchase', amount: { amount: 50, currency: 'NOK' }, at: null });
  });
  test('a remark is a note of its own, beside the gift', () => {
    const { activities } = read({ activityAmount: '50', activityDate: '4.1.2025', datedNote: 'Rang to say thanks' });
    expect(activities.map(({ kind, at, text }) => [kind, at, text])).toEqual([
      ['gift', '2025-01-04', ''],
      ['note', '2025-01-04', 'Rang to say thanks'],
    ]);
  });
  test('a day alone is nothing; what cannot be read is said', () => {
    expect(read({ activityDate: '4.1.2025' })).toEqual({ activities: [], issues: [] });
    expect(read({ activityAmount: 'much', activityDate: '31.2.2025' }).issues.map(({ code }) => code)).toEqual([
      'invalidDate',
      'invalidNumber',
    ]);
  });
});
