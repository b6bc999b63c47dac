import { createHmac } from 'node:crypto';

/** What is told when something happened there: which people, which calls, or that somebody was marked to be sent over. */
export interface HookEvent {
  kind: 'people' | 'calls' | 'push';
  ids: number[];
}

/** Signs a body: `t=SECONDS,v1=HMAC`, over the time, a full stop and the body. */
export function signatureOf(secret: string, body: string, seconds: number): string {
  return `t=${seconds},v1=${createHmac('sha256', secret).update(`${seconds}.${body}`).digest('hex')}`;
}

/** Tries of one call, with a pause that doubles. */
const TRIES = 4;
const PAUSE_MS = 500;

/** Tells whoever asked to be told, in the background; what is not taken is tried again a few times and then let go. */
export async function callHook(
  hook: { url: string; secret: string },
  event: HookEvent,
  { now = Date.now, times = 1 }: { now?: () => number; times?: number } = {},
): Promise<boolean> {
  const body = JSON.stringify({ ...event, sentAt: new Date(now()).toISOString() });
  let taken = false;
  // A tool that is not sure whether it was heard tells it twice.
  for (let time = 0; time < times; time++)
    for (let tries = 0; tries < TRIES; tries++) {
      const answer = await fetch(hook.url, {
        method: 'POST',
        headers: {
          'Content-Type': 'application/json',
          'X-Signature': signatureOf(hook.secret, body, Math.floor(now() / 1000)),
        },
        body,
        signal: AbortSignal.timeout(5000),
      }).catch(() => null);
      if (answer && answer.status < 500) {
        taken = answer.ok;
        break;
      }
      await new Promise((done) => setTimeout(done, PAUSE_MS * 2 ** tries));
    }
  return taken;
}
