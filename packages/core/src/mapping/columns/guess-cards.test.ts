import { expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { CardTable, readCard } from '../../formats';
import { defaultMapping } from './default-mapping';
import { guessCards } from './guess-cards';
import { RowReader } from '../rows/read-row';

/** What cards say, each with `lines` between its name and its end, as a file of them is read. */
function readCards(...cards: string[][]) {
  const table = new CardTable();
  const read = cards.map((lines) => {
    const card = readCard(['BEGIN:VCARD', 'VERSION:3.0', 'FN:Ana Reis', ...lines, 'END:VCARD'].join('\r\n'));
    if (!card.ok) throw new Error(card.error);
    table.learn(card.value);
    return card.value;
  });
  const rows = read.map((card) => table.row(card, ''));
  const mapping = defaultMapping(guessCards(table.columns, rows, []), 'GB');
  const context = { country: 'GB', stages: [], settle: (_kind: string, plain: string) => plain };
  const headers = table.columns.map(({ header }) => header);
  const reader = new RowReader(mapping, new Catalogue([]), context, { columnCount: headers.length, headers });
  return rows.map((cells, i) =>
    reader.read(cells, i + 1).candidate.adr?.map(({ v, label }) => ({ ...(v as object), label })),
  );
}

const WHOLE = { street: '12 Quay Lane', locality: 'Falmouth', postalCode: 'TR11 3AB', label: 'home' };

test('an address that a card has only as a letter has it is taken apart', () => {
  expect(
    readCards(
      ['LABEL;TYPE=HOME:12 Quay Lane\\nFalmouth\\nTR11 3AB'],
      ['ADR;TYPE=HOME;LABEL="12 Quay Lane\\nFalmouth\\nTR11 3AB":;;;;;;'],
      ['ADR;TYPE=HOME:;;12 Quay Lane\\, Falmouth\\, TR11 3AB;;;;'],
    ),
  ).toEqual([[WHOLE], [WHOLE], [WHOLE]]);
});

test('one that it has in parts as well is that one', () => {
  expect(
    readCards([
      'ADR;TYPE=HOME:;;12 Quay Lane;Falmouth;;TR11 3AB;',
      'LABEL;TYPE=HOME:Ana Reis\\n12 Quay Lane\\nFalmouth\\nTR11 3AB',
    ]),
  ).toEqual([[WHOLE]]);
  expect(
    readCards(['ADR;TYPE=HOME:;;12 Quay Lane;Falmouth;;TR11 3AB;', 'LABEL:12 Quay Lane\\nFalmouth\\nTR11 3AB']),
  ).toEqual([[WHOLE]]);
});

test('one of the same kind that is another stays', () => {
  expect(
    readCards([
      'ADR;TYPE=HOME:;;12 Quay Lane;Falmouth;;TR11 3AB;',
      'LABEL;TYPE=HOME:4 Slip Street\\nPenryn\\nTR10 8AA',
    ]),
  ).toEqual([[WHOLE, { street: '4 Slip Street', locality: 'Penryn', postalCode: 'TR10 8AA', label: 'home' }]]);
});

test('streets beside towns stay as they are', () => {
  expect(readCards(['ADR;TYPE=HOME:;;12 Quay Lane\\, Flat 2;Falmouth;;TR11 3AB;'])).toEqual([
    [{ ...WHOLE, street: '12 Quay Lane, Flat 2' }],
  ]);
});
