import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { zipSync, strToU8 } from 'fflate';
import { trimSheet, writeRawLine, type SheetCell } from '@gray-loom/core/formats';
import readSpreadsheet from 'read-excel-file/node';
import writeSpreadsheet from 'write-excel-file/node';
import { readSheetRows } from './sheet-rows';
import { readSheets } from './sheet-thread';

const LIMIT = 1 << 24;
const folder = mkdtempSync(join(tmpdir(), 'gray-loom-sheets-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Sheet {
  name: string;
  text: string;
}

const byName = (a: Sheet, b: Sheet) => a.name.localeCompare(b.name);

/** The sheets of a spreadsheet as text by name, read by a library that reads them whole, and row by row as we do. */
async function bothWays(path: string): Promise<[whole: Sheet[], byRows: Sheet[]]> {
  const whole = (await readSpreadsheet(path)).flatMap(({ sheet, data }) => {
    const rows = trimSheet(data as SheetCell[][]);
    const lines = rows.map((row) => writeRawLine(row.every((text) => text === '') ? [] : row));
    return rows.length < 2 ? [] : [{ name: sheet, text: lines.join('') }];
  });
  return [whole.sort(byName), await rowsOf(path)];
}

async function rowsOf(path: string): Promise<Sheet[]> {
  const files = await readSheetRows(path, folder, LIMIT);
  return files.map((file) => ({ name: file.name, text: readFileSync(file.path, 'utf8') })).sort(byName);
}

const dated = (ms: number) => ({ value: new Date(ms), type: Date, format: 'dd/mm/yyyy hh:mm' });
const cell = fc.oneof(
  fc.constant(null),
  fc
    .constantFrom('00712', ' Ana ', 'Zoë "Quay" O’Hare', 'two\nlines', '<&>', '=1+1', '東京', '_x0041_', '')
    .map((value) => ({ value })),
  fc.string({ maxLength: 12, unit: fc.constantFrom(...'aß é🚣,;"\t') }).map((value) => ({ value })),
  fc.integer().map((value) => ({ value })),
  fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e15, max: 1e15 }).map((value) => ({ value })),
  fc.boolean().map((value) => ({ value, type: Boolean })),
  // Whole minutes, from 1901 on.
  fc.integer({ min: -36_000_000, max: 60_000_000 }).map((minutes) => dated(minutes * 60_000)),
);

test('a spreadsheet reads row by row as a library reads it whole, whatever is in it', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(fc.array(cell, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 12 }), {
        minLength: 1,
        maxLength: 3,
      }),
      async (sheets) => {
        const path = join(folder, 'random.xlsx');
        await writeSpreadsheet(sheets.map((data, i) => ({ sheet: `Sheet ${i}`, data })) as never).toFile(path);
        const [whole, byRows] = await bothWays(path);
        expect(byRows).toEqual(whole);
      },
    ),
    { numRuns: 60 },
  );
});

const NS = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
const DOCUMENT = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** A spreadsheet of one sheet, written by hand. */
function byHand(rows: string, { from1904 = false, texts = '', styles = '', hidden = '', state = '' } = {}): string {
  const parts: Record<string, string> = {
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
      <Relationship Id="r1" Type="${DOCUMENT}/worksheet" Target="worksheets/sheet1.xml"/>
      <Relationship Id="r4" Type="${DOCUMENT}/worksheet" Target="worksheets/sheet2.xml"/>
      <Relationship Id="r2" Type="${DOCUMENT}/sharedStrings" Target="sharedStrings.xml"/>
      <Relationship Id="r3" Type="${DOCUMENT}/styles" Target="styles.xml"/></Relationships>`,
    'xl/workbook.xml':
      `<workbook ${NS} xmlns:r="${DOCUMENT}"><workbookPr${from1904 ? ' date1904="1"' : ''}/><sheets><sheet name="Crew ` +
      `&amp; guests" sheetId="1" r:id="r1"${state}/>${hidden && '<sheet name="Prices" sheetId="2" state="hidden" r:id="r4"/>'}</sheets></workbook>`,
    ...(hidden ? { 'xl/worksheets/sheet2.xml': `<worksheet ${NS}><sheetData>${hidden}</sheetData></worksheet>` } : {}),
    'xl/worksheets/sheet1.xml': `<worksheet ${NS}><sheetData>${rows}</sheetData></worksheet>`,
    'xl/sharedStrings.xml': `<sst ${NS}>${texts}</sst>`,
    'xl/styles.xml': `<styleSheet ${NS}>${styles}</styleSheet>`,
  };
  const path = join(folder, 'hand.xlsx');
  writeFileSync(path, zipSync(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)]))));
  return path;
}

describe('what writers of spreadsheets do', () => {
  test('shared texts in runs, with reading aids and escapes', async () => {
    const path = byHand(
      '<row r="1"><c r="A1" t="s"><v>0</v></c><c r="B1" t="s"><v>1</v></c></row><row r="2"><c r="A2" t="s"><v>2</v></c><c r="B2" t="s"><v>3</v></c></row>',
      {
        texts:
          '<si><t>Name</t></si><si><r><t>E-</t></r><r><rPr><b/></rPr><t xml:space="preserve">mail ' +
          '</t></r></si><si><t>佐藤</t><rPh sb="0" eb="2"><t>サトウ</t></rPh></si><si><t>a_x000D_b &lt;3</t></si>',
      },
    );
    const [whole, byRows] = await bothWays(path);
    expect(byRows).toEqual(whole);
    expect(byRows).toEqual([{ name: 'Crew & guests', text: 'Name,E-mail\r\n佐藤,"a\rb <3"\r\n' }]);
  });

  test('gaps, empty rows, formulas with what they came to, yes and no, faults, and texts within cells', async () => {
    const path = byHand(
      `<row r="3"><c r="B3" t="inlineStr"><is><t>Name</t></is></c><c r="D3" t="str"><f>"x"</f><v>Sum</v></c></row>
       <row r="4"/>
       <row r="6"><c r="B6" t="b"><v>1</v></c><c r="C6"/><c r="D6"><f>1+2</f><v>3</v></c></row>
       <row r="7"><c r="B7" t="b"><v>0</v></c><c r="D7" t="e"><f>1/0</f><v>#DIV/0!</v></c></row>
       <row r="9"><c r="A9" s="0"/></row>`,
    );
    const [whole, byRows] = await bothWays(path);
    expect(byRows).toEqual(whole);
    expect(byRows[0]?.text.split('\r\n').slice(0, 4)).toEqual([',Name,,Sum', '', '', ',yes,,3']);
  });

  test.each([
    ['a usual date', 14, '', '2026-03-01'],
    ['a date of its own', 164, 'dd"th of" mmmm\\ yyyy;@', '2026-03-01'],
    ['a time span', 165, '[h]:mm:ss', '2026-03-01'],
    ['money', 166, '#,##0.00 "dollars"', '46082'],
    ['a number with colours', 167, '[Red]0.0', '46082'],
  ])('%s', async (_name, id, format, shown) => {
    const path = byHand(
      '<row r="1"><c r="A1" t="inlineStr"><is><t>A</t></is></c></row><row r="2"><c r="A2" s="1"><v>46082</v></c></row>',
      {
        styles:
          `<numFmts><numFmt numFmtId="${id}" formatCode="${format.replaceAll('"', '&quot;')}"/></numFmts><cellStyleXfs><xf ` +
          `numFmtId="9"/></cellStyleXfs><cellXfs><xf numFmtId="0"/><xf numFmtId="${id}"/></cellXfs>`,
      },
    );
    const [whole, byRows] = await bothWays(path);
    expect(byRows).toEqual(whole);
    expect(byRows[0]?.text).toBe(`A\r\n${shown}\r\n`);
  });

  test.each([
    ['00000', 4101, '04101'],
    ['00000', 123456, '123456'],
    ['000"-"0000', 5550101, '555-0101'],
    ['00000\\-0000', 41010007, '04101-0007'],
    ['00 00 00 00 00', 199001122, '01 99 00 11 22'],
    ['00000;[Red]-00000', 530, '00530'],
    ['0', 530, '530'],
    ['0.00', 7, '7'],
    ['000', 1.5, '1.5'],
  ])('a number that %s shows: %d is %s', async (format, number, shown) => {
    const path = byHand(
      `<row r="1"><c r="A1" t="inlineStr"><is><t>A</t></is></c></row><row r="2"><c r="A2" s="1"><v>${number}</v></c></row>`,
      {
        styles:
          `<numFmts><numFmt numFmtId="164" formatCode="${format.replaceAll('"', '&quot;')}"/></numFmts><cellXfs><xf ` +
          `numFmtId="0"/><xf numFmtId="164"/></cellXfs>`,
      },
    );
    expect((await rowsOf(path))[0]?.text).toBe(`A\r\n${shown}\r\n`);
  });

  test('hidden sheets are left out, unless there is no other', async () => {
    const rows =
      '<row r="1"><c r="A1" t="inlineStr"><is><t>Name</t></is></c></row><row r="2"><c r="A2" t="inlineStr"><is><t>Ana</t></is></c></row>';
    const names = async (path: string) => (await rowsOf(path)).map(({ name }) => name);
    expect(await names(byHand(rows, { hidden: rows }))).toEqual(['Crew & guests']);
    expect(await names(byHand(rows, { state: ' state="veryHidden"' }))).toEqual(['Crew & guests']);
  });

  test('cells and rows that do not say where they stand', async () => {
    const cells = (...texts: string[]) =>
      `<row>${texts.map((text) => (text ? `<c t="inlineStr"><is><t>${text}</t></is></c>` : '<c/>')).join('')}</row>`;
    const found = await rowsOf(byHand(`${cells('Name', 'Boat')}<row/>${cells('', 'Heron')}`));
    expect(found).toEqual([{ name: 'Crew & guests', text: 'Name,Boat\r\n\r\n,Heron\r\n' }]);
  });

  test('the sheet that looks most like contacts comes first', async () => {
    const path = join(folder, 'several.xlsx');
    const sheet = (name: string, ...rows: string[][]) => ({
      sheet: name,
      data: rows.map((row) => row.map((value) => ({ value }))),
    });
    const sheets = [
      sheet('Read me', ['How to fill this in'], ['One row per person.'], ['Leave the headings.']),
      sheet('Lists', ['Boat class', 'Level'], ['Dinghy', 'A'], ['Canoe', 'B']),
      sheet('Crew', ['First name', 'Last name', 'E-mail'], ['Ana', 'Reis', 'ana@example.org']),
      sheet('Guests', ['First name', 'E-mail'], ['Tom', 'tom@example.org']),
    ];
    await writeSpreadsheet(sheets as never).toFile(path);
    const found = await readSheets({ path, folder, limitBytes: LIMIT });
    expect(found.map(({ name }) => name).slice(0, 2)).toEqual(['Crew', 'Guests']);
    expect(found).toHaveLength(4);
  });

  test('the sheet of contacts is known by its beginning, wherever that is cut off', async () => {
    const path = join(folder, 'long.xlsx');
    const row = (...cells: string[]) => cells.map((value) => ({ value }));
    // One cell that goes on beyond what is looked at, with marks and lines that keep it quoted.
    const notes = 'said "later",\nand left; '.repeat(4000).slice(0, 32_000);
    const sheets = [
      { sheet: 'Lists', data: [row('Stage', 'Town'), row('Friend', 'Falmouth'), row('Donor', 'Truro')] },
      {
        sheet: 'Crew',
        data: [
          row('First name', 'E-mail', 'Notes'),
          ...['Ana', 'Tom', 'Kari'].map((name) => row(name, `${name}@example.org`, notes)),
        ],
      },
    ];
    await writeSpreadsheet(sheets as never).toFile(path);
    const [first] = await readSheets({ path, folder, limitBytes: LIMIT });
    expect(first?.name).toBe('Crew');
  });

  test('days counted from 1904', async () => {
    const path = byHand(
      '<row r="1"><c r="A1" t="inlineStr"><is><t>A</t></is></c></row><row r="2"><c r="A2" s="0"><v>44620.5</v></c></row>',
      { from1904: true, styles: '<cellXfs><xf numFmtId="22"/></cellXfs>' },
    );
    const [whole, byRows] = await bothWays(path);
    expect(byRows).toEqual(whole);
    expect(byRows[0]?.text).toBe('A\r\n2026-03-01 12:00\r\n');
  });
});

describe('what is wrong is told, and ends', () => {
  const row = (r: number, text: string) => `<row r="${r}"><c r="A${r}" t="inlineStr"><is><t>${text}</t></is></c></row>`;
  test.each([
    ['rows that go backwards', `${row(5, 'a')}${row(4, 'b')}`, LIMIT, 'out of place'],
    ['a row beyond all sheets', `${row(1, 'a')}${row(999_999_999, 'b')}`, LIMIT, 'out of place'],
    ['more than may come in', `${row(1, 'a')}${row(2, 'b'.repeat(100))}`, 50, 'sheetTooLarge'],
    ['a sheet that breaks off', `${row(1, 'a')}<row r="2"><c`, LIMIT, ''],
  ])('%s', async (_name, rows, limit, why) => {
    await expect(readSheetRows(byHand(rows), folder, limit)).rejects.toThrow(why);
  });

  test('a cell with a place that no sheet has stands beside the one before it, and takes no room', async () => {
    const nowhere = '<row r="2"><c r="ZZZZZZZ999999999999" t="inlineStr"><is><t>Ana</t></is></c></row>';
    expect((await rowsOf(byHand(`${row(1, 'Name')}${nowhere}`)))[0]?.text).toBe('Name\r\nAna\r\n');
  });

  test('a cell in the last row and column costs what it holds, not what it spans', async () => {
    const far = '<row r="1048576"><c r="XFD1048576" t="inlineStr"><is><t>far</t></is></c></row>';
    const [sheet] = await rowsOf(byHand(`${row(1, 'Name')}${row(2, 'Ana')}${far}`));
    expect(sheet?.text.startsWith('Name\r\nAna\r\n\r\n')).toBe(true);
    expect(sheet?.text.length).toBeLessThan(3_000_000);
  });

  test('a million empty rows are passed over', async () => {
    const path = byHand(`${row(1, 'Name')}${row(2, 'Ana')}${'<row/>'.repeat(200_000)}${row(1_048_576, '')}`);
    const [file] = await readSheetRows(path, folder, LIMIT);
    expect(file?.rows).toBe(2);
    expect(readFileSync(file?.path ?? '', 'utf8')).toBe('Name\r\nAna\r\n');
  });
});
