import { LIFECYCLE } from '@gray-loom/core/model';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import type { Consumer } from '../../feed/consumer';
import type { Change } from '../../feed/read-changes';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { enqueueRun, finishRun, handThread, startRun } from '../../runs/runs';
import { checkContacts } from './check-contacts';
import { checkOrganization } from './match-organizations';
import { tell } from '../../feed/events';
import { closeGhosts } from './statements/match-groups';
import {
  insertDue,
  selectReadyDue,
  organizationsAmong,
  deleteDue,
  isAnybodyDue,
  lockDue,
  dueState,
  countReadyDue,
  deleteAllDue,
  type Due,
} from './statements/due-checks';

/** Fields that somebody is known by. */
const KNOWN_BY: ReadonlySet<string> = new Set([
  LIFECYCLE,
  ...'givenName additionalNames familyName fullName prefix suffix nickname legalName'.split(' '),
  ...'email tel adr bday organization title url'.split(' '),
]);
/** Up to so many are checked at once; more are a run of their own. */
const AT_ONCE = 100;
/** Where many share a name their groups are settled anew with every batch, so there are few. */
const BATCH = 4000;

/** Notes who is to be checked, in the transaction that reads the feed. Merges and undo say themselves what becomes of groups. */
async function noteDue(tx: Tx, changes: readonly Change[]): Promise<void> {
  const wanted = changes.filter(
    ({ kind, fields }) => kind === 'values' && (fields === null || fields.some((field) => KNOWN_BY.has(field))),
  );
  if (!wanted.length) return;
  // Whoever is gone, by whatever run, leaves no group behind that has nobody left to be merged.
  const closed = await closeGhosts(
    tx.client,
    wanted.map(({ contactId }) => contactId),
  );
  if (closed.rowCount) await tell(tx.client, { topic: 'groups' });
  await insertDue(
    tx.client,
    wanted.map(({ contactId }) => contactId),
    wanted.map(({ runId }) => runId),
  );
}

async function readyDue({ pool }: Database, limit: number): Promise<Due[]> {
  const { rows } = await selectReadyDue(pool, limit);
  return rows;
}

/** Checks contacts against everybody and strikes them off. What is interrupted between the two is only checked again. */
async function checkThese(database: Database, due: readonly Due[]): Promise<Record<string, number>> {
  const ids = due.map(({ id }) => id);
  const { rows } = await organizationsAmong(database.pool, ids);
  for (const { id } of rows) await checkOrganization(database, id);
  const counts = await checkContacts(database, ids);
  // One that was changed again meanwhile, by another run, stays to be checked again.
  await deleteDue(
    database.pool,
    ids,
    due.map(({ runId }) => runId),
  );
  return counts;
}

/** Few are checked at once; for many a run is started that everybody can see and stop. */
async function checkDue(database: Database): Promise<'done' | 'later'> {
  const due = await readyDue(database, AT_ONCE + 1);
  if (due.length > AT_ONCE) await startCheck(database);
  else if (due.length) await checkThese(database, due);
  const { rows } = await isAnybodyDue(database.pool);
  return rows[0]?.waits ? 'later' : 'done';
}

/** Starts the check of everybody who waits for one, unless it is under way. */
async function startCheck(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    await lockDue(tx.client);
    const { rows } = await dueState(tx.client);
    const [due] = rows;
    if (!due || due.busy) return;
    const what = due.kinds === 1 ? due.title : `${due.n.toLocaleString('en')} contacts`;
    const runId = await startRun(tx, {
      kind: 'check',
      state: 'queued',
      threadId: await handThread(tx),
      title: `Check of ${what} for duplicates`,
    });
    await enqueueRun(tx, runId);
  });
}

/** Checks all who wait for it. Taken up again it goes on where it was, since whoever was checked is struck off. */
export async function checkDuplicates({ database, run, lease, leaseMs }: RunContext): Promise<void> {
  const counts: Record<string, number> = { people: 0, certain: 0, likely: 0, possible: 0, ...run.counts };
  let stopped = run.stopRequested;
  for (let due = await readyDue(database, BATCH); due.length && !stopped; due = await readyDue(database, BATCH)) {
    const found = await checkThese(database, due);
    counts.people = (counts.people ?? 0) + due.length;
    for (const [band, n] of Object.entries(found)) counts[band] = (counts[band] ?? 0) + n;
    const left = await countReadyDue(database.pool);
    const { stopRequested } = await inTransaction(database, (tx) =>
      markProgress(
        tx,
        lease,
        { done: counts.people ?? 0, total: (counts.people ?? 0) + (left.rows[0]?.n ?? 0) },
        counts,
        leaseMs,
      ),
    );
    stopped = stopRequested;
  }
  await inTransaction(database, async (tx) => {
    // Whoever stops a check does not want it to begin again by itself.
    if (stopped) await deleteAllDue(tx.client);
    await finishRun(tx, lease.runId, stopped ? 'stopped' : 'done', counts);
  });
}

/** Whoever comes in or changes is checked for duplicates. */
export const duplicateChecks: Consumer = {
  name: 'duplicateChecks',
  sentence: 'Looks whether somebody who came in or changed is here twice.',
  from: 'now',
  batch: 2000,
  handle: noteDue,
  then: checkDue,
};
