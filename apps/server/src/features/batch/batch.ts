import { sql } from 'drizzle-orm';
import { displayNameOf, showValue } from '@gray-loom/core/fields';
import type { BatchChange, BatchRefusal } from '@gray-loom/core/writing';
import type { BatchRequest, BatchStarted, BatchTrial } from '@gray-loom/wire';
import { loadCatalogue, PickLists } from '../../book/picks';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { run } from '../../db/schema';
import { enqueueRun, finishRun, handThread, startRun } from '../../runs/runs';
import { tell } from '../../feed/events';
import {
  addCounts,
  changeSome,
  conditionOf,
  planFor,
  readChange,
  type BatchCounts,
  type Planned,
} from './batch-change';
import { refuse } from './refusals';
import { recordsOf } from './statements/records';
import { countMeeting, dropTargets, fixByCondition, fixByIds, idsMeeting, nextTargets } from './statements/batch';

/** Contacts that a trial looks at one by one; of more a part is looked at. */
const LOOKED = 20_000;
/** Contacts changed at once in the request; more become a job. */
const AT_ONCE = 500;
const CHUNK = 1000;
const EXAMPLES = 8;

/** Works out what a batch would do, without writing. */
export async function tryBatch(
  database: Database,
  { what, change: asked }: BatchRequest,
  country: string,
): Promise<BatchTrial> {
  const { pool } = database;
  const catalogue = await loadCatalogue(database.db);
  const picks = await PickLists.load(database.db);
  const change = await readChange(asked, { catalogue, picks, country, client: pool });
  const condition = await conditionOf(pool, what);
  const concerns = condition ? ((await countMeeting(pool, condition, what.except)).rows[0]?.n ?? 0) : what.ids.length;
  if (!concerns) throw refuse.nobodyMeant();
  const every = Math.ceil(concerns / LOOKED);
  const ids = condition
    ? (await idsMeeting(pool, condition, what.except, every)).rows.map(({ id }) => id)
    : [...new Set(what.ids)];
  const counts: BatchCounts = {};
  const examples: BatchTrial['examples'] = [];
  let looked = 0;
  for (let from = 0; from < ids.length; from += CHUNK) {
    const records = await recordsOf(pool, ids.slice(from, from + CHUNK));
    const planned = await planFor(database, change, records, 0, catalogue);
    looked += planned.length;
    addCounts(counts, planned);
    for (const one of planned)
      if (examples.length < EXAMPLES && one.plan.outcome === 'change') examples.push(exampleOf(one, change));
  }
  const isSample = every > 1;
  const share = looked ? (isSample ? concerns / looked : 1) : 0;
  const reckoned = (n: number | undefined) => Math.round((n ?? 0) * share);
  return {
    concerns: isSample ? concerns : looked,
    changes: reckoned(counts.changed),
    same: reckoned(counts.same),
    refused: Object.entries(counts).flatMap(([key, n]) =>
      key.startsWith('refused.') ? [{ why: key.slice(8) as BatchRefusal, n: reckoned(n) }] : [],
    ),
    looked,
    isSample,
    examples,
  };
}

/** One contact before and after, as people read it. */
function exampleOf({ id, record, plan }: Planned, change: BatchChange): BatchTrial['examples'][number] {
  const name = displayNameOf(record);
  if (plan.outcome !== 'change' || !plan.operations.length) return { id, name, before: '', after: '' };
  const field = change.kind === 'tags' ? 'tags' : 'field' in change ? change.field : '';
  if (!field) return { id, name, before: '', after: change.kind === 'delete' ? 'deleted' : 'back' };
  const gone = new Set(plan.operations.flatMap(({ before }) => (before ? [before.slot] : [])));
  const there = record.f[field] ?? [];
  const added = plan.operations.flatMap(({ after }) => (after ? [after] : []));
  const say = (values: typeof there) => values.map((value) => showValue(field, value)).join(', ');
  return { id, name, before: say(there), after: say([...there.filter(({ slot }) => !gone.has(slot)), ...added]) };
}

/** What a batch is called in the ledger. */
function titleOf(change: BatchChange, nameOf: (field: string) => string): string {
  switch (change.kind) {
    case 'tags': {
      const added = change.add.map(({ v }) => String(v)).join(', ');
      if (change.only) return added ? `Tags set to ${added}` : 'All tags taken off';
      return [
        added ? `Tag added: ${added}` : '',
        change.remove.length ? `tag taken off: ${change.remove.join(', ')}` : '',
      ]
        .filter(Boolean)
        .join('; ')
        .replace(/^t/, 'T');
    }
    case 'set': {
      const how = { fill: 'filled with', add: 'added:', replace: 'set to' }[change.how];
      return `${nameOf(change.field)} ${how} ${showValue(change.field, change.value)}`;
    }
    case 'clear':
      return `${nameOf(change.field)} cleared`;
    case 'permission':
      return `${change.state === 'optedOut' ? 'Stop' : 'Allowed'}, ${change.channel}`;
    case 'delete':
      return 'Deleted many';
    case 'restore':
      return 'Brought back many';
    case 'sync':
      return change.choice === 'send' ? 'Sent by hand' : change.choice === 'never' ? 'Never sent' : 'Sent by the rules';
  }
}

/** Starts a batch: whom it is about is fixed now. Few are changed at once, more by a job that can be stopped and goes on after a crash. */
export async function startBatch(
  database: Database,
  { what, change: asked }: BatchRequest,
  country: string,
): Promise<BatchStarted> {
  const started = await inTransaction(database, async (tx) => {
    const catalogue = await loadCatalogue(tx.db);
    const picks = await PickLists.load(tx.db);
    const change = await readChange(asked, { catalogue, picks, country, client: tx.client });
    await picks.save(tx);
    const runId = await startRun(tx, {
      kind: 'batch',
      state: 'running',
      threadId: await handThread(tx),
      title: titleOf(change, (field) => catalogue.nameOf(field)),
    });
    const condition = await conditionOf(tx.client, what);
    const fixed = condition
      ? await fixByCondition(tx.client, runId, condition, what.except)
      : await fixByIds(tx.client, runId, what.ids);
    const concerns = fixed.rowCount ?? 0;
    if (!concerns) throw refuse.nobodyMeant();
    await tx.db
      .update(run)
      .set({
        detail: sql`${run.detail} || ${JSON.stringify({ change })}::jsonb`,
        progress: { done: 0, total: concerns },
        ...(concerns > AT_ONCE ? { state: 'queued' as const, finishedAt: null } : {}),
      })
      .where(sql`${run.id} = ${runId}`);
    if (concerns > AT_ONCE) {
      await enqueueRun(tx, runId);
      return { runId, finished: false };
    }
    const { rows } = await nextTargets(tx.client, runId, 0, AT_ONCE);
    const counts = addCounts(
      {},
      await changeSome(
        tx,
        runId,
        change,
        rows.map(({ id }) => id),
        catalogue,
      ),
    );
    if (!counts.changed) throw refuse.nothingToChange();
    await endBatch(tx, runId, change, counts);
    return { runId, finished: true };
  });
  await tell(database.pool, { topic: 'run', id: started.runId });
  return started;
}

/** Ends a batch once everybody it is about was looked at. */
export async function endBatch(tx: Tx, runId: number, change: BatchChange, counts: BatchCounts): Promise<void> {
  // What was said of connections before is kept, to be taken back.
  if (change.kind !== 'sync') await dropTargets(tx.client, runId);
  await finishRun(tx, runId, 'done', counts);
  await tell(tx.client, { topic: change.kind === 'sync' ? 'syncs' : 'contacts' });
}
