import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { unguardText } from '../fields';
import { DelimitedReader, type DelimitedOptions } from './delimited-reader';
import { sniffEncoding } from './sniff-bytes';
import { sniffDelimited } from './sniff-delimited';
import { writeDelimitedLine } from './write-delimited';

const bytes = (text: string) => new TextEncoder().encode(text);
const sniff = (text: string) => {
  const result = sniffDelimited(bytes(text), true);
  if (!result.ok) throw new Error(result.error.code);
  return result.value;
};

describe('reading delimited text', () => {
  test('what was written is read back, however it is cut into pieces', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', ',', ';', '"', '\n', '\r', ' ', '漢', "'", '=', '-') });
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 1, max: 9 }),
        (rows, size) => {
          const text = rows.map((row) => writeDelimitedLine(row)).join('');
          const reader = new DelimitedReader({ delimiter: ',', quote: '"' });
          const records: string[][] = [];
          for (let i = 0; i < text.length; i += size)
            records.push(
              ...reader.push(text.slice(i, i + size), i + size >= text.length).map((record) => record.cells),
            );
          expect(records.map((row) => row.map(unguardText))).toEqual(
            rows.filter((row) => row.some((one) => one.trim() !== '')),
          );
        },
      ),
      { numRuns: 300 },
    );
  });
  test('blank lines and lines of delimiters are no records', () => {
    const reader = new DelimitedReader({ delimiter: ';', quote: '"' });
    expect(reader.push('a;b\n\n;;\n ; ;\nc;d\n', true).map((record) => record.cells)).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ]);
  });
  describe('a quotation mark that is never closed', () => {
    const read = (lines: string[], size = 1e9) => {
      const reader = new DelimitedReader({ delimiter: ',', quote: '"', columnCount: 3 });
      const text = `${lines.join('\r\n')}\r\n`;
      const rows: string[][] = [];
      for (let at = 0; at < text.length; at += size)
        rows.push(...reader.push(text.slice(at, at + size), at + size >= text.length).map(({ cells }) => cells));
      return { rows, strays: reader.strays };
    };
    const plain = (n: number) => [`Row${n}`, 'plain', `${n}`];

    test('costs no other row, whatever stands below', () => {
      for (const below of [[], ['Bea,"Tre, lawny",6'], ['Bea,"said ""hi""",6', 'Cai,"two\nlines",7']]) {
        const lines = ['a,b,c', 'Ada,Penrose,1', '"Bad,Trelawny,2', plain(3).join(','), ...below, plain(9).join(',')];
        for (const size of [1e9, 7]) {
          const { rows, strays } = read(lines, size);
          expect(rows.slice(0, 4)).toEqual([
            ['a', 'b', 'c'],
            ['Ada', 'Penrose', '1'],
            ['Bad', 'Trelawny', '2'],
            plain(3),
          ]);
          expect(rows.at(-1)).toEqual(plain(9));
          expect(rows).toHaveLength(5 + below.length);
          expect(strays).toEqual([{ line: 3, number: 3 }]);
        }
      }
    });

    test('in the middle of a line is left out of its cell', () => {
      const { rows, strays } = read(['a,b,c', 'Ada,"Penrose,1', 'Bea,Trelawny,2']);
      expect(rows).toEqual([
        ['a', 'b', 'c'],
        ['Ada', 'Penrose', '1'],
        ['Bea', 'Trelawny', '2'],
      ]);
      expect(strays).toEqual([{ line: 2, number: 2 }]);
    });

    test('is none where marks within a long cell only were not doubled', () => {
      const { rows, strays } = read(['a,b,c', 'Ada,"said "hi" and\nwent",1', 'Bea,x,2']);
      expect(rows[1]).toEqual(['Ada', 'said "hi" and\nwent', '1']);
      expect(strays).toEqual([]);
    });
  });
});

describe('habits of quoting', () => {
  const cell = fc.string({ unit: fc.constantFrom('a', 'é', ',', '"', "'", '\\', ' ', 'n', '\n') });
  const table = fc.array(fc.array(cell, { minLength: 2, maxLength: 3 }), { minLength: 1, maxLength: 6 });
  const readAll = (text: string, options: DelimitedOptions, size: number) => {
    const reader = new DelimitedReader(options);
    const records: string[][] = [];
    for (let i = 0; i < text.length; i += size)
      records.push(...reader.push(text.slice(i, i + size), i + size >= text.length).map(({ cells }) => cells));
    return records;
  };
  const filled = (rows: string[][]) => rows.filter((row) => row.some((one) => one.trim() !== ''));
  const written = (rows: string[][], quoted: (one: string) => string) =>
    rows.map((row) => `${row.map(quoted).join(',')}\r\n`).join('');

  test('marks behind a backslash are read back, however the text is cut', () =>
    fc.assert(
      fc.property(table, fc.integer({ min: 1, max: 7 }), (rows, size) => {
        const text = written(rows, (one) => `"${one.replace(/[\\"]/g, '\\$&')}"`);
        expect(readAll(text, { delimiter: ',', quote: '"', escape: '\\' }, size)).toEqual(filled(rows));
      }),
    ));
  test('apostrophes are read back, however the text is cut', () =>
    fc.assert(
      fc.property(table, fc.integer({ min: 1, max: 7 }), (rows, size) => {
        const text = written(rows, (one) => `'${one.replaceAll("'", "''")}'`);
        expect(readAll(text, { delimiter: ',', quote: "'" }, size)).toEqual(filled(rows));
      }),
    ));
  test('the habit is found', () => {
    const escaped = sniff('"Name","Note"\n"Ana","said \\"yes\\", then left"\n"Bo","plain"\n');
    expect(escaped.shape).toMatchObject({ quote: '"', escape: '\\' });
    expect(escaped.sample[0]).toEqual(['Ana', 'said "yes", then left']);
    const apostrophes = sniff("'Name','Note'\n'Ana','a, b'\n'O''Reis','c'\n");
    expect(apostrophes.shape.quote).toBe("'");
    expect(apostrophes.sample).toEqual([
      ['Ana', 'a, b'],
      ["O'Reis", 'c'],
    ]);
  });
  test('a folder that ends with a backslash is no other habit', () => {
    const { shape, sample } = sniff('"Name","Folder"\n"Ana","C:\\boats\\"\n"Bo","D:\\"\n');
    expect(shape.escape).toBeUndefined();
    expect(sample[0]).toEqual(['Ana', 'C:\\boats\\']);
  });
});

describe('sniffing', () => {
  test('NUL is left out of a text and said once; in UTF-16 it is half of a character', () => {
    const withNul = sniff('Name,Town\nAna\0,Quill\0haven\n');
    expect(withNul.sample.at(-1)).toEqual(['Ana', 'Quillhaven']);
    expect(withNul.issues).toMatchObject([{ code: 'nulBytes' }]);
    const utf16 = sniffDelimited(new Uint8Array(Buffer.from('\ufeffName,Town\nAna,Quillhaven\n', 'utf16le')), true);
    expect(utf16).toMatchObject({ ok: true, value: { issues: [] } });
  });
  test('lines that end in two ways are lines, and cells keep their lines', () => {
    const text = 'Name,Note\r\nAna,"a\r\nb"\nBo,c\r\nCy,d\n';
    const { shape, sample } = sniff(text);
    expect(shape.mixedLines).toBe(true);
    expect(sample).toEqual([
      ['Ana', 'a\nb'],
      ['Bo', 'c'],
      ['Cy', 'd'],
    ]);
    for (let size = 1; size < 9; size++) {
      const reader = new DelimitedReader(shape);
      const cells: string[][] = [];
      for (let i = 0; i < text.length; i += size)
        cells.push(...reader.push(text.slice(i, i + size), i + size >= text.length).map((record) => record.cells));
      expect(cells.slice(1)).toEqual(sample);
    }
    expect(sniff('Name,Note\r\nAna,"a\nb"\r\n').shape.mixedLines).toBeUndefined();
  });
  test.each([
    ['utf-8-bom', Uint8Array.of(0xef, 0xbb, 0xbf, 0x61)],
    ['utf-16le', Uint8Array.of(0xff, 0xfe, 0x61, 0)],
    ['utf-8', bytes('naïve')],
    ['windows-1252', Uint8Array.from([...'Bärbel;Großkopf;Hafenstraße'].map((c) => c.charCodeAt(0)))],
  ])('%s is recognised', (name, data) => {
    const found = sniffEncoding(data);
    expect(found.ok && found.value.name).toBe(name);
  });
  test('an empty file and a picture say what they are', () => {
    expect(sniffEncoding(new Uint8Array())).toMatchObject({ ok: false, error: { code: 'emptyFile' } });
    expect(sniffEncoding(Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2))).toMatchObject({
      ok: false,
      error: { code: 'notATable' },
    });
  });
  test('titles above the heading are passed over', () => {
    const { shape, sample } = sniff(
      'Evening classes;;\nList made 04/11/2025;;\n\nGiven;Family;Email\nFlorence;Winterbourne;f@example.org\nMorag;Lund;m@example.org\n',
    );
    expect(shape).toMatchObject({ delimiter: ';', headerRow: 3 });
    expect(sample).toHaveLength(2);
  });
  test('a file of people without a heading has none', () => {
    expect(
      sniff('Barnaby,Goldthorpe,barnaby@example.com,(207) 555-0111\nThora,Strand,thora@example.net,(207) 555-0112\n')
        .shape.headerRow,
    ).toBeNull();
  });
  test('a heading without rows is refused', () =>
    expect(sniffDelimited(bytes('Given;Family;Email\n'), true)).toMatchObject({
      ok: false,
      error: { code: 'noDataRows' },
    }));
  test('one column is said', () =>
    expect(sniff('Email\na@example.org\nb@example.org\n').issues[0]?.code).toBe('onlyOneColumn'));
});

test('what a spreadsheet would run is made harmless on the way out', () => {
  expect(writeDelimitedLine(['=1+1', '+44 7700 900301', '@x', '-5', 'plain'])).toBe(
    "'=1+1,+44 7700 900301,'@x,-5,plain\r\n",
  );
});
