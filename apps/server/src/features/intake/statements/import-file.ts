import type { Queryable } from '../../../db/connect';

export const dontWaitForDisk = (client: Queryable) => client.query('set local synchronous_commit = off');

/** Whether another import is at work. */
export async function othersImport(client: Queryable, runId: number): Promise<boolean> {
  const { rows } = await client.query<{ others: boolean }>(
    `select exists (select 1 from run where kind = 'import' and state = 'running' and lease_until > now() and id <> $1) as others`,
    [runId],
  );
  return rows[0]?.others ?? false;
}
