import { eq } from 'drizzle-orm';
import { MessageChannel } from 'node:worker_threads';
import type { Piscina } from 'piscina';
import { modelFromJson } from '@gray-loom/core/matching';
import { inTransaction, type Database } from '../../db/connect';
import { matchModel, run } from '../../db/schema';
import { proposeHouseholds } from './households';
import { checkContacts, keptApartPairs, saidLines, saveGroups } from './match-groups';
import { matchSettings } from './match-settings';
import { finishRun } from '../../runs/runs';
import { markProgress, type Lease } from '../../runs/lease';
import type { MatchAnswer, MatchTask } from './match-thread';

/** A full scan in a thread: learns a model, freezes it under a version, stores the groups. */
export async function scanDuplicates(
  database: Database,
  threads: Piscina,
  databaseUrl: string,
  lease: Lease,
  leaseMs: number,
): Promise<void> {
  const settings = await matchSettings(database.db);
  const { port1, port2 } = new MessageChannel();
  let asked = Promise.resolve();
  port1.on('message', (progress: { done: number; total: number }) => {
    asked = asked
      .then(() => inTransaction(database, (tx) => markProgress(tx, lease, progress, {}, leaseMs)))
      .then(({ stopRequested }) => {
        if (stopRequested) port1.postMessage('stop');
      })
      .catch(() => port1.postMessage('stop'));
  });
  const task: MatchTask = {
    databaseUrl,
    threshold01: settings.thresholds.possible,
    apart: [...(await keptApartPairs(database))],
    sharedLines: await saidLines(database.db),
    settings,
    port: port2,
  };
  const answer = (await threads.run(task, { transferList: [port2] })) as MatchAnswer;
  await asked;
  port1.close();
  if (answer.stopped) {
    await inTransaction(database, (tx) => finishRun(tx, lease.runId, 'stopped', { people: answer.people }));
    return;
  }
  await inTransaction(database, async (tx) => {
    const [kept] = await tx.db
      .insert(matchModel)
      .values({ runId: lease.runId, people: answer.people, model: answer.model, pairs: answer.pairs })
      .returning({ version: matchModel.version });
    const frozen = { version: kept?.version ?? 0, model: modelFromJson(answer.model) };
    const counts = await saveGroups(tx, frozen, answer.groups, 'allOpen');
    const companies = await saveGroups(tx, frozen, answer.organizations, [], 'organization');
    for (const [band, n] of Object.entries(companies)) counts[band] = (counts[band] ?? 0) + n;
    counts.households = await proposeHouseholds(tx, answer.households);
    await markProgress(tx, lease, { done: answer.people * 2, total: answer.people * 2 }, {}, leaseMs);
    await finishRun(tx, lease.runId, 'done', { people: answer.people, pairs: answer.comparedPairs, ...counts });
  });
}

const CHECK_BATCH = 500;

/** Checks what one run brought in or changed against everybody, by the index and under the current model. */
export async function checkDuplicates(database: Database, lease: Lease, leaseMs: number): Promise<void> {
  const [job] = await database.db.select({ detail: run.detail }).from(run).where(eq(run.id, lease.runId));
  const ofRun = Number((job?.detail as { ofRun?: number } | undefined)?.ofRun ?? 0);
  const touched = await database.pool.query<{ id: number }>(
    `select distinct o.contact_id as id from operation o join contact c on c.id = o.contact_id
       where o.run_id = $1 and c.state = 'live' and c.kind = 'person' order by 1`,
    [ofRun],
  );
  const ids = touched.rows.map((row) => row.id);
  const counts: Record<string, number> = { people: ids.length, certain: 0, likely: 0, possible: 0 };
  let stopped = false;
  for (let i = 0; i < ids.length && !stopped; i += CHECK_BATCH) {
    const found = await checkContacts(database, ids.slice(i, i + CHECK_BATCH), (work) => inTransaction(database, work));
    for (const [band, n] of Object.entries(found)) counts[band] = (counts[band] ?? 0) + n;
    const marked = await inTransaction(database, (tx) =>
      markProgress(tx, lease, { done: Math.min(ids.length, i + CHECK_BATCH), total: ids.length }, counts, leaseMs),
    );
    stopped = marked.stopRequested;
  }
  await inTransaction(database, (tx) => finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', counts));
}
