import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createVCard, deleteVCard, DAVClient, updateVCard } from 'tsdav';
import { officeCards } from '../../../../demo/office-cards';
import { startAddressBook, type AddressBook } from './server';

let book: AddressBook;
let client: DAVClient;

beforeAll(async () => {
  book = await startAddressBook({ port: 0, file: null, user: 'office', password: 'secret', cards: officeCards });
  client = new DAVClient({
    serverUrl: `http://127.0.0.1:${book.port}`,
    credentials: { username: 'office', password: 'secret' },
    authMethod: 'Basic',
    defaultAccountType: 'carddav',
  });
  await client.login();
});
afterAll(() => book.stop());

describe('a client that knows nothing of the stand-in', () => {
  test('finds the book and reads its cards', async () => {
    const [found] = await client.fetchAddressBooks();
    expect(found?.displayName).toBe('Office address book');
    const cards = await client.fetchVCards({ addressBook: found as NonNullable<typeof found> });
    expect(cards).toHaveLength(book.book.size);
    expect(cards[0]?.data).toMatch(/^BEGIN:VCARD/);
  });

  test('makes a card, changes it, loses against a newer one, and removes it', async () => {
    const [addressBook] = await client.fetchAddressBooks();
    const found = addressBook as NonNullable<typeof addressBook>;
    const headers = { authorization: `Basic ${Buffer.from('office:secret').toString('base64')}` };
    const text = (phone: string) =>
      `BEGIN:VCARD\r\nVERSION:4.0\r\nUID:u1\r\nFN:Ana Reis\r\nTEL:${phone}\r\nEND:VCARD\r\n`;
    const made = await createVCard({ addressBook: found, filename: 'ana.vcf', vCardString: text('1'), headers });
    expect(made.status).toBe(201);
    const again = await createVCard({ addressBook: found, filename: 'ana.vcf', vCardString: text('1'), headers });
    expect(again.status).toBe(412);
    const card = (await client.fetchVCards({ addressBook: found })).find(({ url }) => url.endsWith('ana.vcf'));
    const changed = await updateVCard({ vCard: { ...card, url: card?.url ?? '', data: text('2') }, headers });
    expect(changed.status).toBe(204);
    const stale = await updateVCard({ vCard: { ...card, url: card?.url ?? '', data: text('3') }, headers });
    expect(stale.status).toBe(412);
    const fresh = (await client.fetchVCards({ addressBook: found })).find(({ url }) => url.endsWith('ana.vcf'));
    expect(fresh?.data).toContain('TEL:2');
    expect((await deleteVCard({ vCard: fresh as NonNullable<typeof fresh>, headers })).status).toBe(204);
  });

  test('is told what changed since a token', async () => {
    const [addressBook] = await client.fetchAddressBooks();
    const found = addressBook as NonNullable<typeof addressBook>;
    const before = await client.syncCollection({
      url: found.url,
      props: { 'd:getetag': {} },
      syncLevel: 1,
      syncToken: found.syncToken ?? '',
    });
    expect(before.filter(({ href }) => href)).toHaveLength(0);
    book.book.put('new.vcf', 'BEGIN:VCARD\r\nVERSION:3.0\r\nUID:u2\r\nFN:New\r\nN:New;;;;\r\nEND:VCARD\r\n', 0);
    const after = await client.syncCollection({
      url: found.url,
      props: { 'd:getetag': {} },
      syncLevel: 1,
      syncToken: found.syncToken ?? '',
    });
    expect(after.filter(({ href }) => href).map(({ href }) => href)).toEqual(['/dav/books/office/new.vcf']);
  });
});
