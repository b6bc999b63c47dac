import { MOST_CALLED_NEXT, type CalledNext, type CallNextRequest } from '@gray-loom/wire';
import { callTheseNext } from '../syncs';
import type { Database } from '../../db/connect';
import { conditionOf } from './batch-change';
import { refuse } from './refusals';
import { idsMeeting } from './statements/batch';

interface Services {
  database: Database;
  secretKey: Buffer | null;
  standIns: readonly string[];
}

/** Puts those who are picked at the head of whom a tool calls. A handful: a list of many is made by a scope of the connection. */
export async function callPickedNext(services: Services, { what, connectionId }: CallNextRequest): Promise<CalledNext> {
  const { pool } = services.database;
  const condition = await conditionOf(pool, what);
  const ids = condition
    ? (await idsMeeting(pool, condition, what.except, 1)).rows.map(({ id }) => id)
    : [...new Set(what.ids)];
  if (!ids.length) throw refuse.nobodyMeant();
  if (ids.length > MOST_CALLED_NEXT) throw refuse.tooManyToCall({ count: ids.length, most: MOST_CALLED_NEXT });
  return callTheseNext(services, connectionId, ids);
}
