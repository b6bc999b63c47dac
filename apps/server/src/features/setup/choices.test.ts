import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { CountedChoice } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let key: string;
beforeAll(async () => {
  app = await startTestApp();
  ({ key } = await app.json<{ key: string }>('/fields', 'POST', {
    name: 'Certificates',
    type: 'choices',
    choices: ['Helm', 'Crew', 'First aid'],
  }));
  for (const [name, ...held] of [['Ana', 'Helm', 'Crew'], ['Tom', 'Helm'], ['Kari']] as [string, ...string[]][])
    await app.json('/contacts', 'POST', {
      values: [{ field: 'givenName', text: name }, ...(held.length ? [{ field: key, text: held.join('; ') }] : [])],
      despite: true,
    });
});
afterAll(() => app.end());

const choices = () => app.json<CountedChoice[]>(`/fields/${key}/choices`);
const set = (labels: string[], more: object = {}) => app.json(`/fields/${key}`, 'PATCH', { choices: labels, ...more });

test('choices are counted in their order', async () => {
  expect(await choices()).toEqual([
    { label: 'Helm', count: 2, listed: true },
    { label: 'Crew', count: 1, listed: true },
    { label: 'First aid', count: 0, listed: true },
  ]);
});

test('one that somebody has does not go, one that nobody has does', async () => {
  const refused = await refusal(set(['Helm', 'First aid']));
  expect([refused.status, refused.code, refused.detail]).toEqual([
    409,
    'choiceInUse',
    "1 contact has 'Crew'. Merge it into another choice instead.",
  ]);
  await set(['Crew', 'Helm']);
  expect((await choices()).map(({ label }) => label)).toEqual(['Crew', 'Helm']);
});

test('one much like another is asked about once, and merged with everybody who has it', async () => {
  const refused = await refusal(set(['Crew', 'Helm', 'Crews']));
  expect([refused.status, refused.code, refused.facts]).toMatchObject([409, 'nearChoice', { like: 'Crew' }]);
  await set(['Crew', 'Helm', 'Crews'], { despite: true });
  await app.json('/picks/merge', 'POST', { list: key, from: 'Crew', into: 'Crews' });
  expect(await choices()).toEqual([
    { label: 'Helm', count: 2, listed: true },
    { label: 'Crews', count: 1, listed: true },
  ]);
});

test('a change of a value that changes nothing is none', async () => {
  await app.json('/picks', 'POST', { kind: 'tag', label: 'Slipway crew' });
  const sent = { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: '{}' };
  expect((await app.request('/picks/tag/Slipway%20crew', sent)).status).toBe(204);
  expect((await app.request('/picks/tag/Nobody%20has%20it', sent)).status).toBe(404);
});
