import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { textKind } from '../records';
import { readCardText, writeCardText, type CardProperty } from './card-text';
import { cardsOfJson } from './json-cards';

const EXAMPLE = [
  'vcard',
  [
    ['version', {}, 'text', '4.0'],
    ['fn', {}, 'text', 'Ana Reis'],
    ['n', {}, 'text', ['Reis', 'Ana', ['Maria', 'Luz'], '', '']],
    ['bday', {}, 'date', '1985-04-12'],
    ['email', { type: 'work', group: 'item1' }, 'text', 'ana@example.org'],
    ['adr', { type: 'home' }, 'text', ['', '', '1 Quay; Flat 2', 'Truro', '', 'TR1 1AA', '']],
    ['categories', {}, 'text', 'crew', 'donor'],
    ['rev', {}, 'timestamp', '2026-11-25T10:00:00Z'],
  ],
];

const propertiesOf = (text: string) => {
  const card = readCardText(text);
  if (!card.ok) throw new Error(card.error);
  return Object.fromEntries(card.value.properties.map(({ name, values }) => [name, values]));
};

describe('cards written as JSON', () => {
  test('read as those of version 4 are', () => {
    const text = cardsOfJson(JSON.stringify(EXAMPLE)) ?? '';
    expect(propertiesOf(text)).toMatchObject({
      fn: ['Ana Reis'],
      n: [['Reis', 'Ana', 'Maria, Luz', '', '']],
      bday: ['1985-04-12'],
      email: ['ana@example.org'],
      adr: [['', '', '1 Quay; Flat 2', 'Truro', '', 'TR1 1AA', '']],
      categories: ['crew', 'donor'],
    });
  });

  test('several come one after the other', () => {
    const text = cardsOfJson(JSON.stringify([EXAMPLE, EXAMPLE])) ?? '';
    expect(text.match(/^BEGIN:VCARD/gm)).toHaveLength(2);
  });

  test('say by their beginning that they are JSON', () => {
    expect(textKind(JSON.stringify(EXAMPLE))).toBe('json');
    expect(textKind(JSON.stringify([EXAMPLE], null, 2))).toBe('json');
  });

  test.each(['', '[]', '{"vcard":1}', '["vcard"]', '["vcard",[["fn"]]]', '[["vcard",[]],{"a":1}]', '["vcard",[', '7'])(
    'no other text is one: %s',
    (text) => expect(cardsOfJson(text)).toBeNull(),
  );

  test.each([
    ['parameters that are none', ['fn', null, 'text', 'Ana Reis']],
    ['a type that is none', ['fn', {}, 7, 'Ana Reis']],
  ])('what breaks the form is left to be read as other JSON: %s', (_, property) =>
    expect(cardsOfJson(JSON.stringify(['vcard', [property]]))).toBeNull(),
  );

  test('odd values break nothing', () => {
    const odd = [null, 7, true, { a: 1 }, [[null]], [], '', 'x'.repeat(5000)];
    const properties = odd.flatMap((value) =>
      ['fn', 'bday', 'adr', 'x-odd'].map((name) => [name, {}, 'unknown', value]),
    );
    expect(cardsOfJson(JSON.stringify(['vcard', properties]))).toContain('END:VCARD');
  });

  test('any texts come back as they were', () => {
    const word = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 40 })
      .map((text) => text.replace(/[\p{Cc}\p{Cs}\u2028\u2029\ufeff]/gu, ' ').trim())
      .filter(Boolean);
    fc.assert(
      fc.property(word, word, word, (name, note, street) => {
        const properties: CardProperty[] = [
          { name: 'fn', params: {}, type: 'text', values: [name] },
          { name: 'note', params: {}, type: 'text', values: [note] },
          { name: 'adr', params: {}, type: 'text', values: [['', '', street, '', '', '', '']] },
        ];
        const jCard = ['vcard', properties.map((one) => [one.name, one.params, one.type, ...one.values])];
        // What the writer of cards makes of them, which has laws of its own.
        expect(cardsOfJson(JSON.stringify(jCard))).toBe(writeCardText({ version: '4.0', properties }));
      }),
    );
  });
});
