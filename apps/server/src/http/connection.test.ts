import { expect, test } from '@jest/globals';
import { Hono } from 'hono';
import { connectionOf } from './connection';

const PROXY = '10.0.0.2';

async function seen(peer: string, headers: Record<string, string>, trustedProxies: string[] = [PROXY]) {
  const app = new Hono();
  app.get('/', (c) => c.json(connectionOf(c, { trustedProxies })));
  const answer = await app.request('/', { headers }, { incoming: { socket: { remoteAddress: peer } } });
  return (await answer.json()) as unknown;
}

const FORWARDED = {
  host: 'inside:4310',
  'x-forwarded-for': '198.51.100.7',
  'x-forwarded-proto': 'https',
  'x-forwarded-host': 'contacts.quillhaven.example',
};

test('what a declared proxy says is believed', async () => {
  const browser = { address: '198.51.100.7', isSecure: true, host: 'contacts.quillhaven.example' };
  expect(await seen(PROXY, FORWARDED)).toEqual(browser);
  expect(await seen(`::ffff:${PROXY}`, FORWARDED)).toEqual(browser);
});

test('what anybody else says of themselves is not', async () => {
  const plain = { address: '198.51.100.9', isSecure: false, host: 'inside:4310' };
  expect(await seen('198.51.100.9', FORWARDED)).toEqual(plain);
  expect(await seen('198.51.100.9', FORWARDED, [])).toEqual(plain);
});

test('an address that a browser made up before the proxy added its own does not count', async () => {
  const made = { ...FORWARDED, 'x-forwarded-for': '203.0.113.1, 198.51.100.7, 10.0.0.3' };
  expect(await seen(PROXY, made, [PROXY, '10.0.0.3'])).toMatchObject({ address: '198.51.100.7' });
});

test('without a network between, the address is empty and the host that of the request', async () => {
  const app = new Hono();
  app.get('/', (c) => c.json(connectionOf(c, { trustedProxies: [PROXY] })));
  const answer = await app.request('/', { headers: { host: 'here' } });
  expect(await answer.json()).toEqual({ address: '', isSecure: false, host: 'here' });
});
