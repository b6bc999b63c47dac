import { Hono } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import type { MiddlewareHandler } from 'hono';
import { signInSchema, type Health } from '@gray-loom/wire';
import { Problem } from '../../http/problem';
import { sessionOf, signIn, signOut } from './sign-in';
import { body, type AppEnv, type Services } from '../../http/context';

const COOKIE = 'gray_loom';
const TRIES = 10;
const TRIES_WINDOW_MS = 5 * 60_000;

/** Health and sign-in: all that answers without a session. */
export function sessionRoutes({ config, database }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();
  const failures = new Map<string, { count: number; sinceMs: number }>();

  routes.get('/health', async (c) => {
    const { rows } = await database.pool.query<{ n: number }>(
      `select coalesce(sum(n), 0)::int as n from tally where kind = 'live' and who = 'person'`,
    );
    return c.json<Health>({ status: 'ok', contacts: rows[0]?.n ?? 0, version: config.version });
  });

  routes.post('/session', async (c) => {
    const { email, password } = await body(c, signInSchema);
    const key = email.toLowerCase();
    const before = failures.get(key);
    if (before && Date.now() - before.sinceMs < TRIES_WINDOW_MS && before.count >= TRIES) {
      throw new Problem(
        429,
        'tooManyTries',
        'Too many tries with a wrong password. Wait five minutes, then try again.',
      );
    }
    const opened = await signIn(database, email, password, config.sessionDays);
    if (!opened) {
      const count = before && Date.now() - before.sinceMs < TRIES_WINDOW_MS ? before.count + 1 : 1;
      failures.set(key, { count, sinceMs: count === 1 ? Date.now() : (before?.sinceMs ?? Date.now()) });
      throw new Problem(401, 'wrongSignIn', 'E-mail and password do not fit together. Check both and try again.');
    }
    failures.delete(key);
    setCookie(c, COOKIE, opened.token, {
      httpOnly: true,
      sameSite: 'Strict',
      path: '/',
      maxAge: config.sessionDays * 86_400,
    });
    return c.json(opened.info);
  });

  routes.get('/session', async (c) => {
    const token = getCookie(c, COOKIE);
    const info = token ? await sessionOf(database, token) : null;
    if (!info) throw new Problem(401, 'signedOut', 'You are not signed in.');
    return c.json(info);
  });

  routes.delete('/session', async (c) => {
    const token = getCookie(c, COOKIE);
    if (token) await signOut(database, token);
    deleteCookie(c, COOKIE, { path: '/' });
    return c.body(null, 204);
  });
  return routes;
}

/** Lets nothing through without a session; every request carries its actor from here on. */
export function requireSession({ database }: Services): MiddlewareHandler<AppEnv> {
  return async (c, next) => {
    const token = getCookie(c, COOKIE);
    const info = token ? await sessionOf(database, token) : null;
    if (!info)
      throw new Problem(
        401,
        'signedOut',
        'You are not signed in, or your session ended. Sign in again; what you typed is kept.',
      );
    c.set('actor', info);
    await next();
  };
}
