import type { Context } from 'hono';
import type { InferType, ObjectSchema, Schema } from 'yup';
import type { Actor, Role } from '../db/actor';
import type { Database } from '../db/connect';

/** Who may call a route: anybody without signing in, or whoever has at least this role. */
export type May = 'anyone' | Role;

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** A file as an answer; it is offered under its name where it has one. */
export interface FileAnswer {
  name?: string;
  /** Where it is only known with the file. */
  mediaType?: string;
  body: string | Uint8Array<ArrayBuffer> | ReadableStream;
  /** How long a browser may keep it. */
  cache?: string;
  /** What the browser may do with it (Content-Security-Policy), where that is not what holds for pages. */
  policy?: string;
  /** Shown in its place instead of being saved. */
  isShown?: boolean;
}

/** What a route answers when it does what it was asked. */
export type Answer =
  | { kind: 'json'; status: 200 | 201 | 202; schema: Schema }
  | { kind: 'nothing'; status: 204 }
  | { kind: 'file'; status: 200; mediaType: string }
  | { kind: 'events'; status: 200 };

export const json = <S extends Schema>(schema: S, status: 200 | 201 | 202 = 200) =>
  ({ kind: 'json', status, schema }) as const;
export const nothing = { kind: 'nothing', status: 204 } as const;
export const file = (mediaType: string) => ({ kind: 'file', status: 200, mediaType }) as const;
export const events = { kind: 'events', status: 200 } as const;

type Handled<A extends Answer> = A extends { kind: 'json'; schema: infer S extends Schema }
  ? InferType<S>
  : A extends { kind: 'file' }
    ? FileAnswer
    : A extends { kind: 'events' }
      ? Response
      : unknown;

/** What a handler is given: everything checked, nothing to be read from the request by hand. */
export interface Asked<P, Q, H, B> {
  params: P;
  query: Q;
  headers: H;
  body: B;
  /** The body as it arrives, of routes that take a file. */
  stream: ReadableStream<Uint8Array> | null;
  /** The database as the actor reads and writes it. */
  database: Database;
  actor: Actor;
  /** Whether whoever asked is still signed in, for what goes on answering. */
  stillIn(): Promise<boolean>;
  /** Ends when whoever asked is gone. */
  signal: AbortSignal;
  /** For cookies and events alone. */
  context: Context;
}

/** What a request to a route looks like, for the description of the interface and for tests that walk all routes. */
export interface Example {
  params?: Record<string, string | number>;
  query?: Record<string, string | number | boolean>;
  headers?: Record<string, string>;
  body?: unknown;
}

interface Described {
  method: Method;
  /** Below /api, as Hono writes paths. */
  path: string;
  /** What it does, in one sentence. */
  summary: string;
  may: May;
  /** Asks for an account that sees everybody: what it answers or does cannot be parted by contacts. */
  wholeBook?: boolean;
  /** Largest body in bytes; 256 KB where nothing else is said. */
  limitBytes?: number;
  example: Example;
}

/** A route as the app and its tests see it. */
export interface Route extends Described {
  params: ObjectSchema<object> | null;
  query: ObjectSchema<object> | null;
  headers: ObjectSchema<object> | null;
  /** A file as it is, JSON by its schema, or no body at all. */
  body: Schema | 'file' | null;
  answer: Answer;
  handle(asked: Asked<never, never, never, never>): Promise<unknown>;
}

type Of<S> = S extends Schema ? InferType<S> : Record<string, never>;

interface Declaration<P, Q, H, B, A extends Answer> extends Described {
  params?: P;
  query?: Q;
  headers?: H;
  body?: B;
  answer: A;
  handle(asked: Asked<Of<P>, Of<Q>, Of<H>, B extends Schema ? InferType<B> : null>): Promise<Handled<A>> | Handled<A>;
}

/**
 * Declares a route: everything that is checked before its handler runs, who may call it, what it answers. There is no other
 * way to answer a request, so none is unchecked or open by oversight.
 */
export function route<
  A extends Answer,
  P extends ObjectSchema<object> | undefined = undefined,
  Q extends ObjectSchema<object> | undefined = undefined,
  H extends ObjectSchema<object> | undefined = undefined,
  B extends Schema | 'file' | undefined = undefined,
>(declaration: Declaration<P, Q, H, B, A>): Route {
  return {
    ...declaration,
    params: declaration.params ?? null,
    query: declaration.query ?? null,
    headers: declaration.headers ?? null,
    body: declaration.body ?? null,
    handle: declaration.handle as unknown as Route['handle'],
  };
}

/** Method and path, by which a route is known. */
export const routeName = ({ method, path }: Pick<Route, 'method' | 'path'>) => `${method} ${path}`;
