import { describe, expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { zipSync, strToU8 } from 'fflate';
import writeSpreadsheet from 'write-excel-file/node';
import { inspect, printInspection } from './inspect';
import { withTable } from './packed-file';

const folder = mkdtempSync(join(tmpdir(), 'gray-loom-inspect-'));

function fileOf(name: string, content: string | Buffer): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

interface Found {
  format: string;
  encoding: string;
  delimiter: string | null;
  headerRow: number | null;
  rowCount: number;
  columns: { header: string | null; field: string | null; label: string | null }[];
  issues: { code: string; row: number | null; message: string }[];
}
const look = (path: string) => inspect(path) as unknown as Found;

describe('looking at a file without a database', () => {
  test('a table: how it reads, what its columns mean, rows that are ragged', () => {
    const rows = Array.from({ length: 20 }, (_, i) => `Ana Reis;ana${i}@example.org;01632 9600${10 + i};Zürich`);
    const text = ['Name;E-mail adr.;Mob;Ort', ...rows, 'Tom Okoro;tom@example.org', 'a;b;c;d;e'].join('\r\n');
    const found = look(fileOf('members.csv', Buffer.from(text, 'latin1')));
    expect(found).toMatchObject({
      format: 'delimited',
      encoding: 'windows-1252',
      delimiter: ';',
      headerRow: 1,
      rowCount: 22,
    });
    expect(found.columns.map(({ field }) => field)).toEqual(['fullName', 'email', 'tel', 'locality']);
    expect(found.issues.map(({ code, row }) => [code, row])).toEqual([
      ['tooFewCells', 21],
      ['tooManyCells', 22],
    ]);
    expect(printInspection(found as never)).toContain('delimiter ;, heading in row 1, 22 rows');
  });

  test('cards: a row for each, columns by meaning and label, what cannot be read is named', () => {
    const text = [
      'BEGIN:VCARD\nVERSION:3.0\nN:Reis;Ana;;;\nTEL;TYPE=CELL:01632 960111\nEND:VCARD',
      'BEGIN:VCARD\nVERSION:4.0\nKIND:group\nFN:Crew\nEND:VCARD',
    ].join('\n');
    const found = look(fileOf('book.vcf', text));
    expect(found).toMatchObject({ format: 'vcard', delimiter: null, rowCount: 2 });
    expect(found.columns.map(({ field, label }) => [field, label])).toEqual([
      ['givenName', null],
      ['familyName', null],
      ['tel', 'mobile'],
      [null, null],
    ]);
    expect(found.issues).toEqual([expect.objectContaining({ code: 'unreadableCard', row: 2 })]);
    expect(printInspection(found as never)).toMatch(/^2 cards\n/);
  });

  test.each([
    ['nothing.csv', ''],
    ['picture.csv', Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0])],
    ['heading.csv', 'Name,E-mail\n'],
  ])('%s is refused with its path and the reason', (name, content) => {
    const path = fileOf(name, content);
    expect(() => inspect(path)).toThrow(path);
  });

  test('what is packed is looked into, whatever it is packed in', async () => {
    const text = 'Name;E-mail\nAna Reis;ana@example.org\nBo Lind;bo@example.org\n';
    const sheet = join(folder, 'crew.xlsx');
    const rows = [
      ['Name', 'Zip'],
      ['Ana Reis', 4101],
      ['Bo Lind', 530],
    ];
    await writeSpreadsheet(
      rows.map((row, i) =>
        row.map((value) => ({ value, ...(i && typeof value === 'number' ? { format: '00000' } : {}) })),
      ) as never,
    ).toFile(sheet);
    const zipped = fileOf('crew.zip', Buffer.from(zipSync({ 'crew.csv': strToU8(text) })));
    const gzipped = fileOf('crew.csv.gz', gzipSync(text));
    const found = (path: string) => withTable(path, (table, madeOf) => inspect(table, madeOf) as unknown as Found);
    for (const path of [zipped, gzipped])
      expect(await found(path)).toMatchObject({ format: 'delimited', delimiter: ';', rowCount: 2 });
    const ofSheet = await found(sheet);
    expect(ofSheet).toMatchObject({ format: 'spreadsheet', delimiter: null, headerRow: 1, rowCount: 2 });
    expect(ofSheet.columns[1]).toMatchObject({ field: 'postalCode', samples: ['04101', '00530'] });
    expect(printInspection(ofSheet as never)).toContain('spreadsheet, heading in row 1, 2 rows');
    const several = fileOf('several.zip', Buffer.from(zipSync({ 'a.csv': strToU8(text), 'b.csv': strToU8(text) })));
    await expect(found(several)).rejects.toThrow('2 files');
    await expect(found(fileOf('broken.gz', gzipSync(text).subarray(0, 20)))).rejects.toThrow('gzip');
  });
});
