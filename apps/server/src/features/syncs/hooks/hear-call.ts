import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { connectorsFor } from '../../../connectors';
import { inTransaction } from '../../../db/connect';
import { connection, hookState } from '../../../db/schema';
import { tell } from '../../../feed/events';
import { secretOfHook } from '../../../secrets';
import type { SyncServices } from '../connections';
import { refuse } from '../refusals';
import { callIn } from '../start-sync';
import { countFalse, keepCall } from '../statements/hooks';
import { wakeSoon } from './wake';

export interface Call {
  body: string;
  header(name: string): string | undefined;
}

/**
 * Hears a tool that says that something changed. What a tool signs is verified, kept before anything is done by it, and worked once,
 * however often it is told; a false call is counted and dropped. Unknown addresses are told nothing.
 */
export async function hearCall(
  { database, secretKey, standIns }: SyncServices,
  hook: string,
  call: Call,
  onFault: (error: unknown) => void,
): Promise<void> {
  const [row] = await database.db.select().from(connection).where(eq(connection.hook, hook));
  if (!row || row.state === 'stopped') throw refuse.noSuchHook();
  const { readCall } = connectorsFor(standIns)[row.kind];
  if (!readCall) {
    await inTransaction(database, (tx) => callIn(tx, row));
    return;
  }
  const [state] = await database.db.select().from(hookState).where(eq(hookState.connectionId, row.id));
  const heard = readCall({
    ...call,
    secret: secretOfHook(hook, secretKey),
    nowMs: Date.now(),
    aheadMs: state?.aheadMs ?? 0,
  });
  if ('refused' in heard) {
    await countFalse(database.pool, row.id, heard.refused);
    await tell(database.pool, { topic: 'syncs' });
    throw refuse.falseCall({ text: heard.refused });
  }
  const hash = createHash('sha256').update(call.body).digest();
  const { rowCount } = await keepCall(database.pool, row.id, { hash, body: call.body, ...heard });
  if (rowCount) wakeSoon(database, row.id, heard.kind === 'results' ? 'results' : 'records', onFault);
}
