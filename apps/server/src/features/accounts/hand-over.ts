import { eq } from 'drizzle-orm';
import { MOST_HANDED, type GiveBy, type HandedOver, type HandOver, type Owner } from '@gray-loom/wire';
import { lifecycleOf, type Operation } from '@gray-loom/core/model';
import { accountIdOf } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { account } from '../../db/schema';
import { tell } from '../../feed/events';
import { finishRun, handThread, startRun } from '../../runs/runs';
import { applyChanges, lockContacts, type ContactChange } from '../../book/write-contacts';
import { contactConditions, readyFilter } from '../contacts';
import { handOpenWith } from '../activity';
import { startGiving } from '../setup';
import { refuse } from './refusals';
import { idsOfFilter, noteHanded, owners, tellHeir, unownedAmong } from './statements/hand-over';

/** Contacts locked and written in one go. */
const BATCH = 1000;

export async function listOwners({ pool }: Database): Promise<Owner[]> {
  return (await owners(pool)).rows;
}

async function requireHeir(tx: Tx, id: number): Promise<typeof account.$inferSelect> {
  const [found] = await tx.db.select().from(account).where(eq(account.id, id));
  if (!found) throw refuse.noSuchAccount();
  if (found.retiredAt) throw refuse.retired({ name: found.name });
  return found;
}

async function idsOf(tx: Tx, { ids, filter }: HandOver): Promise<number[]> {
  if (!filter) return [...new Set(ids)].sort((a, b) => a - b);
  const { where, values } = contactConditions(await readyFilter(tx.client, filter));
  const { rows } = await idsOfFilter(tx.client, where, values, MOST_HANDED + 1);
  if (rows.length > MOST_HANDED) throw refuse.tooManyHanded({ most: MOST_HANDED });
  return rows.map(({ id }) => id);
}

/**
 * Gives contacts to an account, or to nobody: some, or all that a filter finds, as one run that can be undone. The other is told; who
 * takes contacts on is not told of it.
 */
export async function handOver(database: Database, request: HandOver): Promise<HandedOver> {
  return inTransaction(database, async (tx) => {
    if (request.give) return giveOut(tx, request, request.give);
    const heir = request.to === null ? null : await requireHeir(tx, request.to);
    const ids = await idsOf(tx, request);
    const runId = await startRun(tx, {
      kind: 'handOver',
      state: 'running',
      threadId: await handThread(tx),
      title: heir ? `Contacts handed to ${heir.name}` : 'Contacts owned by nobody from now on',
    });
    let count = 0;
    for (let from = 0; from < ids.length; from += BATCH) {
      const contacts = await lockContacts(tx, ids.slice(from, from + BATCH));
      const changes: ContactChange[] = [];
      for (const [id, { record }] of contacts) {
        const before = record.f.owner?.[0] ?? null;
        if (lifecycleOf(record) || (before?.v ?? '') === (heir?.name ?? '')) continue;
        const after = heir ? { slot: before?.slot ?? 0, v: heir.name, run: runId } : null;
        const operation: Operation = { target: id, field: 'owner', slot: before?.slot ?? 0, before, after };
        changes.push({ contactId: id, operations: [operation] });
      }
      await applyChanges(tx, runId, changes, { locked: contacts });
      if (heir) await handOpenWith(tx, runId, changes.map(ownerUntilNow), heir.id);
      count += changes.length;
    }
    // All were theirs already: as if nobody had asked.
    if (!count) throw refuse.nothingToHand();
    await finishRun(tx, runId, 'done', { changed: count });
    const by = accountIdOf(tx.actor);
    if (heir && heir.id !== by) await tellHeir(tx.client, heir.id, by, runId, count);
    await tell(tx.client, { topic: 'contacts' });
    return { runId, count };
  });
}

const ownerUntilNow = ({ contactId, operations }: ContactChange) => ({
  contactId,
  owner: String(operations[0]?.before?.v ?? ''),
});

/** Gives out those of some contacts whom nobody owns. */
async function giveOut(tx: Tx, request: HandOver, by: GiveBy): Promise<HandedOver> {
  const ids = (await unownedAmong(tx.client, await idsOf(tx, request))).rows.map(({ id }) => id);
  if (!ids.length) throw refuse.nothingToHand();
  const title = by === 'inTurn' ? 'Contacts given out in turn' : 'Contacts given out by area';
  const { runId } = await startGiving(tx, { by, ofRun: null, ids }, title);
  await tell(tx.client, { topic: 'contacts' });
  return { runId, count: ids.length };
}

/** Whoever was told of contacts that were handed over has noted it. */
export async function noteHandedOver(database: Database, id: number): Promise<void> {
  const own = accountIdOf(database.actor);
  if (own === null || !(await noteHanded(database.pool, id, own)).rowCount) throw refuse.nothingHanded();
  await tell(database.pool, { topic: 'contacts' });
}
