import { MessageChannel } from 'node:worker_threads';
import { modelFromJson } from '@gray-loom/core/matching';
import { inTransaction } from '../../db/connect';
import { matchModel } from '../../db/schema';
import { proposeHouseholds } from './households';
import { keptApartPairs, saidLines, saveGroups } from './match-groups';
import { matchSettings } from './match-settings';
import { finishRun } from '../../runs/runs';
import { outcomeOf } from '../../runs/threads';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { closeGhosts } from './statements/match-groups';
import type { MatchAnswer, MatchTask } from './match-thread';

const MATCHING = { heapMb: 4096, youngMb: 48, idleMs: 10_000 };

/** A full scan in a thread: learns a model, freezes it under a version, stores the groups. */
export async function scanDuplicates({ database, config, log, lease, leaseMs, threads }: RunContext): Promise<void> {
  const settings = await matchSettings(database.db);
  const { port1, port2 } = new MessageChannel();
  let asked = Promise.resolve();
  port1.on('message', (progress: { done: number; total: number }) => {
    asked = asked
      .then(() => inTransaction(database, (tx) => markProgress(tx, lease, progress, {}, leaseMs)))
      .then(({ stopRequested }) => {
        if (stopRequested) port1.postMessage('stop');
      })
      .catch((error: unknown) => {
        log.warn(
          { runId: lease.runId, code: (error as { code?: string }).code },
          'a scan ends, since it cannot mark where it is',
        );
        port1.postMessage('stop');
      });
  });
  const task: MatchTask = {
    databaseUrl: config.databaseUrl,
    threshold01: settings.thresholds.possible,
    apart: [...(await keptApartPairs(database))],
    sharedLines: await saidLines(database.db),
    settings,
    port: port2,
  };
  const running = threads.get('match-thread', MATCHING).run(task, { transferList: [port2] });
  const answer = await outcomeOf<MatchAnswer>(running);
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
  // Whoever was deleted while the scan looked.
  await closeGhosts(database.pool, null);
}
