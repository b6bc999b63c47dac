import { createHmac, timingSafeEqual } from 'node:crypto';
import type { HeardRequest } from './connector';

/** A signature that is further from our time than this was made at another time, or by a clock that nobody knows. */
const MOST_APART_S = 300;

/**
 * Reads a call that is signed in a header `t=SECONDS,v1=HMAC`: HMAC-SHA-256 over the time, a full stop and the body. Gives what its JSON
 * says, or why it is not believed.
 */
export function readSigned(
  { body, header, secret, nowMs, aheadMs }: HeardRequest,
  name: string,
): { said: Record<string, unknown> } | { refused: string } {
  const found = /^t=(\d{1,12}),v1=([0-9a-f]{64})$/.exec(header(name) ?? '');
  if (!found) return { refused: 'It is not signed.' };
  const [, seconds = '', given = ''] = found;
  const right = createHmac('sha256', secret).update(`${seconds}.${body}`).digest();
  if (!timingSafeEqual(right, Buffer.from(given, 'hex'))) return { refused: 'The signature is false.' };
  if (Math.abs(Number(seconds) - (nowMs + aheadMs) / 1000) > MOST_APART_S)
    return { refused: 'It was signed long ago.' };
  try {
    const said: unknown = JSON.parse(body);
    return typeof said === 'object' && said !== null
      ? { said: said as Record<string, unknown> }
      : { refused: 'It says nothing that is known.' };
  } catch {
    return { refused: 'It cannot be read.' };
  }
}
