import type { Tx } from '../../db/connect';
import { handThread, startRun } from '../../runs/runs';
import { beginChange } from './change-contacts';
import { heirsOf, readGiving } from './giving';
import type { GiveChange } from './many-change';
import { refuseGiving } from './refusals';
import { activeAmong } from './statements/giving';

/**
 * Starts giving out contacts that nobody owns: those that an import brought, or some by id. A run that can be undone; at once for few, as a
 * job for many. Errors: nobody is there to give them to.
 */
export async function startGiving(
  tx: Tx,
  change: Omit<GiveChange, 'kind'>,
  title: string,
): Promise<{ runId: number; finished: boolean }> {
  const giving = await readGiving(tx);
  const { rows } = await activeAmong(tx.client, heirsOf(giving, change.by));
  if (!rows.length) throw refuseGiving.nobodyInTurn();
  const runId = await startRun(tx, { kind: 'handOver', state: 'running', threadId: await handThread(tx), title });
  const finished = await beginChange(tx, runId, { kind: 'give', ...change });
  return { runId, finished };
}

/** Whether anybody is there to give contacts to. */
export async function canGive(tx: Tx, by: GiveChange['by']): Promise<boolean> {
  return (await activeAmong(tx.client, heirsOf(await readGiving(tx), by))).rows.length > 0;
}
