import { createHmac, timingSafeEqual } from 'node:crypto';
import type { HeardCall, HeardRequest } from '../connector';

/** A signature that is further from our time than this was made at another time, or by a clock that nobody knows. */
const MOST_APART_S = 300;
const KINDS: ReadonlyMap<unknown, HeardCall['kind']> = new Map([
  ['people', 'records'],
  ['push', 'pushed'],
  ['calls', 'results'],
]);

/** Reads a call of the dialer: `X-Signature: t=SECONDS,v1=HMAC`, HMAC-SHA-256 over the time, a full stop and the body. */
export function readDialerCall({
  body,
  header,
  secret,
  nowMs,
  aheadMs,
}: HeardRequest): HeardCall | { refused: string } {
  const found = /^t=(\d{1,12}),v1=([0-9a-f]{64})$/.exec(header('x-signature') ?? '');
  if (!found) return { refused: 'It is not signed.' };
  const [, seconds = '', given = ''] = found;
  const right = createHmac('sha256', secret).update(`${seconds}.${body}`).digest();
  if (!timingSafeEqual(right, Buffer.from(given, 'hex'))) return { refused: 'The signature is false.' };
  if (Math.abs(Number(seconds) - (nowMs + aheadMs) / 1000) > MOST_APART_S)
    return { refused: 'It was signed long ago.' };
  let said: unknown;
  try {
    said = JSON.parse(body);
  } catch {
    return { refused: 'It cannot be read.' };
  }
  const { kind, ids } = (said ?? {}) as { kind?: unknown; ids?: unknown };
  const known = KINDS.get(kind);
  if (!known || !Array.isArray(ids)) return { refused: 'It says nothing that is known.' };
  return { kind: known, ids: ids.filter(Number.isSafeInteger).map((id) => `#${String(id)}`) };
}
