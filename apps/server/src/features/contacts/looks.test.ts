import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Looker } from '@gray-loom/wire';
import type { LoomEvent } from '../../feed/events';
import { EventHub } from '../../feed/events';
import { createLogger } from '../../log';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let told: LoomEvent[];
let hub: EventHub;
beforeAll(async () => {
  app = await startTestApp();
  hub = new EventHub(app.database, createLogger('test', 'silent'));
  await hub.open();
  hub.subscribe((event) => {
    if (event.topic === 'looks') told.push(event);
  });
});
afterAll(async () => {
  await hub.close();
  await app.end();
});

const names = async (answer: Promise<Response>) => ((await (await answer).json()) as Looker[]).map(({ name }) => name);
const until = async (wanted: () => boolean) => {
  for (let i = 0; i < 200 && !wanted(); i++) await new Promise((done) => setTimeout(done, 25));
};

test('who has a contact on screen is told to the others, until they leave or nothing is heard any more', async () => {
  told = [];
  const { contactId } = await app.enter({ givenName: 'Kari', familyName: 'Pike' });
  const path = `/contacts/${contactId}/look`;
  const tom = await app.signedInAs('viewer', 'Tom Okoro');
  const vera = await app.signedInAs('editor', 'Vera Lund');
  const look = (request: TestApp['request']) => names(request(path, { method: 'POST' }));
  expect(await look(tom)).toEqual([]);
  expect(await look(vera)).toEqual(['Tom Okoro']);
  expect(await look(tom)).toEqual(['Vera Lund']);
  expect(await names(app.request('/contacts/999999/look', { method: 'POST' }))).toEqual([]);
  await until(() => told.filter(({ id }) => id === contactId).length >= 2);
  // Saying it again tells nobody, or two browsers would wake each other for ever.
  expect(told.filter(({ id }) => id === contactId)).toHaveLength(2);
  await vera(path, { method: 'DELETE' });
  expect(await look(tom)).toEqual([]);
  await until(() => told.filter(({ id }) => id === contactId).length >= 3);
  await look(vera);
  await app.database.pool.query(`update contact_look set until = now() - interval '1 second'`);
  expect(await look(tom)).toEqual([]);
});
