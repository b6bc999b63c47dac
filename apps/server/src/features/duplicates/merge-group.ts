import { eq, sql } from 'drizzle-orm';
import { displayNameOf } from '@gray-loom/core/fields';
import { planMerge } from '@gray-loom/core/merging';
import { lifecycleOf, type ContactRecord, type Operation } from '@gray-loom/core/model';
import type { ApartRequest, MergeRequest } from '@gray-loom/wire';
import { inTransaction, wholeBook, type Database, type Tx } from '../../db/connect';
import { keepApart, matchGroup, sharedLine } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuseGroup } from './refusals';
import { keepStops } from '../../book/statements/merged-stops';
import { runsIn, threadsOf } from '../../book/run-threads';
import { reasonsOf, requireGroup, requireWholeGroup, timeTeller } from './match-board';
import { keepDecisions, membersFor, pairsOf } from './match-decisions';
import { mergeRules, weighingOf } from './match-setup';
import { currentModel, memberKey, saveGroups } from './match-groups';
import { organizationReasons } from './match-organizations';
import { loadCatalogue } from '../../book/picks';
import { handThread, startRun } from '../../runs/runs';
import { applyChanges, lockContacts, type ContactChange } from '../../book/write-contacts';
import { setRunContactAndTitle, whoChangedLast, membersToCompare } from './statements/merge-group';

/** Operations by the contact they change, as they are written. */
export function changesOf(operations: readonly Operation[]): ContactChange[] {
  const byTarget = new Map<number, Operation[]>();
  for (const operation of operations)
    byTarget.set(operation.target, [...(byTarget.get(operation.target) ?? []), operation]);
  return [...byTarget].map(([contactId, list]) => ({ contactId, operations: list }));
}

/** Merges records of a group. Refused whole when one of them moved since it was looked at. */
export async function mergeGroup(
  database: Database,
  groupId: number,
  request: MergeRequest,
): Promise<{ runId: number; keepId: number }> {
  const catalogue = await loadCatalogue(database.db);
  return inTransaction(database, async (tx) => {
    const group = await requireGroup(tx, groupId);
    await requireWholeGroup(tx, group);
    const ids = [...new Set(request.memberIds)];
    if (ids.some((id) => !group.memberIds.includes(id))) throw refuseGroup.notInGroup();
    const contacts = await lockContacts(tx, ids);
    await refuseIfMoved(tx, ids, contacts, request.versions);
    const members = ids.map((id) => ({ id, record: contacts.get(id)?.record as ContactRecord }));
    const threads = await threadsOf(
      database,
      members.flatMap((member) => runsIn(member.record)),
    );
    const names = displayNameOf(members[0]?.record as ContactRecord);
    const runId = await startRun(tx, {
      kind: 'merge',
      state: 'done',
      threadId: await handThread(tx),
      title: `Merged ${ids.length} records of ${names}`,
      counts: { merged: ids.length },
    });
    await keepDecisions(tx, runId, group.kind, pairsOf(members), true);
    const plan = planMerge({
      members,
      keepId: request.keepId,
      choices: request.choices,
      catalogue,
      timeOf: timeTeller(threads),
      ...weighingOf(await mergeRules(tx.db), threads, (await currentModel(tx.db))?.model),
      run: runId,
    });
    await keepStops(tx.client, runId, [{ keepId: plan.keepId, ids }]);
    const written = await applyChanges(tx, runId, changesOf(plan.operations));
    const kept = written.get(plan.keepId) ?? contacts.get(plan.keepId)?.record;
    await setRunContactAndTitle(
      tx.client,
      runId,
      plan.keepId,
      `Merged ${ids.length} records of ${kept ? displayNameOf(kept) : names}`,
    );
    await tx.db.update(matchGroup).set({ state: 'merged', decidedRun: runId }).where(eq(matchGroup.id, groupId));
    await tell(tx.client, { topic: 'groups' });
    return { runId, keepId: plan.keepId };
  });
}

async function refuseIfMoved(
  tx: Tx,
  ids: readonly number[],
  contacts: ReadonlyMap<number, { version: number; record: ContactRecord }>,
  seen: Record<string, number>,
): Promise<void> {
  for (const id of ids) {
    const contact = contacts.get(id);
    if (!contact) throw refuseGroup.noSuchContact();
    const lifecycle = lifecycleOf(contact.record);
    const name = displayNameOf(contact.record);
    if (lifecycle) {
      const { rows } = await whoChangedLast(tx.client, id);
      const state = lifecycle.state === 'merged' ? 'merged' : 'deleted';
      throw refuseGroup.alreadyMerged({ contactId: id, who: rows[0]?.name ?? null, state, name });
    }
    const version = seen[String(id)];
    if (version !== undefined && version !== contact.version) {
      throw refuseGroup.recordChanged({ contactId: id, name });
    }
  }
}

/**
 * Keeps records apart for good (until undone): all pairs among them. Lines that they share on a person's word prove
 * nothing from then on, for anybody.
 */
export async function keepGroupApart(
  database: Database,
  groupId: number,
  { memberIds, sharedLines }: ApartRequest,
): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const group = await requireGroup(tx, groupId);
    await requireWholeGroup(tx, group);
    const ids = [...new Set(memberIds)].sort((a, b) => a - b);
    const runId = await startRun(tx, {
      kind: 'keepApart',
      state: 'done',
      threadId: await handThread(tx),
      title: sharedLines.length
        ? `Kept ${ids.length} records of ${group.name} apart, who share ${sharedLines.join(' and ')}`
        : `Kept ${ids.length} records of ${group.name} apart`,
      counts: { apart: ids.length },
    });
    await keepDecisions(tx, runId, group.kind, pairsOf(await membersFor(tx, ids)), false);
    const pairs = ids.flatMap((a, i) => ids.slice(i + 1).map((b) => ({ a, b, runId })));
    await tx.db.insert(keepApart).values(pairs).onConflictDoNothing();
    if (sharedLines.length)
      await tx.db
        .insert(sharedLine)
        .values(sharedLines.map((line) => ({ line, runId })))
        .onConflictDoNothing();
    await tx.db.update(matchGroup).set({ state: 'apart', decidedRun: runId }).where(eq(matchGroup.id, groupId));
    await tell(tx.client, { topic: 'groups' });
    return { runId };
  });
}

export async function putOff(database: Database, groupId: number): Promise<void> {
  await requireWholeGroup(database, await requireGroup(database, groupId));
  await database.db
    .update(matchGroup)
    .set({ state: 'later' })
    .where(sql`${matchGroup.id} = ${groupId} and ${matchGroup.state} = 'open'`);
  await tell(database.pool, { topic: 'groups' });
}

/** Takes one record out of a group: it is kept apart from the others, who stay a group when two or more are left. */
export async function takeOut(
  database: Database,
  groupId: number,
  memberId: number,
): Promise<{ runId: number; groupId: number | null }> {
  const frozen = await currentModel(database.db);
  await requireWholeGroup(database, await requireGroup(database, groupId));
  return inTransaction(wholeBook(database), async (tx) => {
    const group = await requireGroup(tx, groupId);
    const rest = group.memberIds.filter((id) => id !== memberId);
    if (rest.length === group.memberIds.length) throw refuseGroup.notInGroup();
    const runId = await startRun(tx, {
      kind: 'keepApart',
      state: 'done',
      threadId: await handThread(tx),
      title: `Took one record out of ${group.name}`,
      counts: { apart: 1 },
    });
    const members = await membersFor(tx, group.memberIds);
    const taken = members.find(({ id }) => id === memberId);
    if (taken) {
      const others = members.filter(({ id }) => id !== memberId);
      await keepDecisions(
        tx,
        runId,
        group.kind,
        others.map((other) => [taken, other] as const),
        false,
      );
    }
    await tx.db
      .insert(keepApart)
      .values(rest.map((id) => ({ a: Math.min(id, memberId), b: Math.max(id, memberId), runId })))
      .onConflictDoNothing();
    await tx.db.update(matchGroup).set({ state: 'apart', decidedRun: runId }).where(eq(matchGroup.id, groupId));
    let next: number | null = null;
    if (rest.length > 1 && frozen) {
      const rows = await membersToCompare(tx.client, rest);
      const pairs = group.kind === 'organization' ? await organizationReasons(database, rows) : reasonsOf(frozen, rows);
      const weakest = Math.min(...pairs.map((pair) => pair.bits));
      await saveGroups(tx, frozen, [{ memberIds: rest, bits: weakest }], [], group.kind);
      next =
        (
          await tx.db
            .select({ id: matchGroup.id })
            .from(matchGroup)
            .where(eq(matchGroup.memberKey, memberKey(rest)))
        )[0]?.id ?? null;
    }
    await tell(tx.client, { topic: 'groups' });
    return { runId, groupId: next };
  });
}
