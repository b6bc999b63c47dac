import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readJsonObjects, tableOfObjects } from './json-records';
import { textKind } from './text-kind';

/** A document as a table; what is wrong where it is none. */
function table(document: unknown): string[][] | string {
  const objects = readJsonObjects(JSON.stringify(document));
  return objects.ok ? tableOfObjects(objects.value) : objects.error;
}
const NAMED = [
  ['first', 'mail'],
  ['Ana', 'a@example.org'],
  ['Tom', ''],
];

describe('tables that are written as lists', () => {
  test.each<[string, unknown]>([
    ['the headings in the first list', [['first', 'mail'], ['Ana', 'a@example.org'], ['Tom']]],
    [
      'headings and rows apart',
      {
        columns: ['first', 'mail'],
        rows: [
          ['Ana', 'a@example.org'],
          ['Tom', null],
        ],
      },
    ],
    [
      'within a document',
      {
        result: {
          headers: ['first', 'mail'],
          data: [
            ['Ana', 'a@example.org'],
            ['Tom', ''],
          ],
        },
      },
    ],
  ])('%s', (_name, document) => {
    expect(table(document)).toEqual(NAMED);
    expect(textKind(JSON.stringify(document))).toBe('json');
  });

  test('headings that stand twice or are empty are told apart', () =>
    expect(table([['a', 'a', ''], [1, 2, 3]])).toEqual([['a', 'a 2', 'column 3'], ['1', '2', '3']])); // prettier-ignore

  test('a row longer than the headings makes it no table, as a cell would be lost', () =>
    expect(table([['a'], ['1', '2']])).toBe('there is no list of records in it'));
});

describe('records by their key', () => {
  test('are records with that key as their id', () =>
    expect(table({ u1: { first: 'Ana', mail: 'a@example.org' }, u2: { first: 'Tom', mail: '' } })).toEqual([
      ['id', 'first', 'mail'],
      ['u1', 'Ana', 'a@example.org'],
      ['u2', 'Tom', ''],
    ]));

  test('parts of one record that are not alike are no records', () =>
    expect(table({ name: { first: 'Ana', last: 'Reis' }, address: { city: 'Tern', code: 'TR1' } })).toEqual([
      ['name first', 'name last', 'address city', 'address code'],
      ['Ana', 'Reis', 'Tern', 'TR1'],
    ]));
});

describe('what wraps a record or parts it', () => {
  test('a wrapper is left out, unless the same stands beside it', () => {
    expect(table([{ id: 'u1', attributes: { first: 'Ana' } }])).toEqual([['id', 'first'], ['u1', 'Ana']]); // prettier-ignore
    expect(table([{ name: 'Ana', user: { name: 'Callum' } }])).toEqual([['name', 'user name'], ['Ana', 'Callum']]); // prettier-ignore
  });

  test('questions with their answers are columns, in whatever order each record has them', () =>
    expect(
      table([
        {
          answers: [
            { field: { title: 'First name' }, text: 'Ana' },
            { field: { title: 'Paid' }, boolean: true },
          ],
        },
        {
          answers: [
            { question: 'Paid', answer: false },
            { question: 'First name', answer: 'Tom' },
          ],
        },
      ]),
    ).toEqual([
      ['First name', 'Paid'],
      ['Ana', 'yes'],
      ['Tom', 'no'],
    ]));

  test('parts of a name by their kind are columns, kinds of phones are labels', () =>
    expect(
      table([
        {
          name: {
            components: [
              { kind: 'given', value: 'Ana' },
              { kind: 'surname', value: 'Reis' },
            ],
          },
          phones: [
            { number: '1', type: 'home' },
            { number: '2', type: 'mobile' },
          ],
        },
      ]),
    ).toEqual([
      ['name given', 'name surname', 'phones', 'phones type', 'phones 2', 'phones 2 type'],
      ['Ana', 'Reis', '1', 'home', '2', 'mobile'],
    ]));

  test('people in a list, who have names and titles, are no questions', () =>
    expect(
      table([
        {
          contacts: [
            { name: 'Ana', title: 'Skipper' },
            { name: 'Tom', title: 'Rigger' },
          ],
        },
      ]),
    ).toEqual([
      ['contacts name', 'contacts title', 'contacts 2 name', 'contacts 2 title'],
      ['Ana', 'Skipper', 'Tom', 'Rigger'],
    ]));

  test('the number of a house is no value alone', () =>
    expect(table([{ address: { number: '12', street: 'Quay' } }])).toEqual([
      ['address number', 'address street'],
      ['12', 'Quay'],
    ]));
});

test('a heading that is called as the second of another is takes nothing from it', () =>
  expect(table([{ mail: [{ value: 'a' }, { value: 'b' }], 'mail 2': 'c' }])).toEqual([
    ['mail', 'mail 2', 'mail 2 2'],
    ['a', 'b', 'c'],
  ]));

test('no text of a record is lost, however it is shaped', () => {
  const key = fc.constantFrom('name', 'value', 'email', 'data', 'answers', 'field', 'text', 'kind', 'title', 'a', 'b');
  const { part } = fc.letrec((tie) => ({
    part: fc.oneof({ depthSize: 'small' }, fc.constant('?'), fc.array(tie('part'), { maxLength: 3 }), tie('object')),
    object: fc.dictionary(key, tie('part'), { maxKeys: 4 }),
  }));
  fc.assert(
    fc.property(fc.dictionary(key, part, { minKeys: 1, maxKeys: 4 }), (shape) => {
      let n = 0;
      const record = JSON.parse(JSON.stringify(shape).replace(/"\?"/g, () => `"t${++n}t"`)) as Record<string, unknown>;
      // As one record of a list of them, since a list within would be taken for the records.
      const written = JSON.stringify(tableOfObjects([record as never]));
      for (let i = 1; i <= n; i++) expect(written).toContain(`t${i}t`);
    }),
    { numRuns: 1000 },
  );
});
