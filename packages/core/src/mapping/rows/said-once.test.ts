import { expect, test } from '@jest/globals';
import { Catalogue, type FieldDefinition } from '../../fields';
import { BY_HAND } from './convert-value';
import { SaidOnce } from './said-once';
import type { Mapping } from '../mapping';

const AMOUNT: FieldDefinition = { key: 'custom.1', name: 'Amount', type: 'number', group: 'custom', several: false };
const targets = ['fullName', 'email', 'organization', 'custom.1', 'note'];
const mapping = {
  columns: targets.map((target, column) => ({ ...BY_HAND, column, header: target, target, label: null })),
} as unknown as Mapping;

function further(...rows: string[][]) {
  const said = new SaidOnce(mapping, new Catalogue([AMOUNT]));
  said.first(1, rows[0] ?? []);
  return rows.slice(1).map((cells, i) => said.further(1, i + 2, cells).map(({ code, path }) => `${code} ${path.name}`));
}

test('an amount or a remark that a further row says otherwise holds it; anything else is left out and said', () => {
  expect(
    further(
      ['Ana Reis', 'ana@example.org', 'Tern Joinery', '50', 'paid'],
      ['A. Reis', 'ana@example.net', 'Tern Joinery', '50', 'Paid'],
      ['Ana Reis', 'ana@example.org', '', '60', ''],
      ['Ana Reis', 'ana@example.org', 'Ironfast', '', ''],
      ['Ana Reis', 'ana@example.org', 'Ironfast', '', 'owes'],
    ),
  ).toEqual([[], ['repeatSaysMore custom.1'], ['leftInFolding organization'], ['repeatSaysMore note']]);
});

test('what the first row left blank is kept of the next that is not held', () => {
  expect(
    further(
      ['Ana Reis', 'ana@example.org', '', '', ''],
      ['Ana Reis', 'ana@example.org', '', '50', ''],
      ['Ana Reis', 'ana@example.org', '', '60', ''],
      ['Ana Reis', 'ana@example.org', '', '50', ''],
    ),
  ).toEqual([[], ['repeatSaysMore custom.1'], []]);
});
