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
import { appendLeft, type GroupLeft, type LeftNote } from '../../runs/statements/append-left';
import { tell } from '../../feed/events';
import { refuseGroup } from './refusals';
import { runsIn, threadsOf } from '../../book/run-threads';
import { currentModel, keptApartPairs, pairKey, type FrozenModel } from './match-groups';
import { mergeRules, weighingOf } from './match-setup';
import { matchBoard, timeTeller } from './match-board';
import { organizationReasons } from './match-organizations';
import { matchSettings } from './match-settings';
import { changesOf } from './merge-group';
import { keepStops } from '../../book/statements/merged-stops';
import { loadCatalogue } from '../../book/picks';
import { enqueueRun, handThread, startRun } from '../../runs/runs';
import { applyChanges, lockContacts } from '../../book/write-contacts';
import {
  countCertain,
  sampleOfCertain,
  openBatch,
  certainToMerge,
  lockGroups,
  liveAmong,
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
    const n = rows.length;
    if (n === 0) throw refuseGroup.nothingCertain();
    const runId = await startRun(tx, {
      kind: 'merge',
      state: 'queued',
      threadId: await handThread(tx),
      title: `Merged ${n.toLocaleString('en')} certain ${n === 1 ? 'group' : 'groups'}`,
      detail: { batch: true, groups: rows.map(({ id }) => id), at: 0 },
    });
    await enqueueRun(tx, runId);
    return { runId };
  });
}

/** Groups of organizations whose members are as certain still as they have to be, against all organizations there are now. */
async function certainOrganizations(
  database: Database,
  groups: readonly { id: number; kind: 'person' | 'organization'; member_ids: number[] }[],
  records: ReadonlyMap<number, ContactRecord>,
): Promise<Set<number>> {
  const found = new Set<number>();
  const { thresholds } = await matchSettings(database.db);
  const least = bitsOfProbability(thresholds.certain);
  for (const { id, kind, member_ids: memberIds } of groups) {
    if (kind !== 'organization') continue;
    const members = memberIds.flatMap((one) => {
      const record = records.get(Number(one));
      return record ? [{ id: Number(one), record }] : [];
    });
    const pairs = await organizationReasons(database, members);
    if (pairs.length && pairs.every(({ bits }) => bits >= least)) found.add(id);
  }
  return found;
}

export interface BatchPart {
  merged: number;
  records: number;
  left: number;
}

/** Whether a group is as certain still, when its turn comes, as it has to be to be merged without a person. */
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
 * Merges groups of a batch, in the caller's transaction. One that was decided meanwhile, or whose records changed, went or were
 * kept apart since, so that it is certain no more, is left to a person, and it is noted why.
 */
export async function mergeThese(
  database: Database,
  tx: Tx,
  runId: number,
  groupIds: readonly number[],
): Promise<BatchPart> {
  const { rows: groups } = await lockGroups(tx.client, groupIds);
  const frozen = await currentModel(tx.db);
  const contacts = await lockContacts(
    tx,
    groups.flatMap((group) => group.member_ids.map(Number)),
  );
  const live = await liveAmong(tx.client, [...contacts.keys()]);
  const there = new Set(live.rows.map((row) => row.id));
  const apart = await keptApartPairs(tx);
  const records = new Map([...contacts].map(([id, { record }]) => [id, record]));
  const threads = await threadsOf(
    database,
    [...records.values()].flatMap((record) => runsIn(record)),
  );
  const catalogue = await loadCatalogue(tx.db);
  const weighing = weighingOf(await mergeRules(tx.db), threads, frozen?.model);
  const part: BatchPart = { merged: 0, records: 0, left: 0 };
  const left: LeftNote[] = [];
  const certainOnes = await certainOrganizations(database, groups, records);
  const whyLeft = ({ id, kind, state, band }: (typeof groups)[number], ids: readonly number[]): GroupLeft | null => {
    if (state !== 'open') return state === 'gone' ? 'gone' : 'decided';
    if (!ids.every((one) => there.has(one))) return 'recordGone';
    if (ids.some((a, i) => ids.slice(i + 1).some((b) => apart.has(pairKey(a, b))))) return 'keptApart';
    if (band !== 'certain') return 'lessCertain';
    const stands = kind === 'organization' ? certainOnes.has(id) : frozen && stillCertain(frozen, ids, records);
    return stands ? null : 'recordsChanged';
  };
  const decided: number[] = [];
  const merging: { keepId: number; ids: number[] }[] = [];
  const changes = groups.flatMap((group) => {
    const { id } = group;
    const ids = group.member_ids.map(Number);
    const why = whyLeft(group, ids);
    if (why) {
      left.push({ groupId: id, why });
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
    merging.push({ keepId: plan.keepId, ids });
    part.merged++;
    part.records += ids.length;
    return changesOf(plan.operations);
  });
  await keepStops(tx.client, runId, merging);
  await applyChanges(tx, runId, changes);
  await markMerged(tx.client, runId, decided);
  part.left = left.length;
  if (left.length) await appendLeft(tx.client, runId, left);
  await tell(tx.client, { topic: 'groups' });
  return part;
}
