import type { RunThread } from '@gray-loom/wire';
import { type ContactRecord } from '@gray-loom/core/model';
import type { Database } from '../db/connect';
import { selectRunThreads } from './statements/run-threads';

/** The threads of runs: what values on screen point at. */
export async function threadsOf({ pool }: Database, runIds: readonly number[]): Promise<Record<number, RunThread>> {
  if (runIds.length === 0) return {};
  const { rows } = await selectRunThreads(pool, [...new Set(runIds)]);
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
