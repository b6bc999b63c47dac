import { asc } from 'drizzle-orm';
import type { Pipeline } from '@gray-loom/core/fields';
import type { Operation } from '@gray-loom/core/model';
import type { PipelinesRequest } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { pipeline } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuse } from './refusals';
import { handThread, startRun } from '../../runs/runs';
import { applyChanges, type LoadedContact } from '../../book/write-contacts';
import { renamePlaces } from '../../book/renamed-picks';
import { lockPlace } from './statements/pipelines';

export async function listPipelines({ db }: Pick<Database, 'db'>): Promise<Pipeline[]> {
  const rows = await db.select().from(pipeline).orderBy(asc(pipeline.ordinal), asc(pipeline.id));
  return rows.map(({ name, stages }) => ({ name, stages }));
}

interface Place {
  pipeline: string;
  stage: string;
}

function requireDistinct(names: readonly string[], what: string): void {
  const seen = new Set<string>();
  for (const name of names) {
    if (seen.has(name.toLowerCase())) throw refuse.nameTaken({ what, name });
    seen.add(name.toLowerCase());
  }
}

/** Where each place of old is now; null for one that is gone. */
function movesOf(before: readonly Pipeline[], after: PipelinesRequest['pipelines']): (Place & { to: Place | null })[] {
  return before.flatMap((one) => {
    const now = after.find(({ was, name }) => (was ?? name) === one.name);
    return one.stages.map(({ label }) => {
      const stage = now?.stages.find((next) => (next.was ?? next.label) === label);
      return { pipeline: one.name, stage: label, to: now && stage ? { pipeline: now.name, stage: stage.label } : null };
    });
  });
}

/**
 * Puts pipelines in force as they are given. Opportunities in a place that was renamed go along, as a run that can be
 * undone; a place that has opportunities in it cannot be taken away.
 */
export async function savePipelines(
  database: Database,
  { pipelines }: PipelinesRequest,
): Promise<{ runId: number | null; moved: number }> {
  requireDistinct(
    pipelines.map(({ name }) => name),
    'pipelines',
  );
  for (const { name, stages } of pipelines)
    requireDistinct(
      stages.map(({ label }) => label),
      `stages of ${name}`,
    );
  return inTransaction(database, async (tx) => {
    const moves = movesOf(await listPipelines(tx), pipelines);
    const gone = moves.filter(({ to }) => to === null);
    for (const place of gone) {
      const n = (await inPlace(tx, place)).length;
      if (n) throw refuse.inUse({ ...place, count: n });
    }
    const renamed = moves.filter(({ to, ...from }) => to && (to.pipeline !== from.pipeline || to.stage !== from.stage));
    let runId: number | null = null;
    let moved = 0;
    for (const { to, ...from } of renamed) {
      const records = await inPlace(tx, from);
      if (!to || !records.length) continue;
      runId ??= await startRun(tx, {
        kind: 'edit',
        state: 'done',
        threadId: await handThread(tx),
        title: 'stages of opportunities',
      });
      const run = runId;
      moved += records.length;
      await applyChanges(
        tx,
        run,
        records.map(({ id, record }) => ({
          contactId: id,
          operations: (['opportunityPipeline', 'opportunityStage'] as const).flatMap((field): Operation[] => {
            const before = record.f[field]?.[0] ?? null;
            const v = field === 'opportunityPipeline' ? to.pipeline : to.stage;
            return before?.v === v ? [] : [{ target: id, field, slot: 0, before, after: { slot: 0, v, run } }];
          }),
        })),
      );
    }
    await tx.db.delete(pipeline);
    await tx.db.insert(pipeline).values(
      pipelines.map(({ name, stages }, ordinal) => ({
        name,
        ordinal,
        stages: stages.map(({ label, outcome, meaning }) => ({ label, outcome, meaning })),
      })),
    );
    await renamePlaces(
      tx,
      moves.flatMap(({ to, ...from }) => (to ? [{ ...from, to }] : [])),
    );
    await tell(tx.client, { topic: 'setup' });
    return { runId, moved };
  });
}

function inPlace(tx: Tx, { pipeline: name, stage }: Place): Promise<LoadedContact[]> {
  return lockPlace(tx.client, name, stage);
}
