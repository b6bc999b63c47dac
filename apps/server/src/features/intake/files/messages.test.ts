import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import type { IntakeDetail, MappingPreview } from '@gray-loom/wire';
import { FileReading, guessesOf } from '@gray-loom/core/mapping';
import { bringFile, runImport } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const message = (name: string, address: string, charset = 'utf-8') =>
  [
    'From: "Web form" <forms@quillhaven.example>',
    'To: office@quillhaven.example',
    'Subject: =?UTF-8?B?TmV3IGVucXVpcnkg4oCT?=',
    'Date: Tue, 04 Nov 2025 18:22:07 +0000',
    `Content-Type: text/plain; charset=${charset}`,
    'Content-Transfer-Encoding: quoted-printable',
    '',
    `Name: ${name}`,
    `E-mail: ${address}`,
    'Town: Douarnenez',
    'Message: Is there=',
    ' room for two?',
    '',
  ].join('\r\n');
const detail = (id: number) => app.json<IntakeDetail>(`/intakes/${id}`);
const cellsOf = async (id: number) =>
  (await app.json<MappingPreview>(`/intakes/${id}/preview`)).rows.map(({ cells }) => cells.map(({ raw }) => raw));

describe('messages that come in as files', () => {
  test('one is a row: its labelled lines are columns, decoded', async () => {
    const id = await bringFile(app, 'enquiry.eml', message('Ma=C3=AFwenn Kervadec', 'maiwenn@example.org'));
    expect((await detail(id)).mapping.columns.map(({ header, target }) => [header, target])).toEqual([
      ['Name', 'fullName'],
      ['E-mail', 'email'],
      ['Town', 'locality'],
      ['Message', 'note'],
      ['Received', null],
    ]);
    expect(await cellsOf(id)).toEqual([
      ['Maïwenn Kervadec', 'maiwenn@example.org', 'Douarnenez', 'Is there room for two?', '2025-11-04T18:22:07Z'],
    ]);
    expect((await runImport(app, id)).counts).toMatchObject({ new: 1, held: 0 });
  });

  test('several in one file, and several in a zip, are a table', async () => {
    const both = [message('Ana Reis', 'ana.reis@example.org'), message('Tom Okoro', 'tom.okoro@example.org')];
    const mbox = both.map((text) => `From forms@quillhaven.example Tue Nov  4 18:22:07 2025\n${text}`).join('\n');
    const zip = Buffer.from(zipSync({ 'a.eml': strToU8(both[0] ?? ''), 'b.eml': strToU8(both[1] ?? '') }));
    for (const [name, content] of [
      ['enquiries.mbox', Buffer.from(mbox)],
      ['enquiries.zip', zip],
    ] as const) {
      const answer = await app.upload(name, content);
      const { id } = (await answer.json()) as { id: number };
      expect([name, (await cellsOf(id)).map(([who]) => who)]).toEqual([name, ['Ana Reis', 'Tom Okoro']]);
    }
  });
});

test.each<[string, Buffer]>([
  [
    'semicolons and umlauts',
    Buffer.from('Vorname;Nachname;E-Mail\nJürgen;Groß;j@example.org\nÄnne;Öhm;a@example.org\n', 'latin1'),
  ],
  ['tabs in UTF-16', Buffer.from('\ufeffName\tPhone\nAna Reis\t01632 960001\nTom Okoro\t01632 960002\n', 'utf16le')],
  [
    'titles above',
    Buffer.from(
      'Members 2026\n\nName,Email,Born\nAna Reis,a@example.org,03/04/1971\nTom Okoro,t@example.org,25/04/1972\n',
    ),
  ],
  ['no heading', Buffer.from('Ana,Reis,ana@example.org\nTom,Okoro,tom@example.org\nIda,Moor,ida@example.org\n')],
])('what the browser sees of a file before it is sent is what the server reads: %s', async (name, bytes) => {
  const reading = new FileReading();
  reading.push(new Uint8Array(bytes));
  const seen = reading.end();
  if (!seen.ok || seen.value.kind !== 'table') throw new Error('the browser does not read it');
  const answer = await app.upload(`${name}.csv`, bytes);
  const { id } = (await answer.json()) as { id: number };
  const intake = await detail(id);
  expect(intake.shape).toEqual(seen.value.sniff.shape);
  expect(intake.rowCount).toBe(seen.value.rowCount);
  expect(intake.guesses).toEqual(guessesOf(seen.value.sniff));
});

test('layouts of what goes out are kept, changed and dropped; a saved mapping has a sample file that it reads', async () => {
  const keep = (fields: string[]) =>
    app.json<{ id: number }>('/export-layouts', 'POST', { name: 'Crew', fields, format: 'csv' });
  const { id } = await keep(['name', 'email']);
  expect((await keep(['tel'])).id).toBe(id);
  expect(await app.json('/export-layouts')).toEqual([{ id, name: 'Crew', fields: ['tel'], format: 'csv' }]);
  await app.json(`/export-layouts/${id}`, 'DELETE');
  expect(await app.json('/export-layouts')).toEqual([]);
  await runImport(app, await bringFile(app, 'crew.csv', 'Name,E-mail\nZora Vane,zora@example.org\n'));
  const [saved] = await app.json<{ id: number; name: string }[]>('/saved-mappings');
  const sample = await (await app.request(`/saved-mappings/${saved?.id}/sample.csv`)).text();
  const intake = await detail(await bringFile(app, 'sample.csv', sample));
  expect(intake.readAs?.name).toBe(saved?.name);
  const counts = await runImport(app, intake.id);
  expect(counts.counts).toMatchObject({ held: 0 });
});
