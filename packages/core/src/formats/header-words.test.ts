import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { labelWord, readHeader } from './header-words';

const says = (header: string) => {
  const { target, label, kindOf } = readHeader(header);
  return kindOf ? `kind of ${kindOf}` : [target, label].filter(Boolean).join(' ');
};

describe('what a heading says', () => {
  test.each([
    ['Geb.-Datum', 'bday'],
    ['Home #', 'tel home'],
    ['Work No.', 'tel work'],
    ['PK', 'postalCode'],
    ['Tel. dienstl.', 'tel work'],
    ['Privattelefon', 'tel home'],
    ['Geschäftsadresse', 'street work'],
    ['Hausnr.', 'street'],
    ['Né(e) le', 'bday'],
    ['N° client', 'externalId'],
    ['E-mail pro', 'email work'],
    ['Teléfono fijo', 'tel home'],
    ['F. nacimiento', 'bday'],
    ['Telefono casa', 'tel home'],
    ['Tel. kom.', 'tel mobile'],
    ['Miejscowość', 'locality'],
    ['PSČ', 'postalCode'],
    ['Příjmení', 'familyName'],
    ['Irányítószám', 'postalCode'],
    ['Telefon arbete', 'tel work'],
    ['Kotipuhelin', 'tel home'],
    ['Doğum Tarihi', 'bday'],
    ['Ev Telefonu', 'tel home'],
    ['Рабочий телефон', 'tel work'],
    ['ФИО', 'fullName'],
    ['Τ.Κ.', 'postalCode'],
    ['氏名', 'fullName'],
    ['携帯電話', 'tel mobile'],
    ['邮箱', 'email'],
    ['生年月日', 'bday'],
    ['이메일', 'email'],
    ['البريد الإلكتروني', 'email'],
    ['שם משפחה', 'familyName'],
    ['जन्म तिथि', 'bday'],
    ['มือถือ', 'tel'],
    ['รหัสไปรษณีย์', 'postalCode'],
    ['نام خانوادگی', 'familyName'],
    ['ელფოსტა', 'email'],
    ['Ազգանուն', 'familyName'],
    ['Fæðingardagur', 'bday'],
    ['Cyfenw', 'familyName'],
    ['Correu electrònic', 'email'],
    ['Barua pepe', 'email'],
    ['Nom du contact', 'fullName'],
    ['Prénom du contact', 'givenName'],
    ['Numer komórki', 'tel mobile'],
    ['06-nummer', 'tel mobile'],
    ['Κιν.', 'tel mobile'],
    ['自宅電話', 'tel home'],
    ['住宅电话', 'tel home'],
    ['휴대폰번호', 'tel mobile'],
    ['Тел. раб.', 'tel work'],
    ['〒', 'postalCode'],
    ['Aniversário', 'bday'],
    ['Aniversario', 'anniversary'],
    ['Členské číslo', 'externalId'],
    ['N.º de socio', 'externalId'],
    ['Mitgl.-Nr.', 'externalId'],
  ])('in many languages: %s is %s', (header, meaning) => expect(says(header)).toBe(meaning));

  test.each([
    ['Ph (H)', 'tel home'],
    ['MobNo', 'tel mobile'],
    ['Post Cd', 'postalCode'],
    ['Date of brth', 'bday'],
    ['Co. name', 'organization work'],
    ['1st name', 'givenName'],
    ['Zip/Post Code', 'postalCode'],
    ['Comments/notes', 'note'],
    ['Mobile/Cell', 'tel mobile'],
    ['cust_no', 'externalId'],
    ['addr2', 'street'],
    ['Address 1 - City', 'locality'],
    ['Home Country/Region', 'country home'],
    ['E-mail 2 Address', 'email'],
    ['workphone', 'tel work'],
    ['homeAddress', 'street home'],
  ])('however it is written: %s is %s', (header, meaning) => expect(says(header)).toBe(meaning));

  test.each(['ph_1_type', 'Phone 1 - Type', 'Art des Telefons'])('%s says which kind the number beside is', (header) =>
    expect(readHeader(header)).toMatchObject({ target: null, kindOf: header.includes('Art') ? null : 'tel' }),
  );

  test.each([
    ['What is your date of birth?', 'bday'],
    ['Date of birth (dd/mm/yyyy)', 'bday'],
    ['Wie lautet Ihre E-Mail-Adresse?', 'email'],
    ['Wie heißen Sie?', 'fullName'],
    ['Wann sind Sie geboren?', 'bday'],
    ['Quel est votre prénom ?', 'givenName'],
    ['Quelle est votre adresse mail ?', 'email'],
    ['¿Cuál es su correo electrónico?', 'email'],
    ['Qual è il tuo numero di telefono?', 'tel'],
    ['Wat is uw postcode?', 'postalCode'],
    ['Any comments or questions?', 'note'],
    ['Möchten Sie uns noch etwas mitteilen?', 'note'],
    ['Name of applicant', 'fullName'],
    ["Nom de l'adhérent", 'fullName'],
    ['Role at organisation', 'title'],
    ['What is your mobile number?', 'tel mobile'],
    ['İş telefonu', 'tel work'],
    ['Town and postcode', 'townLine'],
    ['City, State ZIP', 'townLine'],
    ['PLZ / Ort', 'townLine'],
    ['C.P. y localidad', 'townLine'],
  ])('asked as on a form: %s is %s', (header, meaning) => expect(says(header)).toBe(meaning));

  test.each([
    'Where do you work?',
    'Have you sailed before?',
    'Would you like us to send you something?',
    'Company size',
    'Email opt in',
    'Birthday card sent',
    'Emergency phone',
    'Next of kin',
    "Partner's name",
    'Date of first call',
    'E-mail or phone',
    'Boat name',
    'Course title',
    'T-shirt size',
  ])('%s is about something else', (header) => expect(readHeader(header).target).toBeNull());

  test('any text is read, and case and marks around it change nothing', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), (header) => {
        const { certainty01 } = readHeader(header);
        expect(certainty01).toBeGreaterThanOrEqual(0);
        expect(certainty01).toBeLessThanOrEqual(1);
      }),
    );
    for (const header of ['E-mail', 'Nachname', 'Post code'])
      for (const written of [header.toUpperCase(), header.toLowerCase(), `${header}:`, ` ${header} *`])
        expect(readHeader(written).target).toBe(readHeader(header).target);
  });

  test('labels are known by word and by letter', () => {
    expect(['Cell', 'privat', 'kotipuhelin', 'W', 'Fax', 'boat'].map(labelWord)).toEqual([
      'mobile',
      'home',
      'home',
      'work',
      'fax',
      null,
    ]);
  });
});
