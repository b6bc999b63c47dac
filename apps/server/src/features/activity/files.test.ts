import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import type { ActivityPage } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let ona: number;
beforeAll(async () => {
  app = await startTestApp();
  ona = (await app.enter({ givenName: 'Ona', familyName: 'Quay' })).contactId;
});
afterAll(() => app.end());

const put = (contactId: number, name: string, bytes: Buffer) =>
  app.request(`/contacts/${contactId}/files`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': encodeURIComponent(name) },
    body: new Uint8Array(bytes),
  });
const kept = async (contactId: number, name: string, bytes: Buffer) => {
  const answer = await put(contactId, name, bytes);
  expect([answer.status, name]).toEqual([201, name]);
  return ((await answer.json()) as { id: number; runId: number }) ?? { id: 0, runId: 0 };
};
const refusal = async (contactId: number, name: string, bytes: Buffer) => {
  const answer = await put(contactId, name, bytes);
  return [answer.status, ((await answer.json()) as { detail: string }).detail];
};
const files = async (contactId: number) =>
  (await app.json<ActivityPage>(`/contacts/${contactId}/activities?kinds=file`)).entries;
const stored = async () =>
  (await app.database.pool.query<{ n: number }>('select count(*)::int as n from stored_file')).rows[0]?.n;

const png = (red: number) =>
  sharp({ create: { width: 40, height: 20, channels: 3, background: { r: red, g: 0, b: 0 } } })
    .png()
    .toBuffer();
const PDF = Buffer.from('%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF');
const WINDOWS_PROGRAM = Buffer.concat([Buffer.from('MZ'), Buffer.alloc(200, 1)]);

describe('a file on a contact', () => {
  test('is told by its content, kept once each, renamed, removed and brought back', async () => {
    const picture = await png(10);
    const { id } = await kept(ona, 'Årsmøte\u202E plan.txt', picture);
    const [entry] = await files(ona);
    expect([entry?.activity.what, entry?.activity.file?.mediaType]).toEqual(['Årsmøte plan.txt', 'image/png']);
    const { contactId: ida } = await app.enter({ givenName: 'Ida', familyName: 'Quay' });
    await kept(ida, 'the same.png', picture);
    expect(await stored()).toBe(1);
    expect(await refusal(ona, 'again.png', picture)).toEqual([
      409,
      '‘again.png’ is here already, as ‘Årsmøte plan.txt’.',
    ]);
    await app.json(`/activities/${id}`, 'PATCH', { version: 1, what: 'Plan.png' });
    const { runId } = await app.json<{ runId: number }>(`/activities/${id}`, 'DELETE');
    expect(await files(ona)).toEqual([]);
    expect((await app.request(`/activities/${id}/file`)).status).toBe(404);
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect((await files(ona)).map(({ activity }) => activity.what)).toEqual(['Plan.png']);
  });

  test('is saved as it came, and shown only as a picture drawn anew or a PDF', async () => {
    const { id } = await kept(ona, 'deed “1”.pdf', PDF);
    const saved = await app.request(`/activities/${id}/file`);
    expect(Buffer.from(await saved.arrayBuffer())).toEqual(PDF);
    expect(saved.headers.get('content-type')).toBe('application/octet-stream');
    expect(saved.headers.get('content-disposition')).toMatch(
      /^attachment; filename="deed _1_.pdf"; filename\*=UTF-8''/,
    );
    expect(saved.headers.get('content-security-policy')).toMatch(/sandbox/);
    const shown = await app.request(`/activities/${id}/file?show=true`);
    expect([shown.headers.get('content-type'), shown.headers.get('x-content-type-options')]).toEqual([
      'application/pdf',
      'nosniff',
    ]);
    expect((await app.request(`/activities/${id}/picture`)).status).toBe(422);

    const picture = await kept(ona, 'hull.png', await png(200));
    const drawn = await app.request(`/activities/${picture.id}/picture?edge=16`);
    const { format, width } = await sharp(Buffer.from(await drawn.arrayBuffer())).metadata();
    expect([drawn.headers.get('content-type'), format, width]).toEqual(['image/webp', 'webp', 16]);

    const page = await kept(ona, 'page.html', Buffer.from('<html><script>alert(1)</script>'));
    const asked = await app.request(`/activities/${page.id}/file?show=true`);
    expect([asked.headers.get('content-type'), asked.headers.get('content-disposition')]).toEqual([
      'application/octet-stream',
      expect.stringMatching(/^attachment/),
    ]);
  });

  test.each([
    ['a program that calls itself a picture', 'photo.png', WINDOWS_PROGRAM, 'a program for Windows'],
    ['a script', 'note.txt', Buffer.from('#!/bin/sh\nrm -rf /\n'), 'is a script'],
    ['what is run by its name', 'invoice.pdf.bat', Buffer.from('echo off'), 'program by its name'],
    ['nothing', 'empty.pdf', Buffer.alloc(0), 'is empty'],
    ['no name', '../', PDF, 'has no name'],
  ])('%s is refused in words', async (_, name, bytes, words) => {
    const before = await files(ona);
    expect(await refusal(ona, name, bytes)).toEqual([422, expect.stringContaining(words)]);
    expect(await files(ona)).toEqual(before);
  });

  test('a picture that is cut off is kept, and says so where it would be shown', async () => {
    const whole = await png(77);
    const { id } = await kept(ona, 'half.png', whole.subarray(0, 60));
    const answer = await app.request(`/activities/${id}/picture`);
    expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining('damaged')]);
  });

  test('one that is too large is refused, and a rename to a program too', async () => {
    expect((await put(ona, 'film.mp4', Buffer.alloc(26 * 1024 * 1024))).status).toBe(413);
    const { id } = await kept(ona, 'list.csv', Buffer.from('a,b\n1,2\n'));
    const answer = await app.request(`/activities/${id}`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ version: 1, what: 'list.csv.exe' }),
    });
    expect(answer.status).toBe(422);
  });

  test('goes along with a merge, and back with its undo', async () => {
    const [a, b] = await Promise.all(
      ['Nell', 'Nelly'].map(async (givenName) => (await app.enter({ givenName, familyName: 'Abara' })).contactId),
    );
    const { id } = await kept(b ?? 0, 'nelly.pdf', Buffer.concat([PDF, Buffer.from('\n% nelly')]));
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into match_group (member_key, member_ids, state, band, probability01, bits, name, model_version)
       values ('files.test', array[$1::bigint, $2::bigint], 'open', 'likely', 1, 1, 'Nell', 1) returning id`,
      [a, b],
    );
    const { runId } = await app.json<{ runId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
      memberIds: [a, b],
      keepId: a,
      choices: {},
      versions: {},
    });
    expect((await files(a ?? 0)).map((entry) => entry.id)).toEqual([id]);
    await app.json(`/runs/${runId}/undo`, 'POST');
    expect([await files(a ?? 0), (await files(b ?? 0)).map((entry) => entry.id)]).toEqual([[], [id]]);
  });

  test('is part of everything that is handed over, beside what is held otherwise', async () => {
    const { contactId } = await app.enter({ givenName: 'Una', familyName: 'Strand', email: 'una@example.org' });
    await app.json(`/contacts/${contactId}/activities`, 'POST', { kind: 'note', text: 'Prefers larch.' });
    const picture = await png(33);
    const other = await png(34);
    await kept(contactId, 'hull.png', picture);
    await kept(contactId, 'hull.png', other);
    const answer = await app.request(`/contacts/${contactId}/everything`);
    const inside = unzipSync(new Uint8Array(await answer.arrayBuffer()));
    const text = (name: string) => new TextDecoder().decode(inside[name]);
    expect(Object.keys(inside).sort()).toEqual([
      'card.vcf',
      'everything.json',
      'everything.txt',
      'files/hull (2).png',
      'files/hull.png',
    ]);
    expect(Buffer.from(inside['files/hull.png'] ?? [])).toEqual(other);
    expect(text('everything.txt')).toMatch(/E-mail: una@example\.org[^]*note {2}Prefers larch\./);
    const all = JSON.parse(text('everything.json')) as {
      contact: { name: string };
      activity: object[];
      history: object[];
    };
    expect([all.contact.name, all.activity.length, all.history.length]).toEqual(['Una Strand', 3, 1]);
  });

  test('is shown to nobody whose remit its contact is outside of', async () => {
    const { id } = await kept(ona, 'ours.pdf', Buffer.concat([PDF, Buffer.from('\n% ours')]));
    const asTom = await app.signedInAs('viewer', 'Tom Okoro');
    expect((await asTom(`/activities/${id}/file`)).status).toBe(200);
    await app.database.pool.query(
      `insert into account_remit (account_id, owners, sources, tags, areas) select id, '{Tom Okoro}', '{}', '{}', '{}' from account where name = 'Tom Okoro'`,
    );
    for (const path of ['file', 'file?show=true', 'picture'])
      expect((await asTom(`/activities/${id}/${path}`)).status).toBe(404);
  });
});
