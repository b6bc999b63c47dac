import { expect, test } from '@jest/globals';
import { Catalogue, type FieldType } from '../../fields';
import type { ColumnMapping, Mapping } from '../mapping';
import { mappingOfEntries } from './entries-of-held';

const own = (id: number, name: string, type: FieldType) => ({
  key: `custom.${id}`,
  name,
  type,
  group: 'custom' as const,
  several: false,
  choices: [],
  retired: false,
});
const catalogue = new Catalogue([own(1, 'Amount', 'money'), own(2, 'Given on', 'date'), own(3, 'Seats', 'number')]);
const mapping = (...columns: [header: string, target: string | null][]) =>
  ({
    columns: columns.map(([header, target], column) => ({ column, header, target }) as unknown as ColumnMapping),
    recognise: ['email'],
  }) as unknown as Mapping;
const targets = (of: Mapping, columns: number[]) =>
  mappingOfEntries(of, catalogue, { kind: 'gift', columns }).columns.map(({ target }) => target);

test('what held rows becomes amount, day and remark, and headings tell of the rest', () => {
  const gifts = mapping(
    ['Email', 'email'],
    ['Amount', 'custom.1'],
    ['Date', null],
    ['Fund', null],
    ['Receipt no', 'externalId'],
    ['Note', 'note'],
    ['Birthday', 'bday'],
  );
  expect(targets(gifts, [1])).toEqual([
    'email',
    'activityAmount',
    'activityDate',
    'activityWhat',
    'activityId',
    'note',
    'bday',
  ]);
  expect(targets(gifts, [5])).toEqual([
    'email',
    'custom.1',
    'activityDate',
    'activityWhat',
    'activityId',
    'datedNote',
    'bday',
  ]);
});
test('a day of one’s own and a count are meant as such; nothing is meant twice', () => {
  expect(targets(mapping(['Amount', 'custom.1'], ['Given on', 'custom.2'], ['Paid', 'custom.2']), [0, 1])).toEqual([
    'activityAmount',
    'activityDate',
    'custom.2',
  ]);
  expect(targets(mapping(['Quantity', 'custom.3']), [0])).toEqual(['activityQuantity']);
});
