import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { rowsOfAligned, rowsOfRuled } from './aligned-rows';
import { readJsonObjects, tableOfObjects } from './json-records';
import { tableOfLabelled } from './labelled-records';
import { tableOfMailboxes } from './mailbox-list';
import { isOtherXml, textKind } from './text-kind';

const decode = (base64: string) => new TextDecoder().decode(Uint8Array.from(atob(base64), (c) => c.charCodeAt(0)));

describe('what a text is', () => {
  test.each([
    ['json', '[{"name":"Ana"}]'],
    ['json', '\uFEFF{"name":"Ana"}\n{"name":"Tom"}'],
    ['page', '<!DOCTYPE html>\n<html><body><table></table>'],
    ['page', '<?xml version="1.0"?><html xmlns="http://www.w3.org/1999/xhtml">'],
    ['page', '<table border=1><tr><td>Name'],
    ['labelled', 'dn: cn=Ana,dc=example\ncn: Ana Reis\nmail: ana@example.org\n'],
    ['labelled', 'Name: Ana\nE-mail: ana@example.org\n\nName: Tom\nE-mail: tom@example.org\n'],
    ['ruled', '| Name | E-mail |\n|------|:------:|\n| Ana | ana@example.org |\n'],
    ['ruled', ' name | mail\n------+------\n Ana  | a@example.org\n Tom  | t@example.org\n(2 rows)\n'],
    ['aligned', 'Name        Town\nAna Reis    Quillhaven\nTom Okoro   Tern Bay\nKari Pike   Mallowby\n'],
    ['mailboxes', 'Ana Reis <ana@example.org>, Tom Okoro <tom@example.org>'],
    ['mailboxes', 'To: "Reis, Ana" <ana@example.org>;\n tom@example.org;\n'],
    ['mailboxes', 'ana@example.org, tom@example.org, kari@example.org'],
    [null, 'ana@example.org,ana@tarn.example\ntom@example.org,tom@tarn.example\n'],
    [null, 'Ana Reis <ana@example.org>,Quillhaven\nTom Okoro <tom@example.org>,Tern\n'],
    [null, 'Ana Reis <ana@example.org>\n'],
    // What is a delimited table, or nothing of the kind.
    [null, 'Name,Town\nAna,Quillhaven\n'],
    [null, 'Name;Town\nAna  Reis;Quillhaven\nTom  Okoro;Tern\n'],
    [null, 'Name|Town\nAna|Quillhaven\nTom|Tern\n'],
    [null, 'ana@example.org\ntom@example.org\n'],
    [null, 'Name: Ana\n'],
    [null, 'Remark: the first\nAna,ana@example.org\nTom,tom@example.org\n'],
    [null, '<Ana Reis>,ana@example.org\n'],
    [null, '{not json},a\n'],
    [null, ''],
  ] as const)('%s: %j', (kind, text) => expect(textKind(text)).toBe(kind));

  test('other XML is told apart from a page', () => {
    expect(isOtherXml('<?xml version="1.0"?>\n<contacts>')).toBe(true);
    expect(isOtherXml('<?xml version="1.0"?>\n<html>')).toBe(false);
    expect(isOtherXml('Name,Town\n')).toBe(false);
  });
});

describe('JSON', () => {
  const table = (text: string) => {
    const objects = readJsonObjects(text);
    return objects.ok ? tableOfObjects(objects.value) : objects.error;
  };

  test('a list, a list within a document, one record a line and one record alone are all read', () => {
    const wanted = [['name'], ['Ana']];
    for (const text of ['[{"name":"Ana"}]', '{"meta":{"n":1},"data":{"people":[{"name":"Ana"}]}}', '{"name":"Ana"}'])
      expect(table(text)).toEqual(wanted);
    expect(table('{"name":"Ana"}\n\n{"name":"Tom"}\r\n')).toEqual([['name'], ['Ana'], ['Tom']]);
  });

  test('parts have headings of their own, several are numbered, and their kinds stand beside them', () => {
    expect(
      table(
        JSON.stringify([
          {
            name: { given: 'Ana', family: 'Reis' },
            emails: [
              { type: 'home', value: 'ana@example.org' },
              { type: 'work', value: 'ana@tarn.example' },
            ],
            address: { street: '1 Quay', city: 'Tern' },
            tags: ['crew', 'donor'],
            newsletter: true,
            berths: 2,
            left: null,
          },
          { phone: '01632 960301' },
        ]),
      ),
    ).toEqual([
      [
        'name given',
        'name family',
        'emails type',
        'emails',
        'emails 2 type',
        'emails 2',
        'address street',
        'address city',
        'tags',
        'newsletter',
        'berths',
        'phone',
      ],
      [
        'Ana',
        'Reis',
        'home',
        'ana@example.org',
        'work',
        'ana@tarn.example',
        '1 Quay',
        'Tern',
        'crew; donor',
        'yes',
        '2',
        '',
      ],
      ['', '', '', '', '', '', '', '', '', '', '', '01632 960301'],
    ]);
  });

  test.each([
    ['[1, 2]', /no list of records/],
    ['[{"name":"Ana"}', /JSON|position|end/i],
    ['{"name":"Ana"}\n{"name":\n', /^line 2: /],
    ['{"name":"Ana"}\n[1]\n', /^line 2: this is no record/],
  ])('%j is refused with what is wrong', (text, why) => expect(table(text)).toMatch(why));

  const flat = fc.dictionary(fc.stringMatching(/^[a-z]{1,8}$/), fc.string({ minLength: 1 }), { minKeys: 1 });
  test('flat records come back as they are, as a list and as lines', () =>
    fc.assert(
      fc.property(fc.array(flat, { minLength: 1, maxLength: 5 }), (records) => {
        for (const text of [JSON.stringify(records), records.map((one) => JSON.stringify(one)).join('\n')]) {
          const [headings = [], ...rows] = table(text) as string[][];
          expect(rows).toHaveLength(records.length);
          records.forEach((record, i) => {
            // "value" and the like stand for the record itself only within a part.
            const back = Object.fromEntries(
              headings.flatMap((key, at) => (rows[i]?.[at] ? [[key, rows[i]?.[at]]] : [])),
            );
            expect(back).toEqual({ ...record });
          });
        }
      }),
    ));
});

describe('records of labelled lines', () => {
  test('entries of a directory: base64, lines that go on, remarks, several values, language tags', () => {
    const text = [
      'version: 1',
      '# people of the office',
      'dn: cn=Änne,dc=example,dc=org',
      'objectClass: inetOrgPerson',
      `cn:: ${btoa(String.fromCharCode(...new TextEncoder().encode('Änne Öhm')))}`,
      'sn;lang-de: Öhm',
      'givenName: Änne',
      'mail: aenne@example.org',
      'mail: oehm@tarn.example',
      'description: keeps the',
      '  keys',
      'postalAddress: 1 Quay$Tern Bay',
      'jpegPhoto:< file:///tmp/a.jpg',
      '',
      'dn: cn=Tom',
      'cn: Tom Okoro',
      'l: Mallowby',
    ].join('\r\n');
    expect(tableOfLabelled(text, decode)).toEqual([
      ['Full name', 'Family name', 'Given name', 'E-mail', 'E-mail 2', 'Description', 'Postal address', 'Town'],
      ['Änne Öhm', 'Öhm', 'Änne', 'aenne@example.org', 'oehm@tarn.example', 'keeps the keys', '1 Quay\nTern Bay', ''],
      ['Tom Okoro', '', '', '', '', '', '', 'Mallowby'],
    ]);
  });

  test('what a form wrote keeps its own labels', () => {
    expect(tableOfLabelled('Name: Ana\nBoat (length): 12 ft: oak\n\nName: Tom\n', decode)).toEqual([
      ['Name', 'Boat (length)'],
      ['Ana', '12 ft: oak'],
      ['Tom', ''],
    ]);
  });
});

test('mailboxes of a mail program are people with names and addresses', () =>
  expect(
    tableOfMailboxes(
      'Cc: Ana Reis <ana@example.org>, "Okoro, Tom" <TOM@example.org>,\r\n kari@example.org; nobody\r\n',
    ),
  ).toEqual([
    ['Name', 'E-mail'],
    ['Ana Reis', 'ana@example.org'],
    ['Okoro, Tom', 'TOM@example.org'],
    ['', 'kari@example.org'],
    ['', 'nobody'],
  ]));

describe('tables that are drawn', () => {
  test('bars and frames', () => {
    const wanted = [
      ['Name', 'Town'],
      ['Ana', ''],
      ['Tom', 'Tern'],
    ];
    for (const text of [
      '| Name | Town |\n|:--|--:|\n| Ana | |\n| Tom | Tern |\n',
      ' Name | Town\n------+------\n Ana  |\n Tom  | Tern\n(2 rows)\n',
      '+------+------+\n| Name | Town |\n+------+------+\n| Ana  |      |\n| Tom  | Tern |\n+------+------+\n',
    ])
      expect(rowsOfRuled(text)).toEqual(wanted);
  });

  const cell = fc.stringMatching(/^[A-Za-z0-9@.]{1,9}( [A-Za-z0-9]{1,5})?$/);
  test('columns below each other are read back, whatever stands in them', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell, cell), { minLength: 2, maxLength: 8 }), (rows) => {
        const widths = [0, 1, 2].map((i) => Math.max(...rows.map((row) => row[i]?.length ?? 0)));
        const text = rows.map((row) => row.map((one, i) => one.padEnd(widths[i] ?? 0)).join('  ')).join('\n');
        expect(rowsOfAligned(text)).toEqual(rows);
      }),
    ));
  test('blank cells stay blank', () =>
    expect(rowsOfAligned('Name       Town      Phone\nAna                  01632\nTom        Tern\n')).toEqual([
      ['Name', 'Town', 'Phone'],
      ['Ana', '', '01632'],
      ['Tom', 'Tern', ''],
    ]));
});

test('no text makes any of them fail', () =>
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom(...'{}[]":,|-+ \n\ta1<>:='), maxLength: 60 }), (text) => {
      textKind(text);
      for (const rows of [rowsOfAligned(text), rowsOfRuled(text), tableOfLabelled(text, (base64) => base64)])
        expect(Array.isArray(rows)).toBe(true);
      const objects = readJsonObjects(text);
      if (objects.ok) expect(tableOfObjects(objects.value).length).toBe(objects.value.length + 1);
    }),
    { numRuns: 500 },
  ));
