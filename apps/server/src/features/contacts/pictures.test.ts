import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import type { ContactDetail } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

describe('pictures', () => {
  const send = (bytes: Buffer) => app.request('/pictures', { method: 'POST', body: bytes as unknown as BodyInit });
  test('a picture is made smaller and loses what it tells beside itself', async () => {
    const source = await sharp({ create: { width: 2000, height: 1000, channels: 3, background: '#8a6f4d' } })
      .withExif({ IFD0: { Copyright: 'somebody' } })
      .jpeg()
      .toBuffer();
    const { hash } = (await (await send(source)).json()) as { hash: string };
    const kept = await sharp(Buffer.from(await (await app.request(`/pictures/${hash}`)).arrayBuffer())).metadata();
    expect([kept.format, kept.width, kept.height, kept.exif]).toEqual(['webp', 512, 256, undefined]);
    const { contactId } = await app.enter({ givenName: 'Ingrid', familyName: 'Sorli' });
    await app.edit(contactId, { field: 'photo', value: hash });
    expect((await app.json<ContactDetail>(`/contacts/${contactId}`)).record.f.photo?.[0]?.v).toBe(hash);
    expect((await refusal(app.edit(contactId, { field: 'photo', value: 'nothing' }))).code).toBe('noPicture');
  });
  test.each([
    ['a text', Buffer.from('not a picture'), 422],
    ['a picture cut off', Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16]), 422],
    ['40 MB', Buffer.alloc(40 * 1024 * 1024, 1), 413],
    ['nothing', Buffer.alloc(0), 422],
  ])('%s is refused', async (_name, bytes, status) => expect((await send(bytes)).status).toBe(status));
});
