import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { IntakeDetail, IntakeSummary, MappingPreview, ProblemDetails } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';
import { htmlTable } from './html-text';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

async function bring(name: string, text: string | Buffer): Promise<{ intake: IntakeDetail; rows: string[][] }> {
  const answer = await app.upload(name, text);
  const { id } = (await answer.json()) as { id: number };
  const intake = await app.json<IntakeDetail>(`/intakes/${id}`);
  const { rows } = await app.json<MappingPreview>(`/intakes/${id}/preview`);
  return { intake, rows: rows.map(({ cells }) => cells.map(({ raw }) => raw)) };
}

const PAGE = `<html><head><meta charset="utf-8"><style>td{color:red}</style></head><body>
<table><tr><td>Menu</td></tr></table>
<table><thead><tr><th>First name</th><th>Last&nbsp;name</th><th colspan="2">E-mail</th></tr></thead>
<tbody><tr><td>Zo&euml;</td><td>O&#39;Hare</td><td>zoe@example.org</td><td></td></tr>
<tr><td>Tom<br>Tim</td><td>=1+1</td><td>tom@example.org</td><td>x</td></tr></tbody></table></body></html>`;

describe('records in a text that is no delimited table', () => {
  test('the largest table of a web page, whatever the file is called', async () => {
    const { intake, rows } = await bring('members.xls', PAGE);
    expect(intake.mapping.columns.map(({ target }) => target)).toEqual(['givenName', 'familyName', 'email', null]);
    expect(rows).toEqual([
      ['Zoë', "O'Hare", 'zoe@example.org', ''],
      ['Tom\nTim', "'=1+1", 'tom@example.org', 'x'],
    ]);
    // What it was made of is known, and stays so when its heading is looked for elsewhere.
    expect(intake.shape.madeOf).toBe('page');
    const { encoding, delimiter } = intake.shape;
    const again = await app.json<IntakeDetail>(`/intakes/${intake.id}/reread`, 'POST', {
      encoding: encoding.name,
      delimiter,
      headerRow: 0,
    });
    expect(again.shape).toMatchObject({ madeOf: 'page', headerRow: null });
    expect(again.rowCount).toBe(3);
  });

  test('tables within tables are looked at each by itself', () =>
    expect(
      htmlTable(
        '<table><tr><td><table><tr><td>a</td><td>b</td></tr><tr><td>c</td><td>d</td></tr></table></td></tr></table>',
      ),
    ).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ]));

  test('addresses as on labels, a block for each', async () => {
    const text =
      'Maya Okafor\r\n3 Quay Lane\r\nTidemouth\r\n\r\nJosé Reis\r\n7 Ferry St\r\nOldhaven\r\n07700 900123\r\n';
    const { intake, rows } = await bring('labels.txt', Buffer.from(text, 'latin1'));
    expect(intake.shape.madeOf).toBe('blocks');
    expect(intake.mapping.columns.map(({ target }) => target)).toEqual(['fullName', 'street', 'tel']);
    expect(rows).toEqual([
      ['Maya Okafor', '3 Quay Lane\nTidemouth', ''],
      ['José Reis', '7 Ferry St\nOldhaven', '07700 900123'],
    ]);
  });

  test('JSON in an old encoding with a mark before it', async () => {
    const text = '\uFEFF[{"firstName":"Zoë","emails":[{"type":"work","value":"zoe@example.org"}]}]';
    const { intake, rows } = await bring('people.json', Buffer.from(text, 'utf16le'));
    expect(intake.mapping.columns.map(({ target, labelFrom }) => [target, labelFrom])).toEqual([
      ['givenName', undefined],
      [null, undefined],
      ['email', 1],
    ]);
    expect(rows).toEqual([['Zoë', 'work', 'zoe@example.org']]);
    expect(intake.shape.madeOf).toBe('json');
  });

  test('entries of a directory', async () => {
    const { intake } = await bring(
      'people.ldif',
      'dn: cn=Ana\ncn: Ana Reis\nmail: ana@example.org\nmobile: 07700 900301\nhomePhone: 01632 960301\nl: Tern Bay\n',
    );
    expect(intake.mapping.columns.map(({ target, label }) => [target, label])).toEqual([
      ['fullName', null],
      ['email', null],
      ['tel', 'mobile'],
      ['tel', 'home'],
      ['locality', null],
    ]);
    expect(intake.shape.madeOf).toBe('labelled');
  });

  test.each([
    ['other XML', '<?xml version="1.0"?><people><person/></people>', 'notATable', 'an XML document'],
    ['a page without a table', '<html><body><p>Ahoy</p></body></html>', 'notATable', 'a web page without a table'],
    ['JSON that breaks off', '[{"name":"Ana"},', 'brokenFile', 'JSON'],
    ['JSON without records', '[{}]', 'noDataRows', 'no row'],
  ])('%s is refused, and nothing stays', async (_name, text, code, why) => {
    const before = await app.json<IntakeSummary[]>('/intakes');
    const answer = await app.upload('people.txt', text);
    const problem = (await answer.json()) as ProblemDetails;
    expect([answer.status, problem.code]).toEqual([422, code]);
    expect(problem.detail).toContain(why);
    expect(await app.json<IntakeSummary[]>('/intakes')).toEqual(before);
  });
});
