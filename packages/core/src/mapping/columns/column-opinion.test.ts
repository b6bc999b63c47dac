import { describe, expect, test } from '@jest/globals';
import { defaultMapping } from './default-mapping';
import { guessColumns, type ColumnGuess } from './guess-columns';

/** Guesses for a table written as its heading and its rows. */
const guessed = (headings: string[], ...rows: string[][]): ColumnGuess[] => guessColumns(headings, rows);
const meanings = (guesses: readonly ColumnGuess[]) => guesses.map(({ field }) => field);

describe('who somebody is', () => {
  test.each([
    ['Adhérent', ['Gérard Marchand', 'Hélène Lefèvre']],
    ['Osoba kontaktowa', ['Jacek Borkowska', 'Zofia Żurek']],
    ['Deelnemer', ['Fenna Mulder', 'Bram ter Horst']],
    ['Registrant', ['DeShawn Washington', 'Mary Ann Hayes']],
    ['会員名', ['佐藤花子', '鈴木健']],
  ])('%s is a whole name', (heading, cells) => {
    const [first] = guessed([heading, 'E-mail'], ...cells.map((cell, i) => [cell, `a${i}@example.org`]));
    expect(first?.field).toBe('fullName');
  });

  test('but not where it says whether, or is one of a few', () => {
    const yes = guessed(['Name', 'Member'], ['Ana Reis', 'yes'], ['Bo Lund', 'no']);
    expect(meanings(yes)).toEqual(['fullName', null]);
    const few = Array.from({ length: 12 }, (_, i) => [`a${i}@example.org`, ['Post', 'Phone'][i % 2] ?? '']);
    expect(meanings(guessed(['E-mail', 'Contact'], ...few))).toEqual(['email', null]);
  });

  test('customers that are firms are organizations', () => {
    const [first] = guessed(
      ['Kunde', 'E-Mail'],
      ['Tern Bootsbau GmbH', 'a@example.org'],
      ['Ana Reis', 'b@example.org'],
    );
    expect(first?.field).toBe('organization');
  });

  test('given names that come again and again stay names', () => {
    const rows = Array.from({ length: 300 }, (_, i) => [`Vor${'abcdefghijklmnop'[i % 16] ?? ''}`, `Nach${i}`]);
    expect(meanings(guessed(['Name', 'Surname'], ...rows))).toEqual(['givenName', 'familyName']);
  });

  test('a column that looks like names is one where no heading says so', () => {
    const rows = [
      ['Ana Reis', 'a@example.org', 'Sail loft'],
      ['Tomás de la Cruz', 't@example.org', 'Rope walk'],
      ['Siân O’Dowd', 's@example.org', 'Sail loft'],
    ];
    const [crew, , berth] = guessed(['Crew list', 'E-mail', 'Berth'], ...rows);
    expect([crew?.field, crew?.certainty01, berth?.field]).toEqual(['fullName', 0.6, null]);
    const named = guessed(['Crew list', 'Name'], ...rows.map(([name = ''], i) => [name, `Bo Lund ${'i'.repeat(i)}`]));
    expect(named[0]?.field).toBeNull();
  });

  test.each([
    ['Nombre', ['María García López', 'José Ruiz', 'Íñigo Peña'], 'fullName'],
    ['Nome', ['Andrea Forlì', 'Chiara Galli', 'Bruno'], 'fullName'],
    ['First name', ['Tom Wray', 'Ana Reis'], 'fullName'],
    ['Nachname', ['Müller, Heike', 'Löwe, Götz'], 'fullName'],
    ['First name', ['Mary Ann', 'José Luis', 'Tom'], 'givenName'],
    ['Surname', ['De la Cruz', 'van der Berg', 'Wray'], 'familyName'],
  ])('%s alone, with %j, is %s', (heading, cells, field) => {
    const rows = cells.map((cell, i) => [cell, `a${i}@example.org`]);
    expect(guessed([heading, 'E-mail'], ...rows)[0]?.field).toBe(field);
  });

  test('and with its other part beside it, it is what its heading says', () => {
    const rows = [['Tom Wray', 'Wray'], ['Ana Reis', 'Reis']]; // prettier-ignore
    expect(meanings(guessed(['First name', 'Last name'], ...rows))).toEqual(['givenName', 'familyName']);
  });

  test('what somebody is called is the given name where there is no other', () => {
    const row = ['Joost', 'Bakker', 'Johannes'];
    expect(meanings(guessed(['Roepnaam', 'Achternaam'], row))).toEqual(['givenName', 'familyName']);
    const both = guessed(['Roepnaam', 'Achternaam', 'Voornaam'], row);
    expect(meanings(both)).toEqual(['nickname', 'familyName', 'givenName']);
  });

  test('somebody in charge who is another in every row is the person', () => {
    const rows = [['김민준', 'a'], ['이서연', 'b'], ['박지훈', 'c'], ['최수진', 'd']]; // prettier-ignore
    expect(guessed(['담당자', '비고'], ...rows)[0]?.field).toBe('fullName');
    const firms = rows.map(([name = ''], i) => [name, `Werft ${i} GmbH`]);
    expect(guessed(['담당자', '회사'], ...firms)[0]?.field).toBe('owner');
    const few = rows.map(([, note = ''], i) => [i % 2 ? '김민준' : '이서연', note]);
    expect(guessed(['담당자', '비고'], ...few)[0]?.field).toBe('owner');
  });

  test('names under a Spanish heading have two family names', () => {
    const names = [['José García López'], ['María Núñez Vega']];
    expect(guessed(['Nombre completo'], ...names)[0]?.nameOrder).toBe('twoFamilies');
    expect(guessed(['Full name'], ...names)[0]?.nameOrder).not.toBe('twoFamilies');
    expect(guessed(['氏名'], ['田中太郎'], ['長谷川 博'])[0]?.nameOrder).toBe('familyFirst');
    expect(guessed(['Apellidos y nombre'], ['García López José'])[0]?.nameOrder).toBe('familyFirst');
  });
});

test('cells and headings of any length are looked at without trying for ever', () => {
  const long = ['a', ' ', '1 ', 'A b ', 'a, ', '1-', 'C/ ', 'il a ', '(', '['].map((piece) => piece.repeat(1e5));
  for (const cell of long)
    expect(guessed([cell.slice(0, 1e4), 'E-mail'], [cell, 'a@example.org'])[1]?.field).toBe('email');
});

describe('whose a value is', () => {
  test('mailboxes and phones of somebody else are nobody’s here', () => {
    const row = ['Ana Reis', 'p@example.org', '+44 1632 960301'];
    expect(meanings(guessed(['Name', 'Parent email', 'Emergency contact no'], row))).toEqual(['fullName', null, null]);
  });

  test('phones below a heading that says nothing are phones by their plus, brackets or groups', () => {
    const phones = guessed(['Name', 'Ring'], ['Ana Reis', '+44 1632 960301'], ['Bo Lund', '(01632) 960302']);
    expect(phones[1]?.field).toBe('tel');
    const numbers = guessed(['Name', 'Ledger'], ['Ana Reis', '4001632960'], ['Bo Lund', '4001632961']);
    expect(numbers[1]?.field).toBeNull();
  });

  test('parts without a label belong to the one address that has one', () => {
    const row = ['1 Quay', 'Truro', 'TR1 1AA', '2 Mill Road'];
    const labels = (...headings: string[]) => guessed(headings, row).map(({ label }) => label);
    expect(labels('Home address', 'Town', 'Postcode')).toEqual(['home', 'home', 'home']);
    expect(labels('Address', 'Town', 'Postcode')).toEqual([null, null, null]);
    expect(labels('Address', 'Town', 'Postcode', 'Work address')).toEqual([null, null, null, 'work']);
  });

  test('titles are known by themselves', () => {
    const rows = [['Sra.', 'Ana', 'Reis'], ['Dr.', 'Bo', 'Lund']]; // prettier-ignore
    for (const heading of ['Título', 'Titre', 'Vorweg'])
      expect(guessed([heading, 'Nombre', 'Apellidos'], ...rows)[0]?.field).toBe('prefix');
    expect(guessed(['Título', 'Nombre', 'Apellidos'], ['Contable', 'Ana', 'Reis'])[0]?.field).toBe('title');
  });

  test('a reference is an outside id where no two have the same', () => {
    expect(guessed(['Ref', 'Name'], ['A1', 'Ana Reis'], ['A2', 'Bo Lund'])[0]?.field).toBe('externalId');
    expect(guessed(['Ref', 'Name'], ['A1', 'Ana Reis'], ['A1', 'Bo Lund'])[0]?.field).toBeNull();
    expect(guessed(['Contact ID', 'Name'], ['A1', 'Ana Reis'], ['A1', 'Ana Reis'])[0]?.field).toBe('externalId');
  });
});

describe('what stands for what', () => {
  test('a stage is a course in a file that is not in English', () => {
    const row = ['Reis', 'Ana', 'Voile'];
    expect(guessed(['Nom', 'Prénom', 'Stage'], row)[2]?.field).toBeNull();
    expect(guessed(['Last name', 'First name', 'Stage'], row)[2]?.field).toBe('stage');
  });

  test('dates that can be read both ways are read as the others of the file, or as where ZIP codes are', () => {
    const order = (headings: string[], ...rows: string[][]) => {
      const guesses = guessed(headings, ...rows);
      return [guesses.at(-1)?.dateOrder, guesses.at(-1)?.unclearDates];
    };
    expect(order(['Joined', 'Birthday'], ['31/12/2020', '07/05/1980'])).toEqual(['dayFirst', 1]);
    expect(order(['Joined', 'Birthday'], ['12/31/2020', '07/05/1980'])).toEqual(['monthFirst', 1]);
    expect(order(['ZIP code', 'Birthday'], ['97201', '07/05/1980'])).toEqual(['monthFirst', 1]);
    expect(order(['Zip/Post', 'Birthday'], ['TR1 1AA', '07/05/1980'])).toEqual(['dayFirst', 1]);
    expect(order(['ZIP code', 'Birthday'], ['24103', '07.05.1980'])).toEqual(['dayFirst', 1]);
    expect(order(['Postcode', 'Birthday'], ['TR1 1AA', '07/05/1980'])).toEqual(['dayFirst', 1]);
  });

  test('what stands for nothing says nothing of a column', () => {
    const born = guessed(
      ['Birthday', 'Paid'],
      ['1980-05-07', '12.50'],
      ['n/a', '?'],
      ['-', 'n/a'],
      ['unknown', 'Total'],
    );
    expect(born.map(({ field, type }) => field ?? type)).toEqual(['bday', 'number']);
  });

  test('without a heading, towns with their codes, names written family name first, and rows that count', () => {
    const rows = [
      ['1000', 'Rossi, Ilaria', 'Via del Porto, 71', '34388 Genova', 'sì'],
      ['1007', 'De Santis, Marco', 'Corso Mazzini, 3', '16121 Genova', 'no'],
      ['1014', 'Ferri, Giulia', 'Piazza Garibaldi, 9', '34100 Trieste', 'sì'],
    ];
    const none = rows[0]?.map(() => null) ?? [];
    expect(meanings(guessColumns(none, rows))).toEqual([null, 'fullName', 'street', 'townLine', null]);
    const turned = [['Rossi', 'Ilaria'], ['Zigante', 'Nives'], ['Ferri', 'Marco'], ['Colja', 'Zora'], ['Devetak', 'Ivo']]; // prettier-ignore
    expect(meanings(guessColumns([null, null], turned))).toEqual(['familyName', 'givenName']);
  });

  test('letters for yes and no that mean it only beside each other', () => {
    const paid = guessed(['Jméno', 'Zaplaceno'], ['Ana', 'A'], ['Bo', 'N'], ['Cy', 'A'])[1];
    expect([paid?.type, paid?.yesNo]).toEqual(['yesNo', ['A', 'N']]);
    expect(defaultMapping(paid ? [paid] : [], 'CZ').columns[0]?.transforms).toEqual([
      { kind: 'values', pairs: [['A', 'yes'], ['N', 'no']] }, // prettier-ignore
    ]);
    const crossed = guessed(['이름', '동의'], ['Ana', 'O'], ['Bo', 'X'])[1];
    expect(crossed?.yesNo).toEqual(['O', 'X']);
    expect(guessed(['Name', 'Class'], ['Ana', 'A'], ['Bo', 'B'], ['Cy', 'N'])[1]?.yesNo).toBeUndefined();
  });

  test('a letter that might be yes is none beside letters that are neither', () => {
    expect(guessed(['Name', 'Size'], ['Ana', 'S'], ['Bo', 'S'], ['Cy', 'S'], ['Di', 'L'])[1]?.type).toBe('choice');
    expect(guessed(['Nombre', 'Pagado'], ['Ana', 'S'], ['Bo', 'S'], ['Cy', 'N'])[1]?.type).toBe('yesNo');
  });

  test('PK is the postal code of Turkey where codes stand below it, and no number of rows', () => {
    const rows = (codes: string[]) => codes.map((code) => ['Ayşe', 'Kaya', code]);
    const of = (...codes: string[]) => guessed(['Ad', 'Soyad', 'PK'], ...rows(codes))[2]?.field;
    expect(of('34710', '06420', '35168')).toBe('postalCode');
    expect(of('10001', '10002', '10003')).toBeNull();
    expect(of('A', 'B', 'C')).toBeNull();
  });

  test('amounts below a heading that speaks of paying are no days', () => {
    const fee = guessed(['Name', 'Fee Paid ($)'], ['Ana', '13134.81'], ['Bo', '33219.18'], ['Cy', '24808.05'])[1];
    expect(fee?.type).toBe('number');
    const gift = guessed(['Name', 'Last gift'], ['Ana', '134.81'], ['Bo', '3219'], ['Cy', '480'])[1];
    expect(gift?.type).toBe('number');
    const day = guessed(['Name', 'Date paid'], ['Ana', '43134'], ['Bo', '43219.5'], ['Cy', '44808'])[1];
    expect([day?.type, day?.dateOrder]).toEqual(['date', 'serial']);
  });

  test('a letter before names is a title where the list shows it', () => {
    const [name] = guessed(['Nom complet'], ['M. Jean Dupont'], ['Mme Anne Roy']);
    expect(name?.letterTitles).toBe('m');
    expect(defaultMapping(name ? [name] : [], 'FR').columns[0]?.letterTitles).toBe('m');
    expect(guessed(['Full name'], ['M. Jane Smith'], ['J. Anne Roy'])[0]?.letterTitles).toBeUndefined();
  });

  test('countries by name and by code are countries, whatever the heading is called', () => {
    const state = guessed(['Jméno', 'Stát'], ['Ana', 'Česká republika'], ['Bo', 'CZ'], ['Cy', 'Slovensko'])[1];
    expect(state?.field).toBe('country');
  });

  test('one cell of many tells what parts mailboxes', () => {
    const rows = Array.from({ length: 500 }, (_, i) => [`a${i}@example.org${i === 7 ? '; b@example.org' : ''}`]);
    expect(guessed(['E-mail'], ...rows)[0]?.separator).toBe(';');
  });

  test('strokes part tags that stand alone in other cells as well', () => {
    const of = (...cells: string[]) => guessed(['Tags'], ...cells.map((cell) => [cell]))[0]?.separator;
    expect(of('crew/donor', 'crew', 'donor', 'tutor/crew', 'tutor')).toBe('/');
    expect(of('Sales/Repairs', 'Press', 'Sales/Repairs')).toBe(';');
  });

  test('amounts with a backslash, as the yen is read, are numbers and no days', () => {
    const fees = guessed(['氏名', '会費'], ['佐藤花子', '\\152.79'], ['鈴木健', '119.90'], ['高橋翔', '75']);
    expect(fees[1]?.type).toBe('number');
  });
});
