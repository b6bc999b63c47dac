import { expect, test } from '@jest/globals';
import { Hono } from 'hono';
import { createLogger } from '../log';
import { eventRoutes } from './event-routes';

test('whoever is signed out meanwhile hears nothing any more', async () => {
  let isIn = true;
  let listening = false;
  const events = {
    subscribe: () => {
      listening = true;
      return () => (listening = false);
    },
  };
  const [route] = eventRoutes({ events, log: createLogger('test', 'silent') } as never, 20);
  const app = new Hono();
  app.get(
    '/events',
    (context) => route?.handle({ context, stillIn: () => Promise.resolve(isIn) } as never) as Promise<Response>,
  );
  const answer = await app.request('/events');
  const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
  let heard = '';
  while (heard.split('event: ping').length < 4) heard += (await reader?.read())?.value ?? '';
  expect(listening).toBe(true);
  isIn = false;
  for (let done = false; !done;) ({ done } = (await reader?.read()) ?? { done: true });
  expect(listening).toBe(false);
});
