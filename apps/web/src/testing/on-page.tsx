import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';

/** A request that was sent. */
export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

/** Answers of a server by "METHOD /path"; a number is a refusal with that status. Gives what was asked. */
export function serve(answers: Record<string, unknown>): Sent[] {
  const sent: Sent[] = [];
  globalThis.fetch = (async (input: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    const path = input.replace(/^\/api/, '');
    sent.push({ method, path, body: typeof init.body === 'string' ? JSON.parse(init.body) : null });
    const known = answers[`${method} ${path}`];
    const answer = typeof known === 'function' ? (known as (body: unknown) => unknown)(sent.at(-1)?.body) : known;
    if (answer === undefined && !(`${method} ${path}` in answers)) throw new TypeError('nobody answers');
    if (answer instanceof Response) return answer;
    return new Response(answer === undefined ? null : JSON.stringify(answer), {
      status: answer === undefined ? 204 : 200,
    });
  }) as typeof fetch;
  return sent;
}

/** Holds answers to a method back, after `serve`; each is given by calling the first that waits. */
export function heldBack(method: string): (() => void)[] {
  const waiting: (() => void)[] = [];
  const answer = globalThis.fetch;
  globalThis.fetch = (async (input: string, init: RequestInit = {}) => {
    if (init.method === method) await new Promise<void>((done) => waiting.push(done));
    return answer(input, init);
  }) as typeof fetch;
  return waiting;
}

/** A refusal as the server words it. */
export function refusal(status: number, code: string, detail: string, facts: Record<string, unknown> = {}): Response {
  return new Response(JSON.stringify({ type: '', title: code, status, code, detail, facts }), { status });
}

/** A part of the interface on a page of its own, and a person in front of it; `at` is its address. */
export function onPage(part: ReactNode, at = '/'): UserEvent {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } });
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>{part}</MemoryRouter>
    </QueryClientProvider>,
  );
  return userEvent.setup();
}
