import { startTestApp, type TestApp } from '@gray-loom/server/testing';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { exportFromBook, importIntoBook, trialInBook } from './book';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const folder = mkdtempSync(join(tmpdir(), 'gray-loom-cli-'));
function fileOf(name: string, text: string): string {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
}

describe('the command line works on the book as the screen does', () => {
  const FILE = 'Name,E-mail\nZora Vane,zora@example.org\nZed Vane,zed(at)example.org\n';

  test('a trial says what would be and leaves nothing behind', async () => {
    const before = await app.json<object[]>('/intakes');
    const found = await trialInBook(app.database, app.url, fileOf('zora.csv', FILE), { country: 'GB' });
    expect(found.counts).toMatchObject({ new: 1, held: 1 });
    expect((found.rows as { row: number; outcome: string }[]).map(({ row, outcome }) => [row, outcome])).toEqual([
      [1, 'new'],
      [2, 'held'],
    ]);
    expect(await app.json('/intakes')).toEqual(before);
  });

  test('an import is a run like any other, and what it brought goes out again', async () => {
    const found = await importIntoBook(app.database, app.url, fileOf('zora.csv', FILE), { country: 'GB' });
    expect(found).toMatchObject({ state: 'done', counts: { new: 1, held: 1 } });
    const out = join(folder, 'out.vcf');
    const filter = {
      find: 'zora',
      where: '',
      kind: 'person',
      deleted: false,
    } as const;
    expect(await exportFromBook(app.database, out, filter, { fields: [], version: '4.0' })).toBeGreaterThan(50);
    expect(readFileSync(out, 'utf8')).toContain('FN:Zora Vane');
    await expect(
      exportFromBook(app.database, join(folder, 'out.doc'), filter, { fields: [], version: '4.0' }),
    ).rejects.toThrow('csv, tsv, jsonl or vcf');
  });

  test('a saved mapping is asked for by its name', async () => {
    await expect(
      importIntoBook(app.database, app.url, fileOf('z.csv', FILE), { country: 'GB', mapping: 'nobody' }),
    ).rejects.toThrow("no saved mapping 'nobody'");
    const found = await trialInBook(app.database, app.url, fileOf('z2.csv', FILE), {
      country: 'GB',
      mapping: 'ZORA.csv',
    });
    expect(found.counts).toMatchObject({ same: 1, held: 1 });
  });
});
