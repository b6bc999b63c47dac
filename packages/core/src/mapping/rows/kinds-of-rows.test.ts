import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../../fields';
import { KIND } from '../../model';
import { defaultMapping } from '../columns/default-mapping';
import { guessColumns } from '../columns/guess-columns';
import { RowReader } from './read-row';

const context = { country: 'GB', stages: [], settle: (_kind: string, text: string) => text };

/** What rows below a heading are: what each is called, or the issues that hold it. */
function read(headers: string[], ...rows: string[][]): string[] {
  const mapping = defaultMapping(guessColumns(headers, rows), 'GB');
  const reader = new RowReader(mapping, new Catalogue(), context, { columnCount: headers.length, headers });
  return rows.map((cells, i) => {
    const { candidate, issues, held } = reader.read(cells, i + 1);
    const text = (field: string) => String(candidate[field]?.[0]?.v ?? '');
    if (held) return issues.map(({ code }) => code).join(' ');
    const name = ['prefix', 'givenName', 'familyName'].map(text).filter(Boolean).join(' ');
    return candidate[KIND] ? `organization ${text('organization')}` : `${name} ${text('organization')}`.trim();
  });
}

describe('rows of organizations', () => {
  test('are those that name one and nobody', () => {
    expect(
      read(
        ['Company', 'Contact', 'Phone', 'Email'],
        ['Tern Joinery', '', '01632 960101', ''],
        ['Ironfast', 'Ana Reis', '01632 960102', ''],
        ['Quay Sails', '', '', 'office@quaysails.example'],
      ),
    ).toEqual(['organization Tern Joinery', 'Ana Reis Ironfast', 'organization Quay Sails']);
  });

  test('are told by a column that says which kind a row is, and are called by the column of names', () => {
    const headers = ['Type', 'Name', 'Email'];
    expect(
      read(
        headers,
        ['Company', 'Tern Joinery', 'post@tern.example'],
        ['Individual', 'Ana Reis', 'ana@example.org'],
        ['Organisation', 'Regatta Committee', ''],
      ),
    ).toEqual(['organization Tern Joinery', 'Ana Reis', 'organization Regatta Committee']);
    expect(
      read(['Art', 'Name', 'Email'], ['Firma', 'Bootsbau Nord', ''], ['Privat', 'Eva Brandt', 'eva@example.org']),
    ).toEqual(['organization Bootsbau Nord', 'Eva Brandt']);
  });

  test('are told by a legal form among people', () => {
    expect(
      read(
        ['Name', 'Email'],
        ['Ana Reis', 'ana@example.org'],
        ['Tom Okoro', 'tom@example.org'],
        ['Eva Brandt', 'eva@example.org'],
        ['Tern Joinery Ltd', 'post@tern.example'],
      )[3],
    ).toBe('organization Tern Joinery Ltd');
  });
});

describe('what is nobody’s name', () => {
  test.each(['Anonymous', 'Guest', 'n/a', 'Walk-in', 'Anonymous donor', 'Unknown', 'Name withheld'])(
    '%s, in one cell or in two',
    (text) => {
      const rows = [
        ['Ana Reis', '01632 960101'],
        ['Tom Okoro', '01632 960102'],
      ];
      expect(read(['Name', 'Phone'], ...rows, [text, '01632 960103'])[2]).toContain('noIdentity');
      const parts = rows.map(([name = '', phone = '']) => [...name.split(' '), phone]);
      expect(read(['First name', 'Last name', 'Phone'], ...parts, [text, '', '01632 960103'])[2]).toContain(
        'noIdentity',
      );
    },
  );

  test('Guest is a family name all the same', () => {
    expect(read(['First name', 'Last name', 'Email'], ['Judith', 'Guest', 'j@example.org'])).toEqual(['Judith Guest']);
  });
});

describe('several people in one row', () => {
  test.each([
    ['Tim & Jane', 'Holloway'],
    ['Tim/Jane', 'Holloway'],
    ['Tim and Jane', 'Holloway'],
    ['Tim, Jane', 'Holloway'],
    ['Dr Alan and Mrs Beth', 'Carter'],
    ['Alan, Beth and Carol', 'Carter'],
    ['The Misses', 'Penrose'],
    ['Family', 'Penrose'],
    ['Tim', 'Holloway & Okafor'],
    ['', 'Penrose Family'],
    ['Penrose Family', ''],
    ['The Penroses', ''],
  ])('"%s" "%s" is held', (given, family) => {
    const rows = [
      ['Ana', 'Reis', 'ana@example.org'],
      ['Tom', 'Okoro', 'tom@example.org'],
      [given, family, 'home@example.org'],
    ];
    expect(read(['Names', 'Surname', 'Email'], ...rows)[2]).toContain('twoPeople');
  });

  test.each(['The Misses Penrose', 'Penrose Family', 'Dr Alan and Mrs Beth Carter', 'Tim/Jane Holloway'])(
    '%s in one cell is held',
    (name) => {
      expect(read(['Name', 'Email'], ['Ana Reis', 'ana@example.org'], [name, 'home@example.org'])[1]).toContain(
        'twoPeople',
      );
    },
  );

  test('a title of two is held, and one that nobody chose is not', () => {
    const rows = (title: string) => [
      ['Ms', 'Ana', 'Reis', 'ana@example.org'],
      [title, 'Tim', 'Holloway', 'home@example.org'],
    ];
    const headers = ['Title', 'First name', 'Last name', 'Email'];
    expect(read(headers, ...rows('Mr & Mrs'))[1]).toContain('twoPeople');
    expect(read(headers, ...rows('Mr/Ms'))[1]).toContain('Tim Holloway');
  });

  test('one who goes by another name is one', () => {
    expect(read(['First name', 'Last name', 'Email'], ['José/Joe', 'Reis', 'joe@example.org'])).toEqual([
      'José/Joe Reis',
    ]);
  });
});
