import type { Context, MiddlewareHandler } from 'hono';
import type { Faults } from './faults';

const sleep = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** What every stand-in does wrong on request before it looks at what was asked: slow, busy, failing. */
export function guard(faults: () => Faults, chance: () => number): MiddlewareHandler {
  let second = 0;
  let inSecond = 0;
  return async (c, next) => {
    const { latencyMs, perSecond, busy, retryAfterS, failing } = faults();
    if (latencyMs) await sleep(latencyMs);
    if (perSecond) {
      const at = Math.floor(Date.now() / 1000);
      if (at !== second) [second, inSecond] = [at, 0];
      if (++inSecond > perSecond) return c.text('Too many requests.', 429, { 'Retry-After': '1' });
    }
    if (chance() < busy) return c.text('Too many requests.', 429, { 'Retry-After': String(retryAfterS) });
    if (chance() < failing) return c.text('Not now.', 503);
    await next();
  };
}

/** An answer that never ends: pieces of a text, one after the other. */
export const endless = (piece: string): ReadableStream<Uint8Array> =>
  new ReadableStream<Uint8Array>({ pull: (stream) => stream.enqueue(new TextEncoder().encode(piece)) });

/** Ends the connection without an answer. */
export function lost(c: Context): Response {
  const { incoming } = c.env as { incoming?: { socket?: { destroy(): void } } };
  incoming?.socket?.destroy();
  return c.body(null, 204);
}
