import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { defaultMapping } from '../columns/default-mapping';
import { guessColumns } from '../columns/guess-columns';
import type { ReadingContext } from './read-cell';
import { RowReader, type RowReading } from './read-row';

const context: ReadingContext = { country: 'GB', stages: [], settle: (_kind, text) => text };

/** Readings of the rows of a table under its headings, as it is guessed. */
function read(headers: string[], ...rows: string[][]): RowReading[] {
  const shape = { columnCount: headers.length, headers };
  const reader = new RowReader(defaultMapping(guessColumns(headers, rows), 'GB'), new Catalogue(), context, shape);
  return rows.map((cells, i) => reader.read(cells, i + 1));
}
const codes = ({ issues }: RowReading) => issues.map(({ code }) => code);

describe('rows of a report', () => {
  const members = (...last: string[]) =>
    read(['Member no', 'Name', 'E-mail'], ['M-1', 'Ana Reis', 'ana@example.org'], ['M-2', 'Bo Lund', ''], last)[2];

  test.each(['Total', 'TOTAL:', 'Summe', '12 records', '*** end ***', 'End of list', 'итого'])(
    '%j in the place of an id is nobody',
    (line) => {
      const row = members(line, '', '');
      expect(row?.held).toBe(true);
      expect(row && codes(row)).toContain('notAPerson');
    },
  );

  test('somebody with such a name is somebody', () => {
    expect(members('M-3', 'Lia Sum', '')?.held).toBe(false);
    expect(members('Total', '', 'total@example.org')?.held).toBe(false);
    const [row] = read(['First name', 'Last name'], ['Fin', 'Total']);
    expect(row?.held).toBe(false);
  });
});

describe('what a spreadsheet or a database writes where it has nothing', () => {
  const noted = (note: string) => read(['Name', 'E-mail', 'Notes'], ['Ana Reis', 'ana@example.org', note])[0];

  test.each(['#N/A', '#REF!', 'NULL', '(null)', '#value!'])('%j is no note', (note) => {
    const row = noted(note);
    expect(row?.candidate.note).toBeUndefined();
    expect(row?.held).toBe(false);
    expect(row && codes(row)).toContain('placeholderValue');
  });
  test.each(['#1 on the list', 'null and void', 'none'])('%j is one', (note) => {
    expect(noted(note)?.candidate.note?.[0]?.v).toBe(note);
  });
});

describe('a town with its postal code', () => {
  test('is taken apart into one address with the street', () => {
    const [row] = read(['Name', 'Address', 'Town and postcode'], ['Ana Reis', '1 Quay', 'Falmouth TR11 3AB']);
    expect(row?.candidate.adr).toEqual([{ v: { street: '1 Quay', locality: 'Falmouth', postalCode: 'TR11 3AB' } }]);
  });

  test('of two addresses goes with its own', () => {
    const [row] = read(
      ['Name', 'Home address', 'Town / Postcode', 'Work address', 'Work town and postcode'],
      ['Ana Reis', '1 Quay', 'Falmouth TR11 3AB', '2 Mill Road', 'Truro TR1 1AA'],
    );
    expect(row?.candidate.adr).toEqual([
      { v: { street: '1 Quay', locality: 'Falmouth', postalCode: 'TR11 3AB' }, label: 'home' },
      { v: { street: '2 Mill Road', locality: 'Truro', postalCode: 'TR1 1AA' }, label: 'work' },
    ]);
  });
});

test('a title that goes on behind its point is one word', () => {
  const [row] = read(['Nominativo'], ['Sig.ra Ilaria Rossi']);
  expect(row?.candidate).toMatchObject({ prefix: [{ v: 'Sig.ra' }], givenName: [{ v: 'Ilaria' }] });
});

test('an owner who is no account stands as written, and is asked about', () => {
  const headers = ['Name', 'E-mail', 'Owner'];
  const rows = [
    ['Ana Reis', 'ana@example.org', 'Tom Okoro'],
    ['Bo Lund', 'bo@example.org', 'Callum'],
  ];
  const known: ReadingContext = { ...context, isOwner: (text) => text === 'Tom Okoro' };
  const shape = { columnCount: headers.length, headers };
  const reader = new RowReader(defaultMapping(guessColumns(headers, rows), 'GB'), new Catalogue(), known, shape);
  const read = rows.map((cells, i) => reader.read(cells, i + 1));
  expect(
    read.map(({ held, issues, candidate }) => [held, issues.map(({ code }) => code), candidate.owner?.[0]?.v]),
  ).toEqual([
    [false, [], 'Tom Okoro'],
    [false, ['unknownOwner'], 'Callum'],
  ]);
});
