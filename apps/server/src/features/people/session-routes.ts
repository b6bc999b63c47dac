import type { Context } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { sessionInfoAnswer, signInSchema } from '@gray-loom/wire';
import type { Config } from '../../config';
import type { Actor } from '../../db/actor';
import type { Database } from '../../db/connect';
import { connectionOf } from '../../http/connection';
import { json, nothing, route, type Route } from '../../http/declare';
import { refuse } from './refusals';
import type { Surroundings } from '../../http/services';
import { countTry, forgetTry } from './sign-in-tries';
import { isNew, personOf, sessionOf, signIn, signOut, type From } from './sign-in';

const COOKIE = 'gray_loom';
/** Name and password need no more. */
const SIGN_IN_BYTES = 8 * 1024;

/** Who sent a request; null when nobody is signed in. */
export async function identify(database: Database, context: Context): Promise<Actor | null> {
  const info = await sessionIn(database, context);
  return info && personOf(info);
}

/** The session of a request; null where there is none. */
export async function sessionIn(database: Database, context: Context): ReturnType<typeof sessionOf> {
  const token = getCookie(context, COOKIE);
  return token ? sessionOf(database, token) : null;
}

/** From where a request comes, as it is kept with the session that it opens. */
export const fromOf = (context: Context, config: Config): From => ({
  address: connectionOf(context, config).address,
  browser: context.req.header('user-agent') ?? '',
});

/** Gives a browser its session. */
export function giveCookie(context: Context, config: Config, token: string): void {
  setCookie(context, COOKIE, token, {
    httpOnly: true,
    sameSite: 'Strict',
    secure: connectionOf(context, config).isSecure,
    path: '/',
    maxAge: config.sessionDays * 86_400,
  });
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
      handle: async ({ body, database, context }) => {
        const from = fromOf(context, config);
        await countTry(database, body.email, from.address);
        const { secretKey, sessionDays: days } = config;
        const { token, info } = await signIn(database, body, { days, from, secretKey });
        await forgetTry(database, body.email, from.address);
        giveCookie(context, config, token);
        return info;
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
        const found = await sessionIn(database, context);
        if (!found) throw (await isNew(database)) ? refuse.noAccounts() : refuse.signedOut();
        const { sessionId: _sessionId, ...info } = found;
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
