import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { gzipSync } from 'node:zlib';
import { strToU8, zipSync } from 'fflate';
import writeSpreadsheet from 'write-excel-file/node';
import type { IntakeDetail, IntakeSummary, MappingPreview, ProblemDetails } from '@gray-loom/wire';
import { takePackedFile } from './unpack-file';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp({ GRAY_LOOM_FILE_LIMIT: '400000' });
});
afterAll(() => app.end());

const TABLE = 'Name;Email\nAna Reis;ana@example.org\nTom Okoro;tom@example.org\n';
const folder = mkdtempSync(join(tmpdir(), 'gray-loom-packed-'));

async function send(name: string, bytes: Buffer): Promise<{ status: number; id: number; problem: ProblemDetails }> {
  const answer = await app.upload(name, bytes);
  const body = (await answer.json()) as { id: number } & ProblemDetails;
  return { status: answer.status, id: body.id, problem: body };
}
const detail = (id: number) => app.json<IntakeDetail>(`/intakes/${id}`);

function zipOf(files: Record<string, string>): Buffer {
  return Buffer.from(zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)]))));
}

describe('files that come packed', () => {
  test('a gzip archive is the file in it', async () => {
    const { id } = await send('members.csv.gz', gzipSync(TABLE));
    expect(await detail(id)).toMatchObject({ name: 'members.csv', rowCount: 2, bytes: TABLE.length });
  });

  test('a zip archive with one file is that file, whatever else systems put beside it', async () => {
    const { id } = await send('list.zip', zipOf({ 'lists/members.csv': TABLE, '__MACOSX/._members.csv': 'x' }));
    expect(await detail(id)).toMatchObject({ name: 'members.csv', rowCount: 2 });
  });

  test('a spreadsheet, and records, in an archive are what they are without it', async () => {
    const path = join(folder, 'packed.xlsx');
    await writeSpreadsheet([
      ['Name', 'Email'].map((value) => ({ value })),
      ['Ana Reis', 'ana@example.org'].map((value) => ({ value })),
    ]).toFile(path);
    const zipped = Buffer.from(zipSync({ 'packed.xlsx': new Uint8Array(readFileSync(path)) }));
    const sheet = await send('sheet.zip', zipped);
    expect(await detail(sheet.id)).toMatchObject({
      name: 'packed.xlsx',
      rowCount: 1,
      shape: { madeOf: 'spreadsheet' },
    });
    const records = await send('people.jsonl.gz', gzipSync('{"name":"Ana Reis"}\n{"name":"Tom Okoro"}\n'));
    expect(await detail(records.id)).toMatchObject({ name: 'people.jsonl', rowCount: 2 });
  });

  test.each<[string, () => Buffer, number, string]>([
    ['several files', () => zipOf({ 'a.csv': TABLE, 'b.csv': TABLE }), 422, 'severalFiles'],
    ['no file', () => zipOf({ '__MACOSX/x': '' }), 422, 'emptyArchive'],
    ['a zip cut off', () => zipOf({ 'a.csv': TABLE }).subarray(0, 60), 422, 'brokenFile'],
    ['a gzip cut off', () => gzipSync(TABLE.repeat(50)).subarray(0, 60), 422, 'brokenFile'],
    ['a gzip that unfolds without end', () => gzipSync(Buffer.alloc(50_000_000, 'a,b\n')), 413, 'fileTooLarge'],
    ['a zip that unfolds without end', () => zipOf({ 'a.csv': 'a,b\n'.repeat(4_000_000 / 4) }), 413, 'fileTooLarge'],
    ['a package in a package in a package', () => gzipSync(gzipSync(gzipSync(TABLE))), 422, 'notATable'],
    [
      'a picture in a gzip',
      () => gzipSync(Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0])),
      422,
      'notATable',
    ],
  ])('%s: refused, and nothing stays', async (_name, bytes, status, code) => {
    const before = await app.json<IntakeSummary[]>('/intakes');
    const answer = await send('packed', bytes());
    expect([answer.status, answer.problem.code]).toEqual([status, code]);
    expect(await app.json<IntakeSummary[]>('/intakes')).toEqual(before);
  });
});

describe('spreadsheets', () => {
  test('each sheet with rows becomes a file; days, zeros and numbers are what they show', async () => {
    const path = join(folder, 'book.xlsx');
    const day = (y: number, m: number, d: number) => ({
      value: new Date(Date.UTC(y, m - 1, d)),
      type: Date,
      format: 'dd/mm/yyyy',
    });
    await writeSpreadsheet([
      {
        sheet: 'Members',
        data: [
          [null, null, null, null],
          ['Name', 'E-mail', 'Born', 'Postcode'].map((value) => ({ value })),
          [{ value: 'Ana Reis' }, { value: 'ana@example.org' }, day(1971, 7, 14), { value: '00712' }],
          [{ value: 'Tom Okoro' }, { value: 'tom@example.org' }, day(1980, 2, 29), { value: 712 }],
        ],
      },
      { sheet: 'Notes', data: [[{ value: 'only a heading' }]] },
      {
        sheet: 'Guests',
        data: [
          [{ value: 'Name' }, { value: 'E-mail' }],
          [{ value: 'Kari Pike' }, { value: 'kari@example.org' }],
        ],
      },
    ] as never).toFile(path);
    const { id } = await send('book.xlsx', readFileSync(path));
    const names = (await app.json<IntakeSummary[]>('/intakes'))
      .map((one) => one.name)
      .filter((name) => name.startsWith('book'));
    expect(names.sort()).toEqual(['book.xlsx, Guests', 'book.xlsx, Members']);
    const members = await detail(id);
    expect(members).toMatchObject({ name: 'book.xlsx, Members', rowCount: 2 });
    const preview = await app.json<MappingPreview>(`/intakes/${id}/preview?count=5`);
    expect(preview.rows.map((row) => row.cells.map((cell) => cell.raw))).toEqual([
      ['Ana Reis', 'ana@example.org', '1971-07-14', '00712'],
      ['Tom Okoro', 'tom@example.org', '1980-02-29', '712'],
    ]);
    expect(preview.rows[0]?.cells[2]?.shown).toBe('14 Jul 1971');
  });

  test('a spreadsheet that is damaged is refused with what to do', async () => {
    const bytes = zipOf({ 'xl/workbook.xml': '<workbook', '[Content_Types].xml': '' });
    const { status, problem } = await send('damaged.xlsx', bytes);
    expect([status, problem.code]).toEqual([422, 'brokenFile']);
    expect(problem.detail).toContain('send the file in it alone');
  });

  test('a spreadsheet whose sender stops it while it is read is not taken in; sent in full, it is', async () => {
    const path = join(folder, 'stopped.xlsx');
    const rows = Array.from({ length: 4000 }, (_, i) => [{ value: `Ana Reis ${i}` }, { value: `ana${i}@example.org` }]);
    await writeSpreadsheet([{ sheet: 'Members', data: [[{ value: 'Name' }, { value: 'E-mail' }], ...rows] }]).toFile(
      path,
    );
    const bytes = readFileSync(path);
    const before = await app.json<IntakeSummary[]>('/intakes');
    const stopping = new AbortController();
    const sent = app.request('/intakes', {
      method: 'POST',
      headers: { 'X-File-Name': 'stopped.xlsx', 'X-File-Size': String(bytes.length) },
      body: bytes,
      signal: stopping.signal,
    });
    setTimeout(() => stopping.abort(), 30);
    await sent
      .then((answer) => expect(answer.ok).toBe(false))
      .catch((error: Error) => expect(error.name).toBe('AbortError'));
    await new Promise((done) => setTimeout(done, 1500));
    expect(await app.json<IntakeSummary[]>('/intakes')).toEqual(before);
    const { id } = await send('members.xlsx', bytes);
    expect(await detail(id)).toMatchObject({ rowCount: 4000 });
  });
});

describe('whoever sends a file may go away', () => {
  const rows = `Name;Email\n${'Ana Reis;ana@example.org\n'.repeat(12_000)}`;
  test.each<[string, () => Buffer]>([
    ['a table', () => Buffer.from(rows)],
    ['a gzip archive', () => gzipSync(rows)],
    ['a zip archive', () => zipOf({ 'members.csv': rows })],
    ['an archive in an archive', () => gzipSync(zipOf({ 'members.csv': rows }))],
  ])('%s: work ends, and nothing is left of it', async (_name, make) => {
    const before = await app.json<IntakeSummary[]>('/intakes');
    const bytes = make();
    const gone = new AbortController();
    const sent = (function* () {
      yield bytes.subarray(0, bytes.length >> 1);
      gone.abort();
      yield bytes.subarray(bytes.length >> 1);
    })();
    const taking = takePackedFile(app.database, {
      name: 'list',
      body: Readable.from(sent),
      declaredBytes: null,
      limitBytes: 400_000,
      country: 'GB',
      signal: gone.signal,
    });
    await expect(taking).rejects.toThrow();
    expect(await app.json<IntakeSummary[]>('/intakes')).toEqual(before);
    expect(readdirSync(tmpdir()).filter((name) => name.startsWith(`gray-loom-${process.pid}-`))).toEqual([]);
  });
});

describe('packages that are made to fill a disk', () => {
  let large: TestApp;
  beforeAll(async () => {
    large = await startTestApp();
  });
  afterAll(() => large.end());

  const zeros = () => Buffer.alloc(30_000_000, 'a,b\n');
  test.each<[string, string, () => Buffer]>([
    ['a gzip', 'zeros.csv.gz', () => gzipSync(zeros())],
    ['a gzip in a gzip', 'zeros.csv.gz.gz', () => gzipSync(gzipSync(zeros()))],
    ['a zip', 'zeros.zip', () => Buffer.from(zipSync({ 'zeros.csv': new Uint8Array(zeros()) }))],
    [
      'a gzip in a zip',
      'zeros.zip',
      () => Buffer.from(zipSync({ 'zeros.csv.gz': new Uint8Array(gzipSync(zeros())) }, { level: 0 })),
    ],
    [
      'a spreadsheet',
      'zeros.xlsx',
      () =>
        Buffer.from(
          zipSync({ 'xl/workbook.xml': strToU8('<workbook/>'), 'xl/worksheets/sheet1.xml': new Uint8Array(zeros()) }),
        ),
    ],
  ])('%s that unfolds to hundreds of times its size is refused, and nothing stays', async (_what, name, bytes) => {
    const answer = await large.upload(name, bytes());
    expect([answer.status, ((await answer.json()) as { code: string }).code]).toEqual([413, 'unfoldsTooFar']);
    expect(await large.json('/intakes')).toEqual([]);
    expect(readdirSync(tmpdir()).filter((one) => one.startsWith(`gray-loom-${process.pid}-`))).toEqual([]);
  });
});
