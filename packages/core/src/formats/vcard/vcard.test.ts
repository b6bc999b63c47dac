import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BY_HAND, RowReader, type Mapping } from '../../mapping';
import { Catalogue, guardText } from '../../fields';
import type { ContactRecord, Value } from '../../model';
import { recordFrom } from '../../writing';
import { CardSplitter, type CutCard } from './card-text';
import { CardTable } from './card-table';
import { readCard } from './read-card';
import { writeCard } from './write-card';

const catalogue = new Catalogue([
  { key: 'custom.1', name: 'Boat length, feet', type: 'range', group: 'custom', several: false },
]);

function record(fields: Record<string, (Value['v'] | [Value['v'], string])[]>): ContactRecord {
  const candidate = Object.fromEntries(
    Object.entries(fields).map(([field, values]) => [
      field,
      values.map((one) => (Array.isArray(one) && one.length === 2 ? { v: one[0], label: String(one[1]) } : { v: one })),
    ]),
  );
  return recordFrom(candidate as never, catalogue, { run: 1 });
}

function cardOf(contact: ContactRecord, version: '3.0' | '4.0', picture = false): string {
  return writeCard(
    {
      id: 7,
      record: contact,
      picture: picture ? { mediaType: 'image/webp', base64: 'UklGRh4AAABXRUJQ'.repeat(20) } : null,
      nameOf: () => 'Tom Okoro',
      changedAt: new Date('2026-11-25T10:00:00Z'),
    },
    catalogue,
    version,
  );
}

/** A card read as a file of cards is: through the table and the reader of rows. */
function readBack(text: string) {
  const card = readCard(text);
  if (!card.ok) throw new Error(card.error);
  const table = new CardTable();
  table.learn(card.value);
  const named = new Map(catalogue.fields.map((field) => [field.name, field.key]));
  const columns = table.columns.map((column, i) => ({
    ...BY_HAND,
    column: i,
    header: column.header,
    target: column.target ?? named.get(column.name) ?? null,
    label: column.label,
    nth: column.nth,
    dateOrder: 'iso' as const,
    separator: '|',
  }));
  const mapping: Mapping = {
    columns,
    wholeFile: { tags: [], source: null, stage: null, owner: null },
    allowNew: true,
    allowChange: true,
    writeRule: 'fill',
    recognise: [],
    country: 'GB',
  };
  const context = { country: 'GB', stages: ['Donor'], settle: (_kind: string, plain: string) => plain };
  const headers = table.columns.map((column) => column.header);
  const reader = new RowReader(mapping, catalogue, context, { columnCount: headers.length, headers });
  const { candidate, issues, held } = reader.read(table.row(card.value, 'a'.repeat(40)).map(guardText), 1);
  return { candidate, issues, held, table };
}

/** Contents and labels of a record, without threads and places. */
function contents(contact: ContactRecord) {
  return Object.fromEntries(
    Object.entries(contact.f).map(([field, values]) => [
      field,
      values.map(({ v, label }) => (label ? [v, label] : [v])),
    ]),
  );
}

const WHOLE = record({
  prefix: ['Dr'],
  givenName: ['Ana'],
  additionalNames: ['Maria'],
  familyName: ['Reis; de Sá'],
  suffix: ['Jr'],
  nickname: ['Nita'],
  email: [
    ['ana@example.org', 'home'],
    ['ana.reis@example.com', 'work'],
    ['a@example.net', 'work'],
  ],
  tel: [
    ['+44 1632 960123', 'mobile'],
    ['+44 1632 960124', 'boat shed'],
  ],
  url: [['https://reis.example/a;b?c=1', 'shop window']],
  organization: ['Okoro, Reis & Sons'],
  title: ['Sailmaker\\Rigger'],
  adr: [
    [{ street: '12 Slip Lane\nFlat 2', locality: 'Quillhaven', postalCode: 'EX4 4RN', country: 'GB' }, 'home'],
    [{ street: 'Rua 1, 2º', locality: 'Porto', region: 'Norte', postalCode: '4000-001', country: 'PT' }, 'home'],
  ],
  tz: ['Europe/Lisbon'],
  bday: ['--07-14'],
  anniversary: ['2009-08-08'],
  otherDate: [['2020-02-29', 'first course']],
  tags: ['regatta', 'open yard, 2025', 'a;b'],
  stage: ['Donor'],
  source: ['Open yard'],
  externalId: ['S-100'],
  note: ['First line\nsecond; with, marks \\ and “quotes” 🚣‍♀️'],
  'custom.1': [{ from: 12, to: 16 }],
});

describe('a card', () => {
  test.each(['3.0', '4.0'] as const)('of version %s brings back what it was made of', (version) => {
    const { candidate, issues } = readBack(cardOf(WHOLE, version));
    expect(issues).toEqual([]);
    const back = contents(recordFrom(candidate, catalogue, { run: 1 }));
    expect(back).toEqual(contents(WHOLE));
  });

  test.each(['3.0', '4.0'] as const)('of version %s carries picture and relationship', (version) => {
    const contact = record({ givenName: ['Ana'], familyName: ['Reis'], related: [{ relation: 'spouse', to: 3 }] });
    const text = cardOf(contact, version, true);
    expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 76)).toBe(true);
    const { candidate } = readBack(text);
    expect(candidate.related?.[0]?.v).toEqual({ relation: 'spouse', to: null, name: 'Tom Okoro' });
    expect(candidate.photo?.[0]?.v).toBe('a'.repeat(40));
    const card = readCard(text);
    expect(card.ok && card.value.picture?.base64.length).toBe(320);
    if (version === '4.0') expect(text).toContain('PHOTO:data:image/webp;base64,UklG');
  });

  test.each(['3.0', '4.0'] as const)('of version %s of an organization is one again', (version) => {
    const contact = record({
      kind: ['organization'],
      organization: ['Tarn & Pike Timber'],
      webDomain: ['tarn.example'],
    });
    const { candidate, held } = readBack(cardOf(contact, version));
    expect(held).toBe(false);
    expect(contents(recordFrom(candidate, catalogue, { run: 1 }))).toEqual(contents(contact));
  });

  test('any text comes back as it was', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 200 }), (text) => {
        const note = text.replace(/[\p{Cc}\p{Cs}\u2028\u2029\ufeff]/gu, ' ').trim();
        fc.pre(note !== '');
        const contact = record({ givenName: ['A'], familyName: ['B'], note: [note] });
        const back = readBack(cardOf(contact, '3.0')).candidate.note?.[0]?.v;
        expect(back).toBe(note);
      }),
      { numRuns: 200 },
    ));

  test.each(['2.1', '3.0', '4.0'])('commas that nobody escaped part no text (version %s)', (version) => {
    const { candidate } = readBack(
      [
        'BEGIN:VCARD',
        `VERSION:${version}`,
        'N:Reis;Ana;;;',
        'FN:Ana Reis',
        'NOTE:Prefers mornings, pays cash,always',
        'NICKNAME:Nan, Annie',
        'TITLE:Head, rigging',
        'ORG:Rope, Sail & Co;Sales',
        'ADR:;;1 Quay, Flat 2;Truro;;TR1 1AA;',
        'CATEGORIES:crew,donor',
        'END:VCARD',
      ].join('\r\n'),
    );
    const of = (field: string) => candidate[field]?.map(({ v }) => v);
    expect(['note', 'nickname', 'title', 'organization', 'tags'].map(of)).toEqual([
      ['Prefers mornings, pays cash,always'],
      ['Nan, Annie'],
      ['Head, rigging'],
      ['Rope, Sail & Co'],
      ['crew', 'donor'],
    ]);
    expect(of('adr')).toEqual([{ street: '1 Quay, Flat 2', locality: 'Truro', postalCode: 'TR1 1AA' }]);
  });

  test.each([
    '=D0=90=D0=BD=\r\n=D0=BD=D0=B0',
    '=D0=90=D0\r\n =BD=D0=BD=D0=B0',
    '=D0=90=D0=\r\n BD=D0=BD=D0=B0',
    '=D0=90=D\r\n 0=BD=D0=BD=D0=B0',
  ])('escapes come together wherever their line was cut: %j', (given) => {
    const card = `BEGIN:VCARD\r\nVERSION:2.1\r\nN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:Reis;${given}\r\nEND:VCARD\r\n`;
    expect(readBack(card).candidate.givenName).toEqual([{ v: 'Анна' }]);
  });

  test('written elsewhere is read with its habits', () => {
    const { candidate, table } = readBack(
      [
        'begin:vcard',
        'version:3.0',
        'FN:Reis, Ana',
        'N:Reis;Ana;;;',
        'item1.TEL;TYPE=CELL,pref:+44 1632 960123',
        'TEL;TYPE=WORK;TYPE=VOICE:01632 960124',
        'EMAIL;TYPE=INTERNET:ANA@example.org',
        'URL:https\\://reis.example',
        'BDAY:19710714T000000Z',
        'ORG:Tarn Timber;Purchasing',
        'EMAIL;PREF=1:first@example.org',
        'ANNIVERSARY;VALUE=text:about 1995',
        'FN;LANGUAGE=ja;ALTID=1:レイス',
        'NOTE;ENCODING=QUOTED-PRINTABLE:fr=C3=BCh gen=',
        'ug=0Anoch',
        'NICKNAME:larch\\, not oak\\; see',
        '  the letter',
        'item1.X-SHED:blue',
        'end:vcard',
      ].join('\n'),
    );
    expect(candidate.tel?.map(({ v, label }) => [v, label])).toEqual([
      ['+44 1632 960123', 'mobile'],
      ['01632 960124', 'work'],
    ]);
    expect(candidate.email).toEqual([{ v: 'first@example.org' }, { v: 'ANA@example.org', norm: 'ana@example.org' }]);
    expect(candidate.organization?.[0]?.v).toBe('Tarn Timber');
    expect(candidate.nickname?.[0]?.v).toBe('larch, not oak; see the letter');
    expect(candidate.note?.[0]?.v).toBe('früh genug\nnoch');
    expect(table.columns.filter((column) => !column.target).map((column) => column.header)).toEqual([
      'FN otherwise',
      'ANNIVERSARY',
      'X-SHED',
    ]);
    expect(candidate.url?.[0]?.v).toBe('https://reis.example');
    expect(candidate.bday?.[0]?.v).toBe('1971-07-14');
  });

  test.each([
    ['BEGIN:VCARD\nVERSION:1.0\nN:Reis;Ana\nEND:VCARD', 'version 1.0'],
    ['BEGIN:VCARD\nVERSION:3.0\nN:Reis;Ana\n', 'breaks off'],
    ['BEGIN:VCARD\nVERSION:4.0\nKIND:group\nFN:Crew\nEND:VCARD', 'of a group'],
    ['BEGIN:VCARD\nVERSION:3.0\nno line of a card\nEND:VCARD', 'is no property, since it has no colon'],
  ])('that cannot be read says why', (text, why) => {
    const card = readCard(text);
    expect(card.ok ? '' : card.error).toContain(why);
  });

  test('takes the label that another property of its group gives', () => {
    const { candidate, table } = readBack(
      [
        'BEGIN:VCARD',
        'VERSION:3.0',
        'N:Reis;Ana;;;',
        'item1.TEL:+44 20 7946 0010',
        'item1.X-SHED-LABEL:Boat shed',
        'item2.EMAIL;TYPE=INTERNET:ana@example.org',
        'item2.X-SHED-LABEL:_<Work>_',
        'item3.X-SHED-DATE:2001-06-05',
        'item3.X-SHED-LABEL:Anniversary',
        'item4.X-SHED-DATE:20100102',
        'item4.X-SHED-LABEL:Launch of the Gull',
        'item5.URL:https://ana.example',
        'END:VCARD',
      ].join('\r\n'),
    );
    expect(candidate).toMatchObject({
      tel: [{ v: '+44 20 7946 0010', label: 'Boat shed' }],
      email: [{ v: 'ana@example.org', label: 'work' }],
      anniversary: [{ v: '2001-06-05' }],
      otherDate: [{ v: '2010-01-02', label: 'Launch of the Gull' }],
      url: [{ v: 'https://ana.example' }],
    });
    expect(table.columns.filter(({ target }) => target === null)).toEqual([]);
  });

  test('of version 2.1 is read with its bare parameters, charsets and lines that go on', () => {
    const { candidate } = readBack(
      [
        'BEGIN:VCARD',
        'VERSION:2.1',
        'N;CHARSET=ISO-8859-1;ENCODING=QUOTED-PRINTABLE:M=FCller;J=F6rg;;Dr.',
        'TEL;CELL;VOICE:+49 170 5550101',
        'TEL;WORK:+49 30 5550102',
        'ADR;HOME;CHARSET=UTF-8;QUOTED-PRINTABLE:;;Schlo=C3=9Fstr.=',
        ' 3;Leipzig;;04109;Germany',
        'NOTE;ENCODING=QUOTED-PRINTABLE:Zeile eins=0D=0AZeile: zwei;=',
        ' mehr',
        'PHOTO;JPEG;BASE64:',
        ' /9j/4AAQSkZJRgABAQEAYABgAAD',
        '',
        'END:VCARD',
      ].join('\r\n'),
    );
    expect(candidate).toMatchObject({
      prefix: [{ v: 'Dr.' }],
      givenName: [{ v: 'Jörg' }],
      familyName: [{ v: 'Müller' }],
      tel: [
        { v: '+49 170 5550101', label: 'mobile' },
        { v: '+49 30 5550102', label: 'work' },
      ],
      adr: [{ v: { street: 'Schloßstr. 3', locality: 'Leipzig', postalCode: '04109', country: 'DE' }, label: 'home' }],
      note: [{ v: 'Zeile eins\nZeile: zwei; mehr' }],
    });
  });
});

describe('a file of cards', () => {
  const text =
    `\ufeffBEGIN:VCARD\r\nVERSION:4.0\r\nFN:A\r\nEND:VCARD\r\n\r\n` +
    `BEGIN:VCARD\r\nBROKEN\r\nEND:VCARD\r\nBEGIN:VCARD\r\nVERSION:3.0\r\nFN:C\r\nEND:VCARD`;
  test('is cut into its cards wherever its pieces end', () => {
    const whole = new CardSplitter().push(text.slice(1), true);
    expect(whole).toHaveLength(3);
    for (let cut = 1; cut < text.length; cut++) {
      const splitter = new CardSplitter();
      expect([...splitter.push(text.slice(1, cut), false), ...splitter.push(text.slice(cut), true)].map(trim)).toEqual(
        whole.map(trim),
      );
    }
  });
  const trim = ({ text: card, line }: CutCard) => `${line} ${card.trim()}`;

  test('with a card that has no end swallows nobody, and says where it begins', () => {
    const cards = new CardSplitter().push(
      'BEGIN:VCARD\nVERSION:3.0\nFN:A\nEND:VCARD\nBEGIN:VCARD\nVERSION:3.0\nFN:B\n\nBEGIN:VCARD\nVERSION:3.0\nFN:C\nEND:VCARD\n',
      true,
    );
    expect(cards.map(({ text: card, line }) => [line, /FN:(.)/.exec(card)?.[1], readCard(card).ok])).toEqual([
      [1, 'A', true],
      [5, 'B', false],
      [9, 'C', true],
    ]);
  });

  test('keeps a card within a card where it stands', () => {
    const agent = 'BEGIN:VCARD\nFN:A\nAGENT:\nBEGIN:VCARD\nFN:B\nEND:VCARD\n';
    expect(new CardSplitter().push(agent, true)).toHaveLength(1);
  });

  test('has a column for what occurs, and one for a card that is broken', () => {
    const table = new CardTable();
    const cards = ['EMAIL;TYPE=home:a@example.org', 'EMAIL;TYPE=work:b@example.org\nX-SHED:blue'].map((lines) => {
      const card = readCard(`BEGIN:VCARD\nVERSION:3.0\nN:R;A;;;\n${lines}\nEND:VCARD`);
      return card.ok ? card.value : null;
    });
    for (const card of [...cards, null]) table.learn(card);
    expect(table.columns.map((column) => column.header)).toEqual([
      'Given name',
      'Family name',
      'E-mail, home',
      'E-mail, work',
      'X-SHED',
      'Card that cannot be read',
    ]);
    expect(table.row(cards[1] ?? null, '')).toEqual(['A', 'R', '', 'b@example.org', 'blue', '']);
    expect(table.row(null, '', 'its text')).toEqual(['', '', '', '', '', 'its text']);
  });
});
