import type { Context } from 'hono';
import type { ObjectSchema, Schema, ValidationError } from 'yup';
import type { SessionInfo } from '@gray-loom/wire';
import type { Config } from '../config';
import type { Database } from '../db/connect';
import type { EventHub } from '../feed/events';
import type { Logger } from '../log';
import { Problem } from './problem';

/** What routes have at hand. */
export interface Services {
  config: Config;
  database: Database;
  events: EventHub;
  log: Logger;
}

export interface AppEnv {
  Variables: { actor: SessionInfo };
}

export type AppContext = Context<AppEnv>;

function refuse(error: ValidationError): Problem {
  const errors = (error.inner.length ? error.inner : [error]).map((inner) => ({
    field: inner.path ?? '',
    text: inner.message,
  }));
  return new Problem(422, 'invalid', errors.map((one) => one.text).join(' '), { errors });
}

async function check<T>(schema: Schema<T>, value: unknown): Promise<T> {
  try {
    return (await schema.validate(value, { abortEarly: false, stripUnknown: true })) as T;
  } catch (error) {
    if ((error as ValidationError).name === 'ValidationError') throw refuse(error as ValidationError);
    throw error;
  }
}

/** The body of a request as its schema says; refused with every fault named. */
export async function body<T>(c: AppContext, schema: Schema<T>): Promise<T> {
  const json: unknown = await c.req.json().catch(() => {
    throw new Problem(400, 'notJson', 'The request is not JSON.');
  });
  return check(schema, json);
}

/** The query of a request as its schema says; absent and empty parts are left to their defaults. */
export async function query<T extends object>(c: AppContext, schema: ObjectSchema<T>): Promise<T> {
  return check(
    schema as Schema<T>,
    Object.fromEntries(Object.entries(c.req.query()).filter(([, value]) => value !== '')),
  );
}

/** A number from the address. */
export function idOf(c: AppContext, name: string): number {
  const id = Number(c.req.param(name));
  if (!Number.isSafeInteger(id) || id <= 0) throw new Problem(404, 'noSuchThing', 'There is nothing at this address.');
  return id;
}
