import { expect, test } from '@jest/globals';
import { refusal, serve } from '../testing/on-page';
import { api, Refused, Unreachable } from './api';

const failure = (promise: Promise<unknown>) =>
  promise.then(
    () => null,
    (error: unknown) => error,
  );

test('what is sent is JSON, and what comes back is given as it is', async () => {
  const sent = serve({ 'POST /runs/7/undo': { runId: 8 }, 'DELETE /picks/3': undefined });
  expect(await api.post('/runs/7/undo')).toEqual({ runId: 8 });
  expect(await api.delete('/picks/3')).toBeUndefined();
  expect(sent).toEqual([
    { method: 'POST', path: '/runs/7/undo', body: {} },
    { method: 'DELETE', path: '/picks/3', body: null },
  ]);
});

test('a refusal keeps the words and facts of the server', async () => {
  serve({ 'PATCH /contacts/1': refusal(409, 'valueChanged', 'Somebody was faster.', { now: 3 }) });
  const error = await failure(api.patch('/contacts/1', {}));
  expect(error).toBeInstanceOf(Refused);
  expect((error as Refused).message).toBe('Somebody was faster.');
  expect((error as Refused).problem.facts).toEqual({ now: 3 });
});

test('an answer that is no problem document is a refusal with its number', async () => {
  serve({ 'GET /tape': new Response('<html>bad gateway</html>', { status: 502 }) });
  const error = await failure(api.get('/tape'));
  expect((error as Refused).message).toBe('The server answered 502. Try again.');
});

test('a server that does not answer is told apart from one that refuses', async () => {
  serve({});
  expect(await failure(api.get('/tape'))).toBeInstanceOf(Unreachable);
});
