import type { Context } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { sessionInfoAnswer, signInSchema, type SessionInfo } from '@gray-loom/wire';
import type { Actor } from '../../db/actor';
import type { Database } from '../../db/connect';
import { connectionOf } from '../../http/connection';
import { json, nothing, route, type Route } from '../../http/declare';
import { refuse } from './refusals';
import type { Surroundings } from '../../http/services';
import { countTry, forgetTry } from './sign-in-tries';
import { personOf, sessionOf, signIn, signOut } from './sign-in';

const COOKIE = 'gray_loom';
/** Name and password need no more. */
const SIGN_IN_BYTES = 8 * 1024;

/** Who sent a request; null when nobody is signed in. */
export async function identify(database: Database, context: Context): Promise<Actor | null> {
  const info = await sessionIn(database, context);
  return info && personOf(info);
}

async function sessionIn(database: Database, context: Context): Promise<SessionInfo | null> {
  const token = getCookie(context, COOKIE);
  return token ? sessionOf(database, token) : null;
}

/** Sign-in and sessions. */
export function sessionRoutes({ config }: Surroundings): Route[] {
  return [
    route({
      method: 'post',
      path: '/session',
      summary: 'Signs in.',
      may: 'anyone',
      limitBytes: SIGN_IN_BYTES,
      body: signInSchema,
      answer: json(sessionInfoAnswer),
      example: { body: { email: 'ines@quillhaven.example', password: 'a good password' } },
      handle: async ({ body: { email, password }, database, context }) => {
        const { address, isSecure } = connectionOf(context, config);
        await countTry(database, email, address);
        const opened = await signIn(database, email, password, config.sessionDays);
        if (!opened) throw refuse.wrongSignIn();
        await forgetTry(database, email, address);
        setCookie(context, COOKIE, opened.token, {
          httpOnly: true,
          sameSite: 'Strict',
          secure: isSecure,
          path: '/',
          maxAge: config.sessionDays * 86_400,
        });
        return opened.info;
      },
    }),
    route({
      method: 'get',
      path: '/session',
      summary: 'Who is signed in.',
      may: 'anyone',
      answer: json(sessionInfoAnswer),
      example: {},
      handle: async ({ database, context }) => {
        const info = await sessionIn(database, context);
        if (!info) throw refuse.signedOut();
        return info;
      },
    }),
    route({
      method: 'delete',
      path: '/session',
      summary: 'Signs out.',
      may: 'anyone',
      answer: nothing,
      example: {},
      handle: async ({ database, context }) => {
        const token = getCookie(context, COOKIE);
        if (token) await signOut(database, token);
        deleteCookie(context, COOKIE, { path: '/' });
      },
    }),
  ];
}
