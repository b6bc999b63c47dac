import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { looksLikeBlocks, tableOfBlocks } from './address-blocks';
import { textKind } from './text-kind';

const LABELS = `Maya Okafor
3 Quay Lane
Tidemouth
TD1 4AB
Tel: 07700 900123

Jonas & Eva Brandt
18 Mill Rd
Oldhaven
TD1 9QQ
jonas@mill.example
+44 1632 960456

Mill Works Ltd
7 Ferry St
1234-567 Oldhaven
www.mill.example
`;

describe('addresses as on labels', () => {
  test('become a table: the name, the address with its lines, each way to reach somebody', () => {
    expect(textKind(LABELS)).toBe('blocks');
    expect(tableOfBlocks(LABELS)).toEqual([
      ['Name', 'Address', 'Tel', 'E-mail', 'Phone', 'Web'],
      ['Maya Okafor', '3 Quay Lane\nTidemouth\nTD1 4AB', '07700 900123', '', '', ''],
      ['Jonas & Eva Brandt', '18 Mill Rd\nOldhaven\nTD1 9QQ', '', 'jonas@mill.example', '+44 1632 960456', ''],
      ['Mill Works Ltd', '7 Ferry St\n1234-567 Oldhaven', '', '', '', 'www.mill.example'],
    ]);
  });

  test('lines end as they may, and a last block that is cut off does not count', () => {
    expect(looksLikeBlocks(LABELS.replaceAll('\n', '\r\n'))).toBe(true);
    expect(looksLikeBlocks(`${LABELS}\n12`)).toBe(true);
  });

  test.each<[string, string]>([
    ['a table with blank lines between its rows', 'Name,Town\n\nMaya Okafor,Tidemouth\n\nJonas Brandt,Oldhaven\n'],
    ['a column of names', 'Maya Okafor\nJonas Brandt\nEva Reis\n'],
    ['a letter', 'Dear Maya,\nthank you for 3 boats.\n\nWe look forward to it.\nYours 4 ever\n\nTom Okoro\nOffice\n'],
    ['labelled lines', 'Name: Maya Okafor\nTown: Tidemouth\n\nName: Jonas Brandt\nTown: Oldhaven\n'],
    ['names that lead nowhere', 'Maya Okafor\nJonas Brandt\n\nEva Reis\nTom Okoro\n'],
  ])('%s is none', (_, text) => expect(textKind(text)).not.toBe('blocks'));

  test('no line is lost', () => {
    const line = fc.constantFrom(
      'Maya Okafor',
      '3 Quay Lane',
      'Tidemouth',
      '07700 900123',
      'm@mill.example',
      'Mobile: 07700 900124',
    );
    const block = fc.array(line, { maxLength: 6 }).map((lines) => ['Maya Okafor', ...lines]);
    fc.assert(
      fc.property(fc.array(block, { minLength: 1, maxLength: 5 }), (blocks) => {
        const [, ...rows] = tableOfBlocks(blocks.map((lines) => lines.join('\n')).join('\n\n'));
        blocks.forEach((lines, i) => {
          const said = (rows[i] ?? []).join('\n').split('\n').filter(Boolean).sort();
          expect(said).toEqual(lines.map((one) => one.replace('Mobile: ', '')).sort());
        });
      }),
    );
  });
});
