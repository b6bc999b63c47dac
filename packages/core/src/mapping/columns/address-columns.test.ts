import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { defaultMapping } from './default-mapping';
import { guessColumns } from './guess-columns';
import type { ReadingContext } from '../rows/read-cell';
import { RowReader } from '../rows/read-row';

const context: ReadingContext = { country: 'GB', stages: [], settle: (_kind, text) => text };

/** What the first row of a table becomes. */
function addressesOf(headings: string[], ...rows: string[][]) {
  const guesses = guessColumns(headings, rows);
  const mapping = defaultMapping(guesses, 'GB');
  const shape = { headers: headings, columnCount: headings.length };
  const { candidate } = new RowReader(mapping, new Catalogue(), context, shape).read(rows[0] ?? [], 1);
  return {
    meanings: guesses.map(({ field, wholeAddress }) => (wholeAddress ? `${field} (whole)` : field)),
    adr: candidate.adr?.map(({ v, label }) => [label ?? '', v]),
  };
}

test('a word for a state is one where an address or a state shows it', () => {
  const of = (headings: string[], ...rows: string[][]) => guessColumns(headings, rows).at(-1)?.field;
  const activo = [['Ana Reis', 'Activo'], ['José Ruiz', 'Baja']]; // prettier-ignore
  expect(of(['Socio', 'Estado'], ...activo)).toBeNull();
  expect(of(['Socio', 'Estado'], ['Ana Reis', 'SP'], ['José Ruiz', 'RJ'])).toBe('region');
  expect(of(['Socio', 'Ciudad', 'Estado'], ['Ana Reis', 'Guadalajara', 'Jalisco'])).toBe('region');
});

describe('whole addresses in one column', () => {
  test('are taken apart where no other column has the town', () => {
    const { meanings, adr } = addressesOf(
      ['Name', 'Address', 'Country'],
      ['Ana Reis', '12 Quay Lane, Falmouth TR11 3AB', 'UK'],
      ['Bo Lund', '3 Slip Street, Penryn, TR10 8AA', ''],
    );
    expect(meanings).toEqual(['fullName', 'street (whole)', 'country']);
    expect(adr).toEqual([
      ['', { street: '12 Quay Lane', locality: 'Falmouth', postalCode: 'TR11 3AB', country: 'GB' }],
    ]);
  });

  test('stay lines of a street where town or code have a column, or most cells have none', () => {
    const beside = addressesOf(
      ['Name', 'Address', 'Town'],
      ['Ana Reis', '12 Quay Lane, Falmouth TR11 3AB', 'Falmouth'],
    );
    expect(beside.meanings).toEqual(['fullName', 'street', 'locality']);
    const few = addressesOf(
      ['Name', 'Address'],
      ['Ana Reis', '12 Quay Lane, Falmouth TR11 3AB'],
      ['Bo Lund', '3 Slip Street'],
      ['Cy Moor', '4 Slip Street'],
    );
    expect(few.meanings).toEqual(['fullName', 'street']);
  });

  test('two of them are two addresses, each with its label', () => {
    const { meanings, adr } = addressesOf(
      ['Name', 'Home address', 'Work address'],
      ['Ana Reis', '12 Quay Lane, Falmouth TR11 3AB', 'Hafenstraße 12, 24937 Flensburg, Germany'],
    );
    expect(meanings).toEqual(['fullName', 'street (whole)', 'street (whole)']);
    expect(adr).toEqual([
      ['home', { street: '12 Quay Lane', locality: 'Falmouth', postalCode: 'TR11 3AB' }],
      ['work', { street: 'Hafenstraße 12', locality: 'Flensburg', postalCode: '24937', country: 'DE' }],
    ]);
    const unlabelled = addressesOf(
      ['Name', 'Address 1', 'Address 2'],
      ['Ana Reis', '12 Quay Lane, Falmouth TR11 3AB', '3 Slip Street, Penryn, TR10 8AA'],
    );
    expect(unlabelled.adr?.length).toBe(2);
  });

  test('a number, the letter behind it and the floor are lines of one street', () => {
    const { adr } = addressesOf(
      ['Name', 'Street', 'House no', 'Toevoeging', 'Town'],
      ['Ana Reis', 'Dorpsweg', '12', 'A', 'Sneek'],
    );
    expect(adr).toEqual([['', { street: 'Dorpsweg 12A', locality: 'Sneek' }]]);
  });
});
