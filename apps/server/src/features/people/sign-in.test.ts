import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

describe('the way in', () => {
  test('nothing but health and sign-in answers without a session', async () => {
    expect((await app.anonymous('/health')).status).toBe(200);
    for (const path of [
      '/contacts',
      '/runs',
      '/intakes',
      '/duplicates',
      '/worklist',
      '/lists',
      '/events',
      '/contacts.csv',
      '/contacts.vcf',
      '/contacts/1.vcf',
      '/labels',
      '/pictures/abc',
    ])
      expect((await app.anonymous(path)).status).toBe(401);
  });
  test('a wrong password is refused in the same words as an unknown account', async () => {
    const send = (email: string) =>
      app.anonymous('/session', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ email, password: 'no' }),
      });
    const [wrong, unknown] = [await send('ines@quillhaven.example'), await send('nobody@quillhaven.example')];
    expect([wrong.status, unknown.status]).toEqual([401, 401]);
    expect(await wrong.text()).toBe(await unknown.text());
  });
  test('the session cookie is out of reach of scripts and other sites', async () => {
    const answer = await app.anonymous('/session', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email: 'ines@quillhaven.example', password: 'a good password' }),
    });
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly.*SameSite=Strict/);
  });
  test('a request from another page is refused', async () => {
    expect(
      (
        await app.request('/duplicates/scan', {
          method: 'POST',
          headers: { Origin: 'http://elsewhere.test', Host: '127.0.0.1' },
        })
      ).status,
    ).toBe(403);
  });
});
