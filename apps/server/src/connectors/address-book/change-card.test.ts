import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { CARD_FIELDS, readCard } from '@gray-loom/core/formats';
import type { OutsideFields, OutsideValue } from '@gray-loom/core/syncing';
import { readContent } from './card-fields';
import { changedCard, newCard } from './change-card';

function read(text: string) {
  const found = readContent(text);
  if (!found.ok) throw new Error(found.error);
  return found;
}

const card = (...lines: string[]) => ['BEGIN:VCARD', 'VERSION:3.0', ...lines, 'END:VCARD', ''].join('\r\n');
const change = (text: string, fields: OutsideFields, labels: string[] | null = null) =>
  changedCard(read(text).card, fields, labels);
/** The lines that differ: those that were, those that are. */
function differing(before: string, after: string): [string[], string[]] {
  const [a, b] = [before.split('\r\n'), after.split('\r\n')];
  return [a.filter((line) => !b.includes(line)), b.filter((line) => !a.includes(line))];
}

describe('a card that is changed', () => {
  const ANA = card(
    'N:Reis;Ana,Maria;;Dr.;',
    'FN:Dr. Ana Reis (Bosun)',
    'NICKNAME:Annie,Nan',
    'ORG:Tern Joinery;Yard;Spars',
    'ORG:Second Works',
    'TITLE:Rigger',
    'TITLE:Second title',
    'EMAIL;type=INTERNET;type=HOME:ana@example.org',
    'item1.EMAIL:ana@boats.example',
    'item1.X-ABLabel:Boat yard',
    'TEL;VALUE=uri;TYPE="voice,cell":tel:+44-7700-900111',
    'ADR;TYPE=home:PO Box 7;Flat 2;4 Quay Street;Quillhaven;;QH1 2AB;England',
    'BDAY;VALUE=text:about 1960',
    'NOTE:First note',
    'NOTE:Second note',
    'CATEGORIES:crew,Open day',
    'CATEGORIES:donor',
    'REV:2021-03-04T05:06:07Z',
    'KEY;TYPE=PGP;ENCODING=b:AAAABBBB',
    'X-Odd-Thing;Param="a;b":one\\;two\\,three;four',
    'PHOTO;ENCODING=b;TYPE=JPEG:/9j/4AAQSkZJRgABAQAAAQABAAD/2wBDAAgGBgcGBQgHBwcJCQgKDB',
    ' QNDAsLDBkSEw8UHRofHh0aHBwgJC4nICIsIxwcKDcpLDAxNDQ0Hyc5PTgyPC4zNDL/2wBDAQkJCQw',
    'UID:ana-1',
  );

  test('says what it says', () => {
    expect(read(ANA).content).toEqual({
      fields: {
        family: [{ v: 'Reis' }],
        given: [{ v: 'Ana, Maria' }],
        prefix: [{ v: 'Dr.' }],
        nickname: [{ v: 'Annie, Nan' }],
        org: [{ v: 'Tern Joinery' }],
        department: [{ v: 'Yard, Spars' }],
        title: [{ v: 'Rigger' }],
        email: [
          { v: 'ana@example.org', label: 'home' },
          { v: 'ana@boats.example', label: 'Boat yard' },
        ],
        tel: [{ v: '+44 7700 900111', label: 'mobile' }],
        adr: [
          {
            v: {
              street: 'Flat 2\n4 Quay Street\nPO Box 7',
              locality: 'Quillhaven',
              postalCode: 'QH1 2AB',
              country: 'England',
            },
            label: 'home',
          },
        ],
        bday: [{ v: 'about 1960' }],
        note: [{ v: 'First note' }],
        'x-odd-thing': [{ v: 'one;two,three;four' }],
      },
      labels: ['crew', 'Open day', 'donor'],
    });
  });

  test('by nothing stays as it is, byte for byte', () => {
    const { fields, labels } = read(ANA).content;
    expect(change(ANA, {}, null)).toBe(ANA);
    expect(change(ANA, fields, labels)).toBe(ANA);
  });

  test.each<[string, OutsideFields, string[] | null, string[], string[]]>([
    [
      'a family name',
      { family: [{ v: 'Lund' }] },
      null,
      ['N:Reis;Ana,Maria;;Dr.;', 'FN:Dr. Ana Reis (Bosun)'],
      ['N:Lund;Ana,Maria;;Dr.;', 'FN:Dr. Ana Lund (Bosun)'],
    ],
    [
      'an organization, whose units stay',
      { org: [{ v: 'Gannet; Sons' }] },
      null,
      ['ORG:Tern Joinery;Yard;Spars'],
      ['ORG:Gannet\\; Sons;Yard;Spars'],
    ],
    [
      'a department, whose organization stays as it is written',
      { department: [{ v: 'Sail loft' }] },
      null,
      ['ORG:Tern Joinery;Yard;Spars'],
      ['ORG:Tern Joinery;Sail loft'],
    ],
    [
      'no organization, with a department still',
      { org: [], department: [{ v: 'Loft' }] },
      null,
      ['ORG:Tern Joinery;Yard;Spars'],
      ['ORG:;Loft'],
    ],
    ['a language', { language: [{ v: 'sv' }] }, null, [], ['X-LANG:sv']],
    ['a gender, by its letter', { gender: [{ v: 'female' }] }, null, [], ['X-GENDER:F']],
    ['a gender, by a word', { gender: [{ v: 'shipwright; all' }] }, null, [], ['X-GENDER:;shipwright\\; all']],
    [
      'one nickname of a list',
      { nickname: [{ v: 'Annie, Nana' }] },
      null,
      ['NICKNAME:Annie,Nan'],
      ['NICKNAME:Annie,Nana'],
    ],
    ['a title, beside a second one', { title: [{ v: 'Sailmaker' }] }, null, ['TITLE:Rigger'], ['TITLE:Sailmaker']],
    ['a note, beside a second one', { note: [{ v: 'New\nlines' }] }, null, ['NOTE:First note'], ['NOTE:New\\nlines']],
    [
      'a birthday that was a text',
      { bday: [{ v: '1961-02-03' }] },
      null,
      ['BDAY;VALUE=text:about 1960'],
      ['BDAY:1961-02-03'],
    ],
    [
      'a number that is an address',
      { tel: [{ v: '+44 1632 960123', label: 'mobile' }] },
      null,
      ['TEL;VALUE=uri;TYPE="voice,cell":tel:+44-7700-900111'],
      ['TEL;VALUE=uri;TYPE="voice,cell":tel:+44-1632-960123'],
    ],
    [
      'a town, below box and flat',
      {
        adr: [
          {
            v: {
              street: 'Flat 2\n4 Quay Street\nPO Box 7',
              locality: 'Marlow',
              postalCode: 'QH1 2AB',
              country: 'England',
            },
            label: 'home',
          },
        ],
      },
      null,
      ['ADR;TYPE=home:PO Box 7;Flat 2;4 Quay Street;Quillhaven;;QH1 2AB;England'],
      ['ADR;TYPE=home:PO Box 7;Flat 2;4 Quay Street;Marlow;;QH1 2AB;England'],
    ],
    [
      'a street between box and flat',
      {
        adr: [
          {
            v: {
              street: 'Flat 2\n9 Mill Lane\nPO Box 7',
              locality: 'Quillhaven',
              postalCode: 'QH1 2AB',
              country: 'England',
            },
            label: 'home',
          },
        ],
      },
      null,
      ['ADR;TYPE=home:PO Box 7;Flat 2;4 Quay Street;Quillhaven;;QH1 2AB;England'],
      ['ADR;TYPE=home:PO Box 7;Flat 2;9 Mill Lane;Quillhaven;;QH1 2AB;England'],
    ],
    [
      'an e-mail of two',
      {
        email: [
          { v: 'ana@new.example', label: 'home' },
          { v: 'ana@boats.example', label: 'Boat yard' },
        ],
      },
      null,
      ['EMAIL;type=INTERNET;type=HOME:ana@example.org'],
      ['EMAIL;type=INTERNET;type=HOME:ana@new.example'],
    ],
    [
      'an e-mail more',
      {
        email: [
          { v: 'ana@example.org', label: 'home' },
          { v: 'ana@boats.example', label: 'Boat yard' },
          { v: 'third@example.org', label: 'work' },
        ],
      },
      null,
      [],
      ['EMAIL;TYPE=work:third@example.org'],
    ],
    [
      'an e-mail less, with the label of its group',
      { email: [{ v: 'ana@example.org', label: 'home' }] },
      null,
      ['item1.EMAIL:ana@boats.example', 'item1.X-ABLabel:Boat yard'],
      [],
    ],
    [
      'the label of a group',
      {
        email: [
          { v: 'ana@example.org', label: 'home' },
          { v: 'ana@boats.example', label: 'work' },
        ],
      },
      null,
      ['item1.EMAIL:ana@boats.example', 'item1.X-ABLabel:Boat yard'],
      ['item1.EMAIL;TYPE=work:ana@boats.example'],
    ],
    ['labels', {}, ['crew', 'donor', 'Friend, old'], ['CATEGORIES:crew,Open day'], ['CATEGORIES:crew,Friend\\, old']],
  ])('in %s has that line alone written anew', (_what, fields, labels, were, are) => {
    const after = change(ANA, fields, labels);
    expect(differing(ANA, after)).toEqual([were, are]);
    const { content } = read(after);
    const said = Object.entries({ ...read(ANA).content.fields, ...fields }).filter(([, values]) => values.length);
    expect(content.fields).toEqual(Object.fromEntries(said));
  });
});

const word = fc.stringMatching(/^[A-Za-zÀ-ž][A-Za-zÀ-ž ,;:\\'"-]{0,14}[A-Za-zÀ-ž]$/);
const fold = (line: string) => line.replace(/(.{60})(?=.)/gu, '$1\r\n ');
const escaped = (text: string) => text.replace(/[\\,;]/g, (mark) => `\\${mark}`);
/** Lines of properties that we have no field for, or that we own only the first of. */
const strange = fc.oneof(
  fc
    .tuple(
      fc.constantFrom(
        'X-ODD',
        'x-Mixed-Case',
        'GEO',
        'SOURCE',
        'KEY',
        'ROLE',
        'MAILER',
        'item7.X-FREE',
        'TZ',
        'LANG',
        'CALURI',
      ),
      fc.constantFrom('', ';TYPE=work', ';x-par="a;b:c"', ';VALUE=uri', ';Type=Home,Pref'),
      word,
    )
    .map(([name, params, text]) => fold(`${name}${params}:${escaped(text)}`)),
  fc.constantFrom(
    'REV:20210304T050607Z',
    'REV:2021-03-04T05:06:07.123Z',
    'GEO:geo:37.386013,-122.082932',
    'PRODID:-//Some//Program 1.2//EN',
    'X-STRUCT:a;b;c\\;d;e,f',
    'GENDER:F;it\\,s',
    'CLIENTPIDMAP:1;urn:uuid:53e374d9',
    'SOUND;VALUE=uri:http://quillhaven.example/a;b',
  ),
  fc
    .string({ minLength: 90, maxLength: 300, unit: fc.constantFrom(...'ABCDEFabcdef0123456789+/') })
    .map((data) => fold(`PHOTO;ENCODING=b;TYPE=JPEG:${data}`)),
);
/** Lines of what we own. */
const owned = fc.oneof(
  fc.tuple(word, word).map(([given, family]) => fold(`N:${escaped(family)};${escaped(given)};;;`)),
  fc
    .tuple(fc.constantFrom('EMAIL', 'email;type=INTERNET', 'EMAIL;TYPE=work;PREF=1', 'item2.EMAIL'), fc.nat(99))
    .map(([name, n]) => `${name}:p${n}@example.org`),
  fc
    .tuple(fc.constantFrom('TEL', 'TEL;TYPE=CELL', 'tel;Type=home;type=VOICE'), fc.nat(99))
    .map(([name, n]) => `${name}:+44 1632 9600${String(n).padStart(2, '0')}`),
  fc.tuple(word, word).map(([org, unit]) => `ORG:${escaped(org)};${escaped(unit)}`),
  fc
    .tuple(fc.constantFrom('NOTE', 'TITLE', 'NICKNAME', 'NOTE;LANGUAGE=en'), word)
    .map(([name, text]) => fold(`${name}:${escaped(text)}`)),
  fc.tuple(word, word).map(([street, town]) => fold(`ADR;TYPE=home:;;${escaped(street)};${escaped(town)};;;`)),
  fc
    .array(fc.constantFrom('crew', 'donor', 'Open day'), { minLength: 1, maxLength: 3 })
    .map((all) => `CATEGORIES:${all.join(',')}`),
);
const anyCard = fc
  .tuple(
    fc.constantFrom('3.0', '4.0'),
    fc.array(fc.oneof({ weight: 2, arbitrary: strange }, { weight: 3, arbitrary: owned }), { maxLength: 14 }),
    fc.constantFrom('\r\n', '\n'),
  )
  .map(([version, lines, end]) =>
    ['BEGIN:VCARD', `VERSION:${version}`, 'FN:Somebody Whole', ...lines, 'UID:u-1', 'END:VCARD', '']
      .join('\r\n')
      .replaceAll('\r\n', end),
  );
const text = word.map((v): OutsideValue[] => [{ v }]);
const anyChange = fc.record(
  {
    given: text,
    family: text,
    org: fc.oneof(text, fc.constant<OutsideValue[]>([])),
    department: fc.oneof(text, fc.constant<OutsideValue[]>([])),
    note: fc.oneof(text, fc.constant<OutsideValue[]>([])),
    nickname: text,
    gender: fc.oneof(text, fc.constant<OutsideValue[]>([{ v: 'other' }])),
    language: fc.constantFrom('en', 'sv').map((v): OutsideValue[] => [{ v }]),
    tz: text,
    email: fc.array(
      fc
        .tuple(fc.nat(99), fc.constantFrom(undefined, 'work', 'home'))
        .map(([n, label]): OutsideValue => ({ v: `p${n}@example.org`, ...(label ? { label } : {}) })),
      { maxLength: 3 },
    ),
    tel: fc.array(
      fc.nat(99).map((n): OutsideValue => ({ v: `+44 1632 9600${String(n).padStart(2, '0')}`, label: 'mobile' })),
      { maxLength: 2 },
    ),
  },
  { requiredKeys: [] },
) as fc.Arbitrary<OutsideFields>;
const linesOf = (card: string) => card.replace(/\r?\n[ \t]/g, '').split(/\r?\n/);
const nameOf = (line: string) => line.split(/[:;]/)[0]?.replace(/^.*\./, '').toLowerCase() ?? '';
const PROPERTY: Record<string, string[]> = {
  given: ['n', 'fn'],
  family: ['n', 'fn'],
  org: ['org', 'fn', 'n'],
  department: ['org', 'fn', 'n'],
  gender: ['gender', 'x-gender'],
  language: ['lang', 'x-lang'],
  tz: ['tz'],
  note: ['note'],
  nickname: ['nickname'],
  email: ['email'],
  tel: ['tel'],
  labels: ['categories'],
};

test('after a change of ours every line that we do not own is byte for byte what it was, and the card says what it should', () => {
  fc.assert(
    fc.property(
      anyCard,
      anyChange,
      fc.option(fc.uniqueArray(fc.constantFrom('crew', 'donor', 'Friend'), { maxLength: 3 })),
      (before, fields, labels) => {
        const { content } = read(before);
        const after = changedCard(read(before).card, fields, labels);
        const touched = new Set(
          [...Object.keys(fields), ...(labels ? ['labels'] : [])].flatMap((key) => PROPERTY[key] ?? []),
        );
        // As they stand, folds and all.
        const raw = (card: string) => card.split(/\r?\n(?![ \t])/).filter((line) => !touched.has(nameOf(line)));
        expect(raw(after)).toEqual(raw(before));
        const now = read(after).content;
        for (const [key, values] of Object.entries(fields)) {
          // Where a first one went, a second one that was there comes to the fore.
          if (!values.length && !['email', 'tel'].includes(key)) continue;
          expect({ key, values: now.fields[key] ?? [] }).toEqual({ key, values });
        }
        for (const key of Object.keys(content.fields))
          if (!(key in fields)) expect({ key, values: now.fields[key] }).toEqual({ key, values: content.fields[key] });
        expect([...now.labels].sort()).toEqual([...(labels ?? content.labels)].sort());
        // A second change to what it says now is none.
        expect(changedCard(read(after).card, now.fields, now.labels)).toBe(after);
        expect(linesOf(after).at(-2)).toBe('END:VCARD');
      },
    ),
    { numRuns: 600 },
  );
});

/** What a file of cards says of the fields that a contact has one of. */
function fromFile(card: string): Record<string, string> {
  const file = readCard(card);
  if (!file.ok) throw new Error(file.error);
  return Object.fromEntries(file.value.cells.flatMap(({ target, text: said }) => (target ? [[target, said]] : [])));
}

test('a card says the same in a file and in an address book', () => {
  fc.assert(
    fc.property(anyCard, (card) => {
      const [file, { content }] = [fromFile(card), read(card)];
      for (const { key, target, several, property } of CARD_FIELDS) {
        if (several || property['4.0'] === 'n') continue;
        const [value] = content.fields[key] ?? [];
        expect({ target, says: value?.v }).toEqual({ target, says: file[target] });
      }
    }),
    { numRuns: 300 },
  );
});

test('a card that is made says what it should', () => {
  const fields: OutsideFields = {
    given: [{ v: 'Ana' }],
    family: [{ v: 'Reis; Lund' }],
    org: [{ v: 'Tern' }],
    email: [{ v: 'a@example.org', label: 'work' }, { v: 'b@example.org' }],
    adr: [{ v: { street: '4 Quay Street', locality: 'Quillhaven', country: 'GB' }, label: 'home' }],
    note: [{ v: 'One\nTwo, three' }],
  };
  const { content } = read(newCard('u-9', fields, ['crew', 'a, b']));
  expect(content.labels).toEqual(['crew', 'a, b']);
  expect(content.fields).toEqual({
    ...fields,
    adr: [{ v: { street: '4 Quay Street', locality: 'Quillhaven', country: 'United Kingdom' }, label: 'home' }],
  });
});
