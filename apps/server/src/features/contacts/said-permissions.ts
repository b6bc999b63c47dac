import { PERMISSIONS } from '@gray-loom/core/mapping';
import type { Candidate } from '@gray-loom/core/writing';
import type { Tx } from '../../db/connect';
import { appendChange } from '../../feed/append-change';
import { insertSaid } from './statements/permissions';

/** What one row of a file says of the permissions of a contact. */
export interface RowSaid {
  contactId: number;
  candidate: Candidate;
}

/** How many words a row has that stop, and that allow, for the counts of a run. */
export function countsOfSaid(candidate: Candidate): Record<string, number> {
  const said = candidate[PERMISSIONS] ?? [];
  const stops = said.filter(({ v }) => v === 'optedOut').length;
  return { ...(stops ? { stops: 1 } : {}), ...(said.length > stops ? { allows: 1 } : {}) };
}

/** Keeps what rows say of permissions as evidence with their contacts. `isOwn`: the table was taken out here. */
export async function keepSaid(tx: Tx, runId: number, rows: readonly RowSaid[], isOwn: boolean): Promise<void> {
  const said = rows.flatMap(({ contactId, candidate }) =>
    (candidate[PERMISSIONS] ?? []).map(({ v, label, norm, atMs }) => ({
      contact_id: contactId,
      channel: label,
      state: v,
      how: norm ?? '',
      at: atMs ?? null,
    })),
  );
  if (!said.length) return;
  const { rows: kept } = await insertSaid(tx.client, runId, JSON.stringify(said), isOwn);
  if (kept.length)
    await appendChange(tx, { kind: 'permission', runId, contacts: [...new Set(kept.map(({ id }) => id))] });
}
