import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ContactDetail, StopAnswer } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const stop = (addresses: string[], channels = ['email', 'call'], how = 'by letter') =>
  app.json<{ runId: number }>('/stops', 'POST', { addresses, channels, how });
const ask = (find: string) => app.json<StopAnswer>(`/stops?find=${encodeURIComponent(find)}`);
const closed = async (id: number) =>
  (await app.json<ContactDetail>(`/contacts/${id}`)).permissions.channels
    .filter(({ state }) => state === 'optedOut')
    .map(({ channel }) => channel);

test('an address is stopped before anybody has it, and whoever gets it later is stopped too', async () => {
  await stop(['Ona.Quay@example.org', '07700 900123']);
  expect(await ask('ona.quay@example.org')).toMatchObject({
    isAddress: true,
    evidence: [{ channel: 'email', state: 'optedOut', how: 'by letter', by: 'Ines Carvalho' }],
    people: [],
  });
  const { contactId } = await app.enter({
    givenName: 'Ona',
    familyName: 'Quay',
    email: 'ona.quay@example.org',
    tel: '+44 7700 900123',
  });
  expect(await closed(contactId)).toEqual(['email', 'call']);
  const { people } = await ask('Ona Quay');
  expect(people).toMatchObject([{ id: contactId, closed: ['email', 'call'] }]);
  expect(people[0]?.evidence.map(({ address }) => address).sort()).toEqual(['07700 900123', 'Ona.Quay@example.org']);
  expect((await ask('+44 (0)7700 900123')).people.map(({ id }) => id)).toEqual([contactId]);
});

test('a mailbox takes what is said of mailboxes, a number what is said of numbers', async () => {
  await stop(['tom@example.org', '+44 7700 900456'], ['text']);
  expect((await ask('tom@example.org')).evidence).toEqual([]);
  expect((await ask('+44 7700 900456')).evidence.map(({ channel }) => channel)).toEqual(['text']);
  expect((await refusal(stop(['tom@example.org'], ['call']))).code).toBe('otherChannels');
});

test('what is no address is named, and nothing is kept', async () => {
  const refused = await refusal(stop(['good@example.org', 'nobody', '12']));
  expect(refused).toMatchObject({ code: 'noAddress', facts: { addresses: ['nobody', '12'], count: 2 } });
  expect((await ask('good@example.org')).evidence).toEqual([]);
  expect((await refusal(stop([]))).status).toBe(422);
});

test('all stops of addresses are listed, the latest first, and one is lifted on the word of whoever has it', async () => {
  await stop(['last@example.org'], ['email'], 'on the phone');
  expect((await ask('')).evidence[0]?.address).toBe('last@example.org');
  const lift = (addresses: string[], how: string) =>
    app.json('/stops', 'POST', { addresses, channels: ['email'], state: 'allowed', how });
  expect((await refusal(lift(['last@example.org'], ''))).status).toBe(422);
  expect((await refusal(lift(['last@example.org', 'tom@example.org'], 'wrote again'))).code).toBe('oneAtATime');
  await lift(['last@example.org'], 'wrote that it was a slip');
  expect((await ask('last@example.org')).evidence.map(({ state }) => state)).toEqual(['allowed', 'optedOut']);
  const { contactId } = await app.enter({ givenName: 'Last', familyName: 'One', email: 'last@example.org' });
  expect(await closed(contactId)).toEqual([]);
});
