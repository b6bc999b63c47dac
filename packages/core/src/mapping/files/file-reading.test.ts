import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DelimitedReader } from '../../formats';
import { FileReading, type FileRead } from './file-reading';

function read(bytes: Uint8Array, size = bytes.length || 1): ReturnType<FileReading['end']> {
  const reading = new FileReading();
  for (let at = 0; at < bytes.length; at += size) if (reading.push(bytes.subarray(at, at + size))) break;
  return reading.end();
}

function tableOf(bytes: Uint8Array): Extract<FileRead, { kind: 'table' }> {
  const found = read(bytes);
  if (!found.ok || found.value.kind !== 'table') throw new Error('it does not read as a table');
  return found.value;
}

const word = fc.stringMatching(/^[A-Za-z]{2,9}$/);
const person = fc
  .tuple(word, word, fc.integer({ min: 1000, max: 9999 }), fc.constantFrom('Kiel', 'Saint Malo', 'Vila do Conde'))
  .map(([given, family, n, town]) => [given, family, `${given}.${n}@example.org`, `01632 96${n}`, town]);
/** Cells that only stand between quotation marks. */
const note = fc.constantFrom(
  '',
  'plain',
  'with, comma; and | bar\tand tab',
  'two\nlines',
  'a "quoted" word',
  'größer für Zoë',
);
const HEADINGS = ['Given name', 'Family name', 'E-mail', 'Phone', 'Town', 'Note'];

interface Dialect {
  delimiter: string;
  lineEnd: string;
  encoding: string;
  bom: boolean;
  quoteAll: boolean;
  lastEnd: boolean;
  title: string[];
}

const dialect: fc.Arbitrary<Dialect> = fc.record({
  delimiter: fc.constantFrom(',', ';', '\t', '|'),
  lineEnd: fc.constantFrom('\n', '\r\n', '\r'),
  encoding: fc.constantFrom('utf8', 'win1252', 'utf16le', 'utf16be'),
  bom: fc.boolean(),
  quoteAll: fc.boolean(),
  lastEnd: fc.boolean(),
  title: fc.constantFrom([], ['Members of the boat club'], ['Members', '']),
});

function write(
  rows: readonly (readonly string[])[],
  { delimiter, lineEnd, quoteAll, lastEnd, title }: Dialect,
): string {
  const cell = (text: string) =>
    quoteAll || /[,;|\t"\r\n]/.test(text) ? `"${text.replaceAll('"', '""').replaceAll('\n', lineEnd)}"` : text;
  const lines = [...title, ...[HEADINGS, ...rows].map((row) => row.map(cell).join(delimiter))];
  return lines.join(lineEnd) + (lastEnd ? lineEnd : '');
}

/** Bytes of a text as other programs save it. All its characters are in Latin 1. */
function encode(text: string, { encoding, bom }: Dialect): Uint8Array {
  switch (encoding) {
    case 'win1252':
      return new Uint8Array(Buffer.from(text, 'latin1'));
    case 'utf16le':
      return new Uint8Array(Buffer.from(`\ufeff${text}`, 'utf16le'));
    case 'utf16be':
      return new Uint8Array(Buffer.from(`\ufeff${text}`, 'utf16le').swap16());
    default:
      return new Uint8Array(Buffer.from(bom ? `\ufeff${text}` : text));
  }
}

describe('any table in any dialect', () => {
  test('is read back as it was written', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(person, note).map(([cells, text]) => [...cells, text]),
          { minLength: 3, maxLength: 25 },
        ),
        dialect,
        (rows, how) => {
          const bytes = encode(write(rows, how), how);
          const { sniff, rowCount } = tableOf(bytes);
          expect(sniff.shape.delimiter).toBe(how.delimiter);
          expect(sniff.shape.headers).toEqual(HEADINGS);
          expect(rowCount).toBe(rows.length);
          const reader = new DelimitedReader(sniff.shape);
          const text = new TextDecoder(sniff.shape.encoding.decoder).decode(bytes);
          const records = reader.push(text, true).map(({ cells }) => cells.map((one) => one.replace(/\r\n?/g, '\n')));
          expect(records.slice(sniff.shape.headerRow ?? 0)).toEqual(rows);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('reads the same however it is cut into pieces', () => {
    fc.assert(
      fc.property(
        fc.array(person, { minLength: 2, maxLength: 12 }),
        dialect,
        fc.integer({ min: 1, max: 40 }),
        (rows, how, size) => {
          const bytes = new TextEncoder().encode(write(rows, how));
          expect(read(bytes, size)).toEqual(read(bytes));
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('what is no table', () => {
  test('random bytes are read or refused with a reason, and never more', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 3000 }), (bytes) => {
        const found = read(bytes);
        expect(found.ok ? found.value.kind : found.error.code).toEqual(expect.any(String));
      }),
      { numRuns: 500 },
    );
  });
  test('random text of all the signs that part and quote is read or refused', () => {
    const sign = fc.string({
      unit: fc.constantFrom(',', ';', '\t', '"', "'", '\n', '\r', 'a', '1', '@', '\u0000', '\ufeff', 'é'),
      maxLength: 400,
    });
    fc.assert(
      fc.property(sign, (text) => {
        const found = read(new TextEncoder().encode(text));
        if (found.ok && found.value.kind === 'table') expect(found.value.rowCount).toBeGreaterThan(0);
        else if (!found.ok) expect(found.error.code).not.toBe('');
      }),
      { numRuns: 500 },
    );
  });
  test.each<[string, Uint8Array, string]>([
    ['nothing', new Uint8Array(0), 'emptyFile'],
    ['a heading alone', new TextEncoder().encode('Name,E-mail\n'), 'noDataRows'],
    ['a picture', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10), 'notATable'],
  ])('%s', (_name, bytes, code) => {
    const found = read(bytes);
    expect(found.ok ? found.value.kind : found.error.code).toBe(code);
  });
  test('a quotation mark that is never closed is named with its line, and costs no other row', () => {
    const found = read(new TextEncoder().encode('Name,E-mail\nAna Reis,"ana@example.org\nTom Okoro,tom@example.org\n'));
    expect(found).toMatchObject({
      ok: true,
      value: {
        rowCount: 2,
        sniff: {
          issues: [{ code: 'unclosedQuote', line: 2, path: { row: 1 } }],
          sample: [['Ana Reis', 'ana@example.org'], {}],
        },
      },
    });
  });
  test('cards are known by their first line', () =>
    expect(read(new TextEncoder().encode('BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ana\r\nEND:VCARD\r\n'))).toEqual({
      ok: true,
      value: { kind: 'cards', encoding: { name: 'utf-8', decoder: 'utf-8', bomBytes: 0 } },
    }));
});

test('two thousand columns and a cell of a megabyte are read', () => {
  const wide = Array.from({ length: 2000 }, (_, i) => `c${i}`).join(',');
  expect(tableOf(new TextEncoder().encode(`${wide}\n${wide.replaceAll('c', 'v')}\n`)).sniff.shape.columnCount).toBe(
    2000,
  );
  const long = `Name,E-mail,Note\nAna Reis,ana@example.org,"${'word '.repeat(220_000)}"\nTom Okoro,tom@example.org,short\n`;
  expect(tableOf(new TextEncoder().encode(long)).rowCount).toBe(2);
});
