import { describe, expect, test } from '@jest/globals';
import { Catalogue, type DateOrder } from '../fields';
import { defaultMapping } from './columns/default-mapping';
import { guessColumns } from './columns/guess-columns';
import { readHeader } from '../formats';
import type { ReadingContext } from './rows/read-cell';
import { readMoment, RowReader } from './rows/read-row';
import { writeRuleOf } from './write-rules';

const context: ReadingContext = { country: 'GB', stages: ['Enquiry', 'Donor'], settle: (_kind, text) => text };

function reader(headers: string[], sample: string[][]): RowReader {
  return new RowReader(defaultMapping(guessColumns(headers, sample), 'GB'), new Catalogue(), context, {
    columnCount: headers.length,
    headers,
  });
}

test('a column has its own rule for its fields, others that of the file', () => {
  const mapping = defaultMapping(
    guessColumns(['Name', 'Town', 'Email'], [['Ana Reis', 'Truro', 'a@example.org']]),
    'GB',
  );
  mapping.columns.forEach((column) => {
    if (column.header !== 'Email') column.rule = 'replace';
  });
  const rule = writeRuleOf(mapping);
  expect(['givenName', 'familyName', 'adr', 'email', 'note'].map(rule)).toEqual([
    'replace',
    'replace',
    'replace',
    'fill',
    'fill',
  ]);
});

describe('guessing columns', () => {
  const meaning = (header: string, ...cells: string[]) =>
    guessColumns(
      [header],
      cells.map((cell) => [cell]),
    )[0]?.field;
  test.each([
    ['E-mail adr.', 'email'],
    ['Vorname', 'givenName'],
    ['Surname', 'familyName'],
    ['Zip/Post', 'postalCode'],
    ['Heard abt us', 'source'],
    ['D.O.B.', 'bday'],
    ['Prénom', 'givenName'],
    ['T-shirt', null],
  ])('the heading %s means %s', (header, target) => expect(readHeader(header).target).toBe(target));
  test.each([
    ['Tel (eve)', 'home'],
    ['Mobile', 'mobile'],
    ['Work phone', 'work'],
  ])('%s is labelled %s', (header, label) => expect(readHeader(header).label).toBe(label));
  test('a name beside a family name is the given name, unless it holds the family name as well', () => {
    const fieldsOf = (headers: string[], rows: string[][]) => guessColumns(headers, rows).map(({ field }) => field);
    const parts = [
      ['Ana', 'Reis'],
      ['Anna Maria', 'Okoro'],
      ['Tom', ''],
    ];
    for (const headers of [
      ['Name', 'Surname'],
      ['Nom', 'Cognoms'],
      ['नाम', 'उपनाम'],
      ['ชื่อ', 'นามสกุล'],
    ])
      expect(fieldsOf(headers, parts)).toEqual(['givenName', 'familyName']);
    expect(
      fieldsOf(
        ['Name', 'Surname'],
        [
          ['Ana Reis', 'Reis'],
          ['OKORO, Tom', 'Okoro'],
        ],
      ),
    ).toEqual(['fullName', 'familyName']);
    expect(
      fieldsOf(
        ['Nom', 'Prénom'],
        [
          ['Reis', 'Ana'],
          ['Okoro', 'Tom'],
        ],
      ),
    ).toEqual(['familyName', 'givenName']);
  });
  test('a column of e-mails is e-mail whatever its name', () => {
    const [guess] = guessColumns(['Whatever'], [['a@example.org'], ['b@example.net'], ['c@example.com']]);
    expect(guess).toMatchObject({ field: 'email' });
  });
  test('a heading is not believed against its cells', () => {
    const [guess] = guessColumns(['Name'], [['17.5'], ['18'], ['19']]);
    expect(guess?.field).toBeNull();
  });
  test('stage and value beside opportunities are the opportunity’s', () => {
    const guesses = guessColumns(
      ['Email', 'Opp ID', 'Stage', 'Value', 'Owner'],
      [['a@example.org', 'O-1', 'Won', '7200', 'Callum']],
    );
    expect(guesses.map((guess) => guess.field)).toEqual([
      'email',
      'opportunityId',
      'opportunityStage',
      'opportunityValue',
      null,
    ]);
  });
  test('a column that says of which kind is the label of the one beside', () => {
    const guesses = guessColumns(
      ['Name', 'Phone 1 - Type', 'Phone 1 - Value', 'Phone 2 - Type', 'Phone 2 - Value', 'Mail', 'Mail type'],
      [
        ['Ana Reis', 'Mobile', '07700 900301', 'Home', '01632 960301', 'ana@example.org', 'Work'],
        ['Bo Lind', 'Work', '01632 960302', '', '', 'bo@example.org', 'Home'],
      ],
    );
    expect(guesses.map(({ field, labelFrom }) => [field, labelFrom])).toEqual([
      ['fullName', undefined],
      [null, undefined],
      ['tel', 1],
      [null, undefined],
      ['tel', 3],
      ['email', 6],
      [null, undefined],
    ]);
  });
  test('a part that comes again begins another address, streets in a row are one', () => {
    const addresses = (headers: string[]) =>
      guessColumns(headers, [headers.map(() => 'Quay')])
        .filter(({ field }) => field)
        .map(({ field, label, nth }) =>
          [label, field, nth].filter((one) => one !== null && one !== undefined).join(' '),
        );
    expect(addresses(['Street', 'Town', 'Street', 'Town'])).toEqual(['street', 'locality', 'street 1', 'locality 1']);
    expect(addresses(['Address line 1', 'Address line 2', 'Town', 'Address line 3'])).toEqual([
      'street',
      'street',
      'locality',
      'street',
    ]);
    expect(addresses(['Home street', 'Home town', 'Work street', 'Work town'])).toEqual([
      'home street',
      'home locality',
      'work street',
      'work locality',
    ]);
  });
  test('one word means a country, a part of one, a postal code or a telephone by what stands below', () => {
    expect(meaning('Kraj', 'Polska', 'Niemcy')).toBe('country');
    expect(meaning('Kraj', 'Jihočeský', 'Vysočina')).toBe('region');
    expect(meaning('CEP', '01001-000', '22010-000')).toBe('postalCode');
    expect(meaning('Cep', '0500 000 00 01', '0500 000 00 02')).toBe('tel');
  });
  test('a word that means something of ours elsewhere is believed only where the cells are like it', () => {
    expect(meaning('Site', 'North yard', 'South yard')).toBeNull();
    expect(meaning('Site', 'ana.example', 'www.bo.example')).toBe('url');
    expect(meaning('Phase', 'one', 'two')).toBeNull();
    expect(meaning('Reference', 'A1', 'A1', 'B2')).toBeNull();
    const [, , phase] = guessColumns(['E-Mail', 'Chance', 'Phase'], [['a@example.org', 'Mast', 'Angebot']]);
    expect(phase?.field).toBe('opportunityStage');
  });
  test('numbers are the days of a spreadsheet only where the heading names a day', () => {
    const type = (header: string) => guessColumns([header], [['44197'], ['44561'], ['45000']])[0]?.type;
    expect(type('Joined')).toBe('date');
    expect(type('Hull number')).toBe('number');
  });
  test('without a heading the town may stand behind the postal code', () => {
    const guesses = guessColumns(
      [null, null, null, null, null],
      [
        ['Anna', 'Meier', 'Hafenstr. 1', '10115', 'Berlin'],
        ['Otto', 'Schulz', 'Weg 2', '20095', 'Hamburg'],
        ['Eva', 'Wolf', 'Platz 3', '80331', 'Ulm'],
      ],
    );
    expect(guesses.map(({ field }) => field)).toEqual(['givenName', 'familyName', 'street', 'postalCode', 'locality']);
  });
  test('without a heading, neighbours tell', () => {
    const guesses = guessColumns(
      [null, null, null, null],
      [
        ['William', 'Pike', 'w@example.org', '01632 960301'],
        ['Thomas', 'Adair', 't@example.org', '01632 960302'],
        ['Susan', 'Lund', 's@example.org', ''],
      ],
    );
    expect(guesses.map((guess) => guess.field)).toEqual(['givenName', 'familyName', 'email', 'tel']);
  });
});

describe('reading rows', () => {
  const headers = ['First name', 'Last name', 'Email', 'Mobile', 'Stage', 'Street', 'Town'];
  const rows = reader(headers, [
    ['Ana', 'Reis', 'ana@example.org', '07700 900301', 'Donor', '14 Slip Lane', 'Falmouth'],
  ]);
  const codes = (cells: string[]) => rows.read(cells, 3).issues.map((issue) => issue.code);
  test('a good row becomes a candidate, its address in one piece', () => {
    const { candidate, held } = rows.read(
      ['Ana', 'Reis', 'Ana@Example.org', '07700 900301', 'donor', '14 Slip Lane', 'Falmouth'],
      1,
    );
    expect(held).toBe(false);
    expect(candidate.adr).toEqual([{ v: { street: '14 Slip Lane', locality: 'Falmouth' } }]);
    expect(candidate.stage).toEqual([{ v: 'Donor' }]);
    expect(candidate.tel).toEqual([{ v: '07700 900301', norm: '+447700900301', label: 'mobile' }]);
  });
  test('a bad cell holds its row and says which cell', () => {
    const { held, issues } = rows.read(['Ana', 'Reis', 'ana(at)example.org', '', '', '', ''], 8);
    expect(held).toBe(true);
    expect(issues[0]).toMatchObject({ code: 'invalidEmail', path: { row: 8, column: 2, name: 'Email' } });
  });
  test('a stage that does not exist holds its row', () =>
    expect(codes(['Ana', 'Reis', '', '', 'Friend', '', ''])).toContain('unknownStage'));
  test('nobody to be told by holds the row', () =>
    expect(codes(['', '', '', '07700 900301', '', '', ''])).toContain('noIdentity'));
  test('too many cells hold the row, too few do not', () => {
    expect(codes(['Ana', 'Reis', 'a@example.org', '', '', '', '', 'extra'])).toContain('tooManyCells');
    const short = rows.read(['Ana', 'Reis', 'a@example.org'], 2);
    expect(short.issues.map((issue) => issue.code)).toEqual(['tooFewCells']);
    expect(short.held).toBe(false);
  });
  test('columns of one street are its lines; a house number goes with it', () => {
    const streets = (names: string[], cells: string[]) =>
      reader(names, [cells])
        .read(cells, 1)
        .candidate.adr?.map(({ v }) => (v as { street?: string }).street);
    const name = ['Ana', 'Reis'];
    expect(streets(['First name', 'Last name', 'Straße', 'Hausnr.'], [...name, 'Am Hafen', '12a'])).toEqual([
      'Am Hafen 12a',
    ]);
    expect(streets(['First name', 'Last name', 'House no', 'Street'], [...name, '14', 'Slip Lane'])).toEqual([
      '14 Slip Lane',
    ]);
    expect(streets(['First name', 'Last name', 'Addr1', 'Addr2'], [...name, '5 Quay St', 'Apt 4'])).toEqual([
      '5 Quay St\nApt 4',
    ]);
  });
  test('two family names side by side are one', () => {
    for (const [one, two] of [
      ['Primer apellido', 'Segundo apellido'],
      ['Apellido 1', 'Apellido 2'],
    ] as const) {
      const spanish = reader(['Nombre', one, two], [['María', 'García', 'Peña']]);
      const family = (cells: string[]) => spanish.read(cells, 1).candidate.familyName?.map(({ v }) => v);
      expect(family(['María', 'García', 'Peña'])).toEqual(['García Peña']);
      expect(family(['Bo', 'Lind', ''])).toEqual(['Lind']);
    }
  });
  test('a whole name beside its parts is only how it was written; alone it is split', () => {
    const both = reader(['Full name', 'First name', 'Last name'], [['Reis Ana', 'Ana', 'Reis']]);
    const names = (cells: string[]) => {
      const { givenName, familyName, fullName } = both.read(cells, 1).candidate;
      return [givenName, familyName, fullName].map((values) => values?.map(({ v }) => v).join());
    };
    expect(names(['Reis Ana', 'Ana', 'Reis'])).toEqual(['Ana', 'Reis', 'Reis Ana']);
    expect(names(['Bo Lind', '', ''])).toEqual(['Bo', 'Lind', 'Bo Lind']);
  });
  test('an address copied with what cannot be seen, or with its full stop, is that address', () => {
    for (const cell of [
      '\u200bana@example.org\u00a0',
      'ana@example.org.',
      '<ana@example.org>',
      'mailto:ana@example.org',
    ])
      expect(rows.read(['Ana', 'Reis', cell, '', '', '', ''], 1).candidate.email).toEqual([{ v: 'ana@example.org' }]);
  });
  test('a label of the row is brought into one writing', () => {
    const typed = reader(['Name', 'Phone', 'Phone type'], [['Ana Reis', '01632 960301', 'W']]);
    const labels = ['W', '* Mobile', 'privat', 'Boat shed', ''].map(
      (label) => typed.read(['Ana Reis', '01632 960301', label], 1).candidate.tel?.[0]?.label,
    );
    expect(labels).toEqual(['work', 'mobile', 'home', 'Boat shed', undefined]);
  });
  test('what a spreadsheet does to keep a number as text is no part of it', () => {
    const { candidate } = rows.read(['Ana', 'Reis', '="ana@example.org"', "'07700 900301", '', '', ''], 1);
    expect(candidate.email).toEqual([{ v: 'ana@example.org' }]);
    expect(candidate.tel?.[0]?.v).toBe('07700 900301');
  });
  test('several phones of a cell are parted by marks and words, and one number stays one', () => {
    const phones = (cell: string) =>
      rows.read(['Ana', 'Reis', '', cell, '', '', ''], 1).candidate.tel?.map(({ v }) => v);
    for (const between of [';', ', ', ' / ', '/', '\n', ' or ', ' and '])
      expect(phones(`01632 960301${between}07700 900301`)).toEqual(['01632 960301', '07700 900301']);
    for (const one of ['030/5550101', '01632 960301, ext 12', '(01632) 960-301']) expect(phones(one)).toEqual([one]);
  });
  test('several mailboxes of a cell are parted by marks or blanks', () => {
    const boxes = (cell: string) =>
      rows.read(['Ana', 'Reis', cell, '', '', '', ''], 1).candidate.email?.map(({ v }) => v);
    for (const between of [';', ', ', ' / ', ' ', '\n', ' or '])
      expect(boxes(`ana@example.org${between}reis@example.net`)).toEqual(['ana@example.org', 'reis@example.net']);
    expect(boxes('Ana Reis <ana@example.org>')).toEqual(['ana@example.org']);
  });
  test('a repeated heading is held', () => expect(codes(headers)).toContain('repeatedHeading'));
  test('a formula is kept as text and said', () => {
    const { candidate, issues } = rows.read(['=SUM(A1)', 'Reis', '', '', '', '', ''], 4);
    expect(candidate.givenName).toEqual([{ v: '=SUM(A1)' }]);
    expect(issues.map((issue) => issue.code)).toContain('formulaLike');
  });
});

test('the name beside a mailbox is that of a row that has no other', () => {
  const headers = ['E-mail', 'Town'];
  const rows = reader(headers, [['ana@example.org', 'Quillhaven']]);
  const read = (cell: string) => {
    const { candidate, issues } = rows.read([cell, 'Quillhaven'], 1);
    return [candidate.givenName?.[0]?.v, candidate.familyName?.[0]?.v, issues.map(({ code }) => code)];
  };
  expect(read('Ana Reis <ana@example.org>')).toEqual(['Ana', 'Reis', []]);
  expect(read('"Reis, Ana" <ana@example.org>')).toEqual(['Ana', 'Reis', []]);
  expect(read('Ana Reis <ana@example.org>, ana@example.net')).toEqual(['Ana', 'Reis', []]);
  expect(read('The Quay Office Ltd <office@example.org>')).toEqual([undefined, undefined, []]);
  expect(read('ana@example.org')).toEqual([undefined, undefined, []]);
  expect(read('Ana Reis <ana@example.org>; Tom Okoro <tom@example.org>')).toEqual([
    undefined,
    undefined,
    ['twoPeople', 'noIdentity'],
  ]);
  const named = reader(['Name', 'E-mail'], [['Ana Reis', 'ana@example.org']]);
  expect(named.read(['Kit', 'Ana Reis <ana@example.org>'], 1).candidate.givenName).toEqual([{ v: 'Kit' }]);
});

test('a birthday is a day that has been, and its short years are of the hundred years before', () => {
  const headers = ['Name', 'Born', 'Renewal'];
  const mapped = defaultMapping(guessColumns(headers, [['Ana Reis', '01/02/1980', '01/02/29']]), 'GB');
  const shape = { columnCount: 3, headers };
  const rows = new RowReader(mapped, new Catalogue([]), { ...context, thisYear: 2026 }, shape);
  const born = (cell: string) => rows.read(['Ana Reis', cell, ''], 1);
  expect(born('01/02/29').candidate.bday).toEqual([{ v: '1929-02-01' }]);
  expect(born('01/02/26').candidate.bday).toEqual([{ v: '2026-02-01' }]);
  expect(born('01/02/2027').issues).toMatchObject([{ code: 'invalidDate', why: 'notYet' }]);
  expect(born('1 Feb').candidate.bday).toEqual([{ v: '--02-01' }]);
});

test('phones are read in the country of their row, and in that of the file where they can be none there', () => {
  const headers = ['Name', 'Phone', 'Country'];
  const rows = reader(headers, [['Ana Reis', '(207) 555-0111', 'US']]);
  const norm = (phone: string, country: string) => rows.read(['Ana Reis', phone, country], 1).candidate.tel?.[0]?.norm;
  expect(norm('(207) 555-0111', 'US')).toBe('+12075550111');
  expect(norm('(207) 555-0111', 'Canada')).toBe('+12075550111');
  expect(norm('01632 960301', 'GB')).toBe('+441632960301');
  expect(norm('07700 900301', 'Canada')).toBe('+447700900301');
  expect(norm('030 5550101', 'Deutschland')).toBe('+49305550101');
  expect(norm('01632 960301', '')).toBe('+441632960301');
});

describe('the moment a cell names', () => {
  test.each<[string, DateOrder, string | null]>([
    ['2026-03-01', 'iso', '2026-03-01T00:00:00.000Z'],
    ['01/03/2026 14:05', 'dayFirst', '2026-03-01T14:05:00.000Z'],
    ['3/1/2026 2:05 PM', 'monthFirst', '2026-03-01T14:05:00.000Z'],
    ['3/1/2026 12:05 am', 'monthFirst', '2026-03-01T00:05:00.000Z'],
    ['2026-03-01T14:05:09+02:00', 'iso', '2026-03-01T12:05:09.000Z'],
    ['2026-03-01 14:05:09Z', 'iso', '2026-03-01T14:05:09.000Z'],
    ['March', 'iso', null],
    ['', 'iso', null],
    ['--03-01', 'iso', null],
  ])('%j read %s is %s', (text, order, iso) => {
    const ms = readMoment(text, order);
    expect(ms === null ? null : new Date(ms).toISOString()).toBe(iso);
  });
});

test('names all in capitals are told, and codes and mixed names are not', () => {
  const rows = ['OKAFOR|MAYA|TD1 4AB', 'BRANDT|JONAS|TD1 9QQ', 'NÍ BHRIAIN|ANA|OH2 2BB'].map((row) => row.split('|'));
  const told = guessColumns(['Surname', 'Forename', 'Postcode'], rows).map(({ inCapitals }) => inCapitals === true);
  expect(told).toEqual([true, true, false]);
  const mixed = guessColumns(['Surname'], [['Okafor'], ['BRANDT'], ['Reis'], ['李']]);
  expect(mixed[0]?.inCapitals).toBeUndefined();
});
