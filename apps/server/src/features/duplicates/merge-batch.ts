import { sql } from 'drizzle-orm';
import {
  bitsOfProbability,
  factsOf,
  comparisons,
  groupPeople,
  preparePerson,
  scorePair,
} from '@gray-loom/core/matching';
import { planMerge } from '@gray-loom/core/merging';
import type { ContactRecord } from '@gray-loom/core/model';
import type { BatchLook } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { run } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuseGroup } from './refusals';
import { runsIn, threadsOf } from '../../book/run-threads';
import { currentModel, keptApartPairs, pairKey, type FrozenModel } from './match-groups';
import { mergeRules, weighingOf } from './match-setup';
import { matchBoard, timeTeller } from './match-board';
import { changesOf } from './merge-group';
import { loadCatalogue } from '../../book/picks';
import { enqueueRun, handThread, startRun } from '../../runs/runs';
import { applyChanges, lockContacts } from '../../book/write-contacts';
import {
  countCertain,
  sampleOfCertain,
  openBatch,
  certainToMerge,
  nextCertain,
  livePeopleAmong,
  markMerged,
} from './statements/merge-batch';

/** What merging all certain groups would do, with a random few of them to be checked; nothing is written. */
export async function lookAtBatch(database: Database): Promise<BatchLook> {
  const { rows } = await countCertain(database.pool);
  const sample = await sampleOfCertain(database.pool);
  return {
    groups: rows[0]?.groups ?? 0,
    records: rows[0]?.records ?? 0,
    sample: await Promise.all(sample.rows.map(({ id }) => matchBoard(database, id))),
  };
}

/** Puts the merging of all certain groups there are now on the queue, save those a person took out. */
export async function startBatch(database: Database, except: readonly number[]): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const busy = await openBatch(tx.client);
    if (busy.rowCount) throw refuseGroup.mergingAlready();
    const { rows } = await certainToMerge(tx.client, except);
    const { n = 0, last = 0 } = rows[0] ?? {};
    if (n === 0) throw refuseGroup.nothingCertain();
    const runId = await startRun(tx, {
      kind: 'merge',
      state: 'queued',
      threadId: await handThread(tx),
      title: `Merged ${n.toLocaleString('en')} certain ${n === 1 ? 'group' : 'groups'}`,
      detail: { batch: true, last, except, total: n },
    });
    await enqueueRun(tx, runId);
    return { runId };
  });
}

export interface BatchPart {
  /** Groups looked at; none when the end is reached. */
  groups: number;
  merged: number;
  records: number;
  left: number;
  lastId: number;
}

/** How certain a group has to be still, when its turn comes, to be merged without a person. */
function stillCertain(
  frozen: FrozenModel,
  ids: readonly number[],
  records: ReadonlyMap<number, ContactRecord>,
): boolean {
  const people = new Map(ids.map((id) => [id, preparePerson(factsOf(records.get(id) as ContactRecord))]));
  const pairs = ids.flatMap((a, i) =>
    ids.slice(i + 1).flatMap((b) => {
      const [x, y] = [people.get(a), people.get(b)];
      return x && y ? [{ a, b, bits: scorePair(frozen.model, x, y).bits }] : [];
    }),
  );
  const groups = groupPeople({
    model: frozen.model,
    compare: comparisons(frozen.model, (id) => people.get(id)),
    isKeptApart: () => false,
    pairs,
    thresholdBits: bitsOfProbability(frozen.model.thresholds.certain),
    onlyAgreeing: true,
  });
  return groups.length === 1 && groups[0]?.members.length === ids.length;
}

/**
 * Merges the next certain groups of a batch behind a marker, in the caller's transaction. A group whose records changed,
 * went or were kept apart since, so that it is certain no more, is left to a person.
 */
export async function mergeNext(
  database: Database,
  tx: Tx,
  runId: number,
  { after, last, except }: { after: number; last: number; except: readonly number[] },
  limit: number,
): Promise<BatchPart> {
  const { rows: groups } = await nextCertain(tx.client, after, last, except, limit);
  const frozen = await currentModel(tx.db);
  const contacts = await lockContacts(
    tx,
    groups.flatMap((group) => group.member_ids.map(Number)),
  );
  const live = await livePeopleAmong(tx.client, [...contacts.keys()]);
  const there = new Set(live.rows.map((row) => row.id));
  const apart = await keptApartPairs(tx);
  const records = new Map([...contacts].map(([id, { record }]) => [id, record]));
  const threads = await threadsOf(
    database,
    [...records.values()].flatMap((record) => runsIn(record)),
  );
  const catalogue = await loadCatalogue(tx.db);
  const weighing = weighingOf(await mergeRules(tx.db), threads);
  const part: BatchPart = { groups: groups.length, merged: 0, records: 0, left: 0, lastId: groups.at(-1)?.id ?? last };
  const decided: number[] = [];
  const changes = groups.flatMap(({ id, member_ids: memberIds }) => {
    const ids = memberIds.map(Number);
    const whole =
      frozen !== null &&
      ids.every((one) => there.has(one)) &&
      !ids.some((a, i) => ids.slice(i + 1).some((b) => apart.has(pairKey(a, b)))) &&
      stillCertain(frozen, ids, records);
    if (!whole) {
      part.left++;
      return [];
    }
    const plan = planMerge({
      members: ids.map((one) => ({ id: one, record: records.get(one) as ContactRecord })),
      choices: {},
      catalogue,
      timeOf: timeTeller(threads),
      ...weighing,
      run: runId,
    });
    decided.push(id);
    part.merged++;
    part.records += ids.length;
    return changesOf(plan.operations);
  });
  await applyChanges(tx, runId, changes);
  await markMerged(tx.client, runId, decided);
  await tx.db
    .update(run)
    .set({ detail: sql`jsonb_set(${run.detail}, '{after}', to_jsonb(${part.lastId}::int))` })
    .where(sql`${run.id} = ${runId}`);
  await tell(tx.client, { topic: 'groups' });
  return part;
}
