import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, ContactPage, Labels } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const HOME = { street: '12 Slip Lane', locality: 'Quillhaven', region: 'Devon', postalCode: 'EX4 4RN', country: 'GB' };

async function person(givenName: string, familyName: string, more: object[] = []): Promise<number> {
  const { contactId } = await app.json<{ contactId: number }>('/contacts', 'POST', {
    values: [{ field: 'givenName', text: givenName }, { field: 'familyName', text: familyName }, ...more],
  });
  return contactId;
}
const stop = (id: number, channel: string) =>
  app.json(`/contacts/${id}/permissions`, 'POST', { channel, state: 'optedOut', how: 'by letter' });

test('labels: one for a couple, none for who wants no post or has no address, in the form of each country', async () => {
  const tom = await person('Tom', 'Okoro', [{ field: 'adr', value: HOME }]);
  await person('Ana', 'Reis', [
    { field: 'adr', value: HOME },
    { field: 'related', value: { relation: 'spouse', to: tom } },
  ]);
  await person('Kari', 'Pike', [
    { field: 'adr', value: { street: 'Deichweg 4', locality: 'Kiel', postalCode: '24103', country: 'DE' } },
  ]);
  await stop(await person('Rhys', 'Adair', [{ field: 'adr', value: HOME }]), 'post');
  await person('Edith', 'Bowen');
  const labels = await app.json<Labels>('/labels');
  expect(labels).toMatchObject({ withoutAddress: 1, noPost: 1, together: 1, more: false });
  expect(labels.labels.map(({ lines }) => lines)).toEqual([
    ['Tom Okoro and Ana Reis', '12 Slip Lane', 'Quillhaven', 'Devon', 'EX4 4RN'],
    ['Kari Pike', 'Deichweg 4', '24103 Kiel', 'Germany'],
  ]);
});

test('a row of the list shows the further fields it is asked for', async () => {
  const { key } = await app.json<{ key: string }>('/fields', 'POST', { name: 'Boat length', type: 'range' });
  await person('Morag', 'Treloar', [
    { field: key, text: '12 to 16' },
    { field: 'email', text: 'one@example.org' },
    { field: 'email', text: 'two@example.org' },
  ]);
  const { rows } = await app.json<ContactPage>(`/contacts?find=treloar&fields=${key},email,nickname`);
  expect(rows[0]?.extra).toEqual({ [key]: '12 to 16', email: 'one@example.org; two@example.org', nickname: '' });
  const many = Array.from({ length: 150 }, (_, i) => `custom.${i + 900}`);
  const wide = await app.json<ContactPage>(`/contacts?find=treloar&fields=${[...many, key].join(',')}`);
  expect(wide.rows[0]?.extra[key]).toBe('12 to 16');
});

test('what is taken out: chosen fields in their order, by tabs, and lines of JSON with labels', async () => {
  await person('=SUM', 'Sørli', [
    { field: 'email', text: 'sorli@example.org', label: 'home' },
    { field: 'nickname', text: 'Bo\tat' },
  ]);
  const text = async (path: string) => (await app.request(path)).text();
  const csv = (await text('/contacts.csv?find=sorli&fields=nickname,name,nothing')).split('\r\n');
  expect(csv[0]).toBe('Contact number,Kind,Nickname,Name');
  expect(csv[1]).toMatch(/^\d+,person,Bo at,'=SUM Sørli$/);
  const tsv = (await text('/contacts.tsv?find=sorli&fields=email')).split('\r\n');
  expect(tsv[0]).toBe(['Contact number', 'Kind', 'E-mail', 'E-mail label'].join('\t'));
  const line = JSON.parse(await text('/contacts.jsonl?find=sorli')) as { name: string; fields: object[] };
  expect(line.name).toBe('=SUM Sørli');
  expect(line.fields).toContainEqual({ field: 'E-mail', values: [{ value: 'sorli@example.org', label: 'home' }] });
});

test('what was said to a record that was merged away still holds, and goes back with it', async () => {
  const kept = await person('Leif', 'Amundsen', [{ field: 'email', text: 'leif@example.org' }]);
  const other = await person('Leif', 'Amundsen', [{ field: 'tel', text: '01632 960333' }]);
  await stop(other, 'call');
  const { rows } = await app.database.pool.query<{ id: number }>(
    `insert into match_group (member_ids, member_key, bits, probability01, band, state, name, model_version)
       values ($1, $2, 20, 0.99, 'certain', 'open', 'Leif Amundsen', 1) returning id`,
    [[kept, other], [kept, other].sort((a, b) => a - b).join(',')],
  );
  const merged = await app.json<{ runId: number }>(`/duplicates/${rows[0]?.id}/merge`, 'POST', {
    memberIds: [kept, other],
    keepId: kept,
    choices: {},
    versions: {},
  });
  const callOf = async () =>
    (await app.json<ContactDetail>(`/contacts/${kept}`)).permissions.channels.find(({ channel }) => channel === 'call')
      ?.state;
  expect(await callOf()).toBe('optedOut');
  expect((await app.json<ContactPage>('/contacts?find=amundsen')).rows[0]?.stops).toEqual(['call']);
  await app.json(`/runs/${merged.runId}/undo`, 'POST');
  expect(await callOf()).toBe('unknown');
});
