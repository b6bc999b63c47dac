import { Hono, type Context } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { describeRoute } from 'hono-openapi';
import { actingAs, type Database } from '../db/connect';
import { hasRole, PROGRAM, type Actor, seesPart } from '../db/actor';
import { routeName, type Asked, type FileAnswer, type Route } from './declare';
import { operationOf } from './openapi';
import { refuse } from './refusals';
import { POLICY, ROUTE } from './problem';
import { Refusal } from './refusal';
import { validate } from './validate';

const JSON_LIMIT_BYTES = 256 * 1024;
/** A request without a body sends nothing but its head. */
const NO_BODY_BYTES = 1024;

export interface ServeOptions {
  database: Database;
  /** Who sent a request; null when nobody is signed in. */
  identify(context: Context): Promise<Actor | null>;
  /** Hears every JSON answer before it is sent; tests hold them to what was declared. */
  answered?(route: Route, body: unknown): void;
}

/** The declared routes as a Hono app: one place checks rights, limits and shapes of all of them. */
export function serveRoutes(routes: readonly Route[], options: ServeOptions): Hono {
  const app = new Hono();
  for (const route of [...routes].sort(byPath))
    app.on(
      route.method.toUpperCase(),
      route.path,
      describeRoute(operationOf(route)),
      ...(route.body === 'file' ? [] : [limitOf(route)]),
      (context) => serve(route, context, options),
    );
  return app;
}

/** An address in full comes before one with a parameter in its place, in whatever order they were declared. */
function byPath(a: Route, b: Route): number {
  const [x, y] = [a.path.split('/'), b.path.split('/')];
  for (const [i, segment] of x.entries()) {
    const rank = (one: string | undefined) => (one?.startsWith(':') ? (one.includes('{') ? 1 : 2) : 0);
    const difference = rank(segment) - rank(y[i]);
    if (difference) return difference;
  }
  return 0;
}

/** Refuses a body above its route's limit while it arrives. What is sent as a file is counted by whoever reads it. */
function limitOf(route: Route) {
  const maxSize = route.limitBytes ?? (route.body ? JSON_LIMIT_BYTES : NO_BODY_BYTES);
  return bodyLimit({
    maxSize,
    onError: () => {
      throw refuse.tooLarge({ limitBytes: maxSize });
    },
  });
}

async function serve(route: Route, context: Context, options: ServeOptions): Promise<Response> {
  context.set(ROUTE, routeName(route));
  const actor = await actorOf(route, context, options);
  const asked: Asked<never, never, never, never> = {
    params: (await paramsOf(route, context)) as never,
    query: (await queryOf(route, context)) as never,
    headers: (await headersOf(route, context)) as never,
    body: (await bodyOf(route, context)) as never,
    stream: route.body === 'file' ? context.req.raw.body : null,
    database: actingAs(options.database, actor),
    actor,
    stillIn: async () => route.may === 'anyone' || (await options.identify(context)) !== null,
    signal: context.req.raw.signal,
    context,
  };
  return answerWith(route, context, await route.handle(asked), options);
}

async function actorOf(route: Route, context: Context, { identify }: ServeOptions): Promise<Actor> {
  if (route.may === 'anyone') return PROGRAM;
  const actor = await identify(context);
  if (!actor) throw refuse.signedOut();
  if (!hasRole(actor, route.may)) throw refuse.notAllowed({ may: route.may });
  if (route.wholeBook && seesPart(actor)) throw refuse.wholeBookOnly();
  return actor;
}

async function paramsOf(route: Route, context: Context): Promise<unknown> {
  if (!route.params) return {};
  return validate(route.params, context.req.param()).catch((error: unknown) => {
    if (error instanceof Refusal) throw refuse.noSuchThing();
    throw error;
  });
}

/** Absent and empty parts of a query are left to their defaults. */
async function queryOf(route: Route, context: Context): Promise<unknown> {
  if (!route.query) return {};
  return validate(
    route.query,
    Object.fromEntries(Object.entries(context.req.query()).filter(([, value]) => value !== '')),
  );
}

async function headersOf(route: Route, context: Context): Promise<unknown> {
  if (!route.headers) return {};
  return validate(route.headers, context.req.header());
}

async function bodyOf(route: Route, context: Context): Promise<unknown> {
  if (!route.body || route.body === 'file') return null;
  const text = await context.req.text();
  if (text && !/^application\/(json|[\w.+-]+\+json)\s*(;|$)/i.test(context.req.header('content-type') ?? ''))
    throw refuse.unknownMediaType();
  let value: unknown;
  try {
    value = text ? JSON.parse(text) : {};
  } catch {
    throw refuse.notJson();
  }
  return validate(route.body, value);
}

function answerWith(route: Route, context: Context, value: unknown, { answered }: ServeOptions): Response {
  const { answer } = route;
  switch (answer.kind) {
    case 'json':
      answered?.(route, value);
      return context.json(value as object, answer.status);
    case 'nothing':
      return context.body(null, 204);
    case 'file':
      return fileResponse(context, answer.mediaType, value as FileAnswer);
    case 'events':
      return value as Response;
  }
}

/** A name as RFC 5987 writes it. */
const encodeName = (name: string): string =>
  encodeURIComponent(name).replace(/['()*]/g, (mark) => `%${mark.charCodeAt(0).toString(16).toUpperCase()}`);

function fileResponse(
  context: Context,
  declared: string,
  { name, mediaType, body, cache, policy, isShown = false }: FileAnswer,
): Response {
  const type = mediaType ?? declared;
  context.header('Content-Type', type.startsWith('text/') ? `${type}; charset=utf-8` : type);
  // Two names: the second is read where marks beyond ASCII are understood (RFC 6266).
  if (name) {
    const plain = name.replace(/[^\x20-\x7e]|["\\%]/g, '_');
    const rule = isShown ? 'inline' : 'attachment';
    context.header('Content-Disposition', `${rule}; filename="${plain}"; filename*=UTF-8''${encodeName(name)}`);
  }
  if (policy) context.set(POLICY, policy);
  if (cache) context.header('Cache-Control', cache);
  return context.body(body);
}
