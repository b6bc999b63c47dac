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

  test.each([
    [['田中太郎', '長谷川博'], ['090-1234-5678', '03-1234-5678'], 'JP'],
    [['王芳', '李小龙'], ['138 1234 5678', '13912345678'], 'CN'],
    [['陳大文', '林美華'], ['0912-345-678', '0987654321'], 'TW'],
    [['김민준', '이서연'], ['010-1234-5678', '010 2345 6789'], 'KR'],
    [['Ελένη Παππά', 'Νίκος Ιωάννου'], ['6912345678', '694 123 4567'], 'GR'],
    [['Оксана Шевченко', 'Андрій Коваленко'], ['067 123 45 67', '0501234567'], 'UA'],
    [['Анна Петрова', 'Иван Смирнов'], ['8 912 345-67-89', '9123456789'], 'RU'],
    // One of several, and numbers of the own country.
    [['Ana Reis', 'Tom Wray', 'Ελένη Παππά'], ['6912345678', '6912345679', '6912345670'], 'GB'],
    [['田中太郎', '長谷川博'], ['07400 123456', '07400 123457'], 'GB'],
  ])('names tell it where headings do not: %j with %j is of %s', (names, phones, country) => {
    const rows = names.map((name, i) => [name, phones[i] ?? '']);
    expect(fileCountry(guessColumns(['Name', 'Phone'], rows), 'GB')).toBe(country);
    expect(fileCountry(guessColumns([null, null], rows), 'GB')).toBe(country);
  });

  test('is the own one where numbers fit there, headings tell nothing, or every number has its code', () => {
    expect(of(['Name', 'Phone'], ['07700 900123'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['07700 900123', '07700 900124', '600 111 222'])).toBe('GB');
    expect(of(['Vorname', 'Telefon', 'PLZ'], ['01 5350 1234'], 'AT')).toBe('AT');
    expect(of(['Voornaam', 'Telefoon', 'Woonplaats'], ['0681103929', '020 680 2443'], 'BE')).toBe('NL');
    expect(of(['Voornaam', 'Telefoon', 'Woonplaats'], ['0470 12 34 56', '020 680 2443'], 'BE')).toBe('BE');
    expect(of(['Name', 'Phone'], ['600 111 222'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['+34 600 111 222', '0034 611 222 333'])).toBe('GB');
    expect(of(['Name', 'Phone'], ['+34 600 111 222', '0034 611 222 333', '600 111 224'])).toBe('ES');
    expect(of(['Nombre completo', 'Móvil'], ['+44 7700 900123', '600 111 222'])).toBe('GB');
    expect(of(['Name', 'Phone'], ['+34 600 111 222', '+33 6 12 34 56 78', '600 111 224'])).toBe('GB');
    expect(of(['Nombre completo', 'Móvil'], ['600 111 222'], 'ES')).toBe('ES');
    expect(fileCountry(guessColumns(['Nombre', 'Correo'], [['Ana', 'a@example.org']]), 'GB')).toBe('GB');
  });
});
