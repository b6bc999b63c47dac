import { describe, expect, test } from '@jest/globals';
import { fileCountry } from './file-country';
import { guessColumns } from './guess-columns';

const of = (headings: string[], phones: string[], home = 'GB') =>
  fileCountry(
    guessColumns(
      headings,
      phones.map((phone, i) => [`Ana Reis ${'i'.repeat(i)}`, phone]),
    ),
    home,
  );

describe('the country of phones without a code', () => {
  test.each([
    [['Nombre completo', 'Móvil'], ['600 111 222', '611 222 333'], 'ES'],
    [['Prénom', 'Portable'], ['06 12 34 56 78'], 'FR'],
    [['Imię', 'Komórka'], ['601 234 567', '512 345 678'], 'PL'],
    [['Nome', 'Cellulare'], ['347 1234567', '3281234567'], 'IT'],
    [['氏名', '携帯電話'], ['090-1234-5678'], 'JP'],
    [['이름', '휴대폰'], ['010-1234-5678'], 'KR'],
    [['姓名', '手机'], ['138 1234 5678'], 'CN'],
    [['Имя', 'Телефон'], ['8 912 345-67-89', '9123456789'], 'RU'],
    [['Name', 'Phone', 'State', 'ZIP code'], ['2065550123'], 'US'],
    [['Name', 'Phone'], ['(206) 555-0123', '415.555.0124', '1-206-555-0125'], 'US'],
  ])('%j with %j is of %s', (headings, phones, country) => expect(of(headings, phones)).toBe(country));

  test('is the own one where numbers fit there, headings tell nothing, or every number has its code', () => {
    expect(of(['Name', 'Phone'], ['07700 900123'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['07700 900123', '07700 900124', '600 111 222'])).toBe('GB');
    expect(of(['Vorname', 'Telefon', 'PLZ'], ['01 5350 1234'], 'AT')).toBe('AT');
    expect(of(['Name', 'Phone'], ['600 111 222'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['+34 600 111 222', '0034 611 222 333'])).toBe('GB');
    expect(of(['Name', 'Phone'], ['+34 600 111 222', '0034 611 222 333', '600 111 224'])).toBe('ES');
    expect(of(['Nombre completo', 'Móvil'], ['+44 7700 900123', '600 111 222'])).toBe('GB');
    expect(of(['Name', 'Phone'], ['+34 600 111 222', '+33 6 12 34 56 78', '600 111 224'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['600 111 222'], 'ES')).toBe('ES');
    expect(fileCountry(guessColumns(['Nombre', 'Correo'], [['Ana', 'a@example.org']]), 'GB')).toBe('GB');
  });
});
