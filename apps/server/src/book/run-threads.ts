import type { RunThread } from '@gray-loom/wire';
import { type ContactRecord } from '@gray-loom/core/model';
import type { Database } from '../db/connect';

/** The threads of runs: what values on screen point at. */
export async function threadsOf({ pool }: Database, runIds: readonly number[]): Promise<Record<number, RunThread>> {
  if (runIds.length === 0) return {};
  const { rows } = await pool.query<{
    id: number;
    kind: RunThread['kind'];
    name: string;
    look: number | null;
    title: string;
    actor: string | null;
    at: Date;
  }>(
    `select r.id, t.kind, t.name, c.look, r.title, a.name as actor, r.created_at as at
     from run r join thread t on t.id = r.thread_id left join connection c on c.thread_id = t.id left join account a on a.id = r.actor_id
        where r.id = any($1::int[])`,
    [[...new Set(runIds)]],
  );
  return Object.fromEntries(
    rows.map((row) => [
      row.id,
      {
        runId: row.id,
        kind: row.kind,
        name: row.name,
        ...(row.look ? { look: row.look } : {}),
        title: row.title,
        actor: row.actor,
        at: row.at.toISOString(),
      },
    ]),
  );
}

export function runsIn(record: ContactRecord): number[] {
  return Object.values(record.f).flatMap((values) => values.map((value) => value.run));
}
