import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { countryName, findCountry } from './country';
import { isWholeAddress, parseAddress } from './whole-address';

const shown = (text: string) => {
  const { street = '', locality = '', region = '', postalCode = '', country = '' } = parseAddress(text);
  return [street, locality, region, postalCode, country].join(' | ');
};

describe('a whole address in one text', () => {
  test.each([
    ['12 Quay Lane, Falmouth TR11 3AB', '12 Quay Lane | Falmouth |  | TR11 3AB | '],
    ['12 Quay Lane\nFalmouth\nCornwall\nTR11 3AB', '12 Quay Lane | Falmouth | Cornwall | TR11 3AB | '],
    [
      'Flat 2, 12 Quay Lane, Flushing, Falmouth, Cornwall TR11 3AB',
      'Flat 2, 12 Quay Lane, Flushing | Falmouth | Cornwall | TR11 3AB | ',
    ],
    ['The Old Mill, Quay Lane, Falmouth, TR11 3AB, UK', 'The Old Mill, Quay Lane | Falmouth |  | TR11 3AB | GB'],
    ['1234 Main Street, Mystic, CT 06355-1234', '1234 Main Street | Mystic | CT | 06355-1234 | '],
    ['1234 Main Street, Apt 5, Portland, Oregon 97201', '1234 Main Street, Apt 5 | Portland | Oregon | 97201 | '],
    ['12 Main St, New York, New York 10001', '12 Main St | New York | New York | 10001 | '],
    ['12 King St W, Toronto, ON M5V 2T6, Canada', '12 King St W | Toronto | ON | M5V 2T6 | CA'],
    ['12 Marine Parade, Sydney, NSW, 2000', '12 Marine Parade | Sydney | NSW | 2000 | '],
    ['Hafenstraße 12, D-24937 Flensburg, Deutschland', 'Hafenstraße 12 | Flensburg |  | 24937 | DE'],
    ['Avda. de la Marina, 5, 2º B, 15001 A Coruña', 'Avda. de la Marina, 5, 2º B | A Coruña |  | 15001 | '],
    ['Via Roma 12, 16121 Genova GE', 'Via Roma 12 | Genova | GE | 16121 | '],
    ['Prinsengracht 12-3, 1015 DV Amsterdam', 'Prinsengracht 12-3 | Amsterdam |  | 1015 DV | '],
    ['Mariahilfer Straße 12, 1060 Wien', 'Mariahilfer Straße 12 | Wien |  | 1060 | '],
    ['Dlouhá 73/14, Praha 1, 110 00', 'Dlouhá 73/14 | Praha 1 |  | 110 00 | '],
    ['Liman Cad. No: 73, 34710 Kadıköy, İstanbul', 'Liman Cad. No: 73 | Kadıköy | İstanbul | 34710 | '],
    ['119019, Москва, ул. Арбат, д. 12', 'ул. Арбат, д. 12 | Москва |  | 119019 | '],
    ['1051 Budapest, Fő utca 12.', 'Fő utca 12. | Budapest |  | 1051 | '],
    ['〒220-0012 神奈川県横浜市西区みなとみらい2-3', 'みなとみらい2-3 | 横浜市西区 | 神奈川県 | 220-0012 | '],
    ['서울특별시 강남구 항구로 12', '항구로 12 | 강남구 | 서울특별시 |  | '],
    ['北京市朝阳区建国路12号', '建国路12号 | 朝阳区 | 北京市 |  | '],
    ['12 Quay Lane, Falmouth, Ireland', '12 Quay Lane | Falmouth |  |  | IE'],
  ])('%j', (text, parts) => expect(shown(text)).toBe(parts));

  test.each([
    '12 Quay Lane, Falmouth',
    '12 Quay Lane, Flat 4',
    'Flat 2, Quay House',
    'Harbour View',
    '1234 Main Street, Suite 200',
    'Quay Lane 1234, Georgia',
    '12 Main St, Atlanta, Georgia',
    '24103 Kiel',
    '',
  ])('%j cannot be told and stays the street', (text) => {
    expect(parseAddress(text)).toEqual(text ? { street: text } : {});
    expect(isWholeAddress(text)).toBe(false);
  });

  test('no letter or digit is lost, but for a country that is named', () => {
    const piece = fc.constantFrom(
      ...['12 Quay Lane', 'Falmouth', 'TR11 3AB', '24103 Kiel', 'OR 97201', 'Cornwall', 'Apt 5', 'GE', 'New York', '1'],
      ...['Москва', 'UK', 'Germany', 'ул. Арбат', '110 00', '神奈川県横浜市西区1', '-', 'Praha 1', 'Oregon'],
    );
    const signs = (text: string) => [...text].filter((c) => /[\p{L}\d]/u.test(c)).sort().join(''); // prettier-ignore
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 6 }), fc.constantFrom(', ', '\n', ',', ' '), (pieces, mark) => {
        const text = pieces.join(mark);
        const { country, ...parts } = parseAddress(text);
        const named = country ? pieces.at(-1) : '';
        if (country) expect(findCountry(named ?? '')).toBe(country);
        expect(signs(Object.values(parts).join('') + (named ?? ''))).toBe(signs(text));
      }),
      { numRuns: 4000 },
    );
  });

  test('every country is known at the end by its name', () => {
    for (const code of ['DE', 'CZ', 'HK', 'US', 'NZ'])
      expect(parseAddress(`4 Kai, 24103 Kiel, ${countryName(code)}`).country).toBe(code);
  });

  test('half a megabyte is read at once', () => {
    for (const text of [
      'a, '.repeat(2e5),
      '1 '.repeat(2.5e5),
      `${'Kiel '.repeat(9e4)}, 24103 Kiel`,
      '県市区'.repeat(1e5),
    ])
      expect(Object.keys(parseAddress(text))).toEqual(['street']);
    for (const text of ['a, '.repeat(130), '1 '.repeat(199), '神'.repeat(399), '県市区'.repeat(130), 'A1 '.repeat(130)])
      parseAddress(text);
  });
});
