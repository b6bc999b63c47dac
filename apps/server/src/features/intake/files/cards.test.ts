import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import type { ContactDetail, ContactPage, IntakeDetail } from '@gray-loom/wire';
import { refusal } from '../../../testing/refusal';
import { bringFile, runImport, runTrial } from '../../../testing/run-import';
import { startTestApp, type TestApp } from '../../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const contents = ({ record }: ContactDetail) =>
  Object.fromEntries(
    Object.entries(record.f).map(([field, values]) => [
      field,
      values.map(({ v, label }) => ({ v, ...(label ? { label } : {}) })),
    ]),
  );

async function find(text: string, kind = 'person'): Promise<ContactDetail> {
  const page = await app.json<ContactPage>(`/contacts?find=${encodeURIComponent(text)}&kind=${kind}`);
  expect(page.rows).toHaveLength(1);
  return app.json<ContactDetail>(`/contacts/${page.rows[0]?.id}`);
}

async function cardFile(): Promise<string> {
  const photo = await sharp({ create: { width: 900, height: 600, channels: 3, background: '#886644' } })
    .withExif({ IFD0: { Copyright: 'a place and a name' } })
    .jpeg()
    .toBuffer();
  return [
    'BEGIN:VCARD',
    'VERSION:3.0',
    'N:Reis;Ana;;Dr.;',
    'FN:Dr. Ana Reis',
    'EMAIL;TYPE=HOME:ana.reis@example.org',
    'TEL;TYPE=CELL:+44 1632 960123',
    'ADR;TYPE=HOME:;;12 Slip Lane\\nFlat 2;Quillhaven;;EX4 4RN;United Kingdom',
    'BDAY:1971-07-14',
    'CATEGORIES:regatta,open yard',
    'X-SHED:blue',
    `PHOTO;ENCODING=b;TYPE=JPEG:${photo.toString('base64')}`,
    'END:VCARD',
    'BEGIN:VCARD',
    'VERSION:4.0',
    'KIND:org',
    'FN:Tarn Timber',
    'ORG:Tarn Timber',
    'TEL;TYPE=work:+44 1632 960200',
    'END:VCARD',
    'BEGIN:VCARD',
    'VERSION:3.0',
    'this is no line of a card',
    'END:VCARD',
    '',
  ].join('\r\n');
}

describe('a file of cards', () => {
  let intakeId: number;
  test('becomes a table with a meaning for every column, and the broken card is named', async () => {
    intakeId = await bringFile(app, 'address-book.vcf', await cardFile());
    const intake = await app.json<IntakeDetail>(`/intakes/${intakeId}`);
    expect(intake.rowCount).toBe(3);
    expect(intake.shape.cards).toBe(true);
    expect(intake.issues.map(({ text }) => text)).toEqual([
      expect.stringMatching(/^Card 3, which begins in line 20, cannot be read: .+held\.$/),
    ]);
    expect(intake.mapping.columns.filter((column) => !column.target).map((column) => column.header)).toEqual([
      'X-SHED',
      'Card that cannot be read',
    ]);
    expect(await refusal(app.json(`/intakes/${intakeId}/reread`, 'POST', { delimiter: ';' }))).toMatchObject({
      status: 409,
      code: 'cards',
    });
  });

  test('is tried and brought in: people, an organization, a picture; the broken card is held', async () => {
    expect(await runTrial(app, intakeId)).toMatchObject({ new: 2, held: 1 });
    expect((await runImport(app, intakeId)).counts).toMatchObject({ new: 2, held: 1 });
    const ana = await find('ana.reis');
    expect(contents(ana)).toMatchObject({
      prefix: [{ v: 'Dr.' }],
      email: [{ v: 'ana.reis@example.org', label: 'home' }],
      tel: [{ v: '+44 1632 960123', label: 'mobile' }],
      adr: [
        {
          v: { street: '12 Slip Lane\nFlat 2', locality: 'Quillhaven', postalCode: 'EX4 4RN', country: 'GB' },
          label: 'home',
        },
      ],
      bday: [{ v: '1971-07-14' }],
      tags: [{ v: 'regatta' }, { v: 'open yard' }],
    });
    const picture = await app.request(`/pictures/${String(ana.record.f.photo?.[0]?.v)}`);
    const { width, exif } = await sharp(Buffer.from(await picture.arrayBuffer())).metadata();
    expect({ width, exif }).toEqual({ width: 512, exif: undefined });
    expect((await find('Tarn', 'organization')).kind).toBe('organization');
  });

  test.each(['3.0', '4.0'])('taken out as version %s and brought in again changes nothing', async (version) => {
    await app.edit((await find('ana.reis')).id, {
      field: 'url',
      slot: null,
      before: null,
      text: `https://reis.example/sails;1,${version}`,
      label: 'shop window',
    });
    const before = contents(await find('ana.reis'));
    for (const kind of ['person', 'organization']) {
      const file = await (await app.request(`/contacts.vcf?version=${version}&kind=${kind}`)).text();
      const again = await bringFile(app, `${kind}.vcf`, file);
      const { counts } = await runImport(app, again);
      expect(counts).toMatchObject({ new: 0, same: 1 });
    }
    expect(contents(await find('ana.reis'))).toEqual(before);
  });

  test('one contact alone is a file of one card', async () => {
    const { id } = await find('ana.reis');
    const answer = await app.request(`/contacts/${id}.vcf?version=3.0`);
    expect(answer.headers.get('content-type')).toContain('text/vcard');
    const text = await answer.text();
    expect(text.match(/BEGIN:VCARD/g)).toHaveLength(1);
    expect(text).toContain('EMAIL;TYPE=home:ana.reis@example.org');
    expect((await app.request('/contacts/999999.vcf')).status).toBe(404);
  });
});
