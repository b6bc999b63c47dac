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

describe('wrong passwords', () => {
  const tryAs = (address: string, email: string, password = 'no') =>
    app.from(address)('/session', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email, password }),
    });
  const statuses = async (tries: Promise<Response>[]) => {
    const count: Record<number, number> = {};
    for (const { status } of await Promise.all(tries)) count[status] = (count[status] ?? 0) + 1;
    return count;
  };
  const OWNER = 'ines@quillhaven.example';

  test('forty at once are counted as forty', async () => {
    const tries = Array.from({ length: 40 }, () => tryAs('192.0.2.1', 'tom@quillhaven.example'));
    expect(await statuses(tries)).toEqual({ 401: 10, 429: 30 });
  });
  test('an address that tries many accounts is refused all of them', async () => {
    const tries = Array.from({ length: 70 }, (_, i) => tryAs('192.0.2.2', `person${i}@quillhaven.example`));
    expect(await statuses(tries)).toEqual({ 401: 60, 429: 10 });
  });
  test('an office that signs in from one address with the right passwords is kept out by nothing', async () => {
    for (let i = 0; i < 62; i++) expect((await tryAs('192.0.2.3', OWNER, 'a good password')).status).toBe(200);
    expect((await tryAs('192.0.2.3', OWNER)).status).toBe(401);
    await app.database.pool.query(`delete from sign_in_try where kind = 'account'`);
  });
  test('many addresses that try one account do not keep its owner out where they have signed in before', async () => {
    expect((await tryAs('198.51.100.1', OWNER, 'a good password')).status).toBe(200);
    const tries = Array.from({ length: 110 }, (_, i) => tryAs(`203.0.113.${i}`, OWNER));
    expect((await statuses(tries))[429]).toBeGreaterThan(0);
    expect((await tryAs('203.0.113.200', OWNER, 'a good password')).status).toBe(429);
    expect((await tryAs('198.51.100.1', OWNER, 'a good password')).status).toBe(200);
  });
  test('after five minutes counting begins anew', async () => {
    await statuses(Array.from({ length: 12 }, () => tryAs('192.0.2.9', 'kari@quillhaven.example')));
    expect((await tryAs('192.0.2.9', 'kari@quillhaven.example')).status).toBe(429);
    await app.database.pool.query(`update sign_in_try set since = now() - interval '6 minutes'`);
    expect((await tryAs('192.0.2.9', 'kari@quillhaven.example')).status).toBe(401);
  });
  test('what is kept names nobody', async () => {
    const { rows } = await app.database.pool.query<{ kept: string }>(
      `select string_agg(t::text, ' ') as kept from sign_in_try t`,
    );
    expect(rows[0]?.kept).not.toMatch(/quillhaven|192\.0\.2|203\.0\.113/);
  });
});
