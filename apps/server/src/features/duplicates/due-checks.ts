import { LIFECYCLE } from '@gray-loom/core/model';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import type { Consumer } from '../../feed/consumer';
import type { Change } from '../../feed/read-changes';
import type { RunContext } from '../../runs/kind';
import { markProgress } from '../../runs/lease';
import { enqueueRun, finishRun, handThread, startRun } from '../../runs/runs';
import { checkContacts } from './match-groups';
import { checkOrganization } from './match-organizations';

/** Fields that somebody is known by. */
const KNOWN_BY: ReadonlySet<string> = new Set([
  LIFECYCLE,
  ...'givenName additionalNames familyName fullName prefix suffix nickname legalName'.split(' '),
  ...'email tel adr bday organization title url'.split(' '),
]);
/** Up to so many are checked at once; more are a run of their own. */
const AT_ONCE = 100;
const BATCH = 500;
/** Organizations are few; beyond so many at a time a scan is faster. */
const MOST_ORGANIZATIONS = 20;
/** Contacts whose run is over, so that all it brought is there to be compared. */
const READY = `from match_due d join run r on r.id = d.run_id where r.state not in ('queued', 'running')`;

/** Notes who is to be checked, in the transaction that reads the feed. Merges and undo say themselves what becomes of groups. */
async function noteDue(tx: Tx, changes: readonly Change[]): Promise<void> {
  const wanted = changes.filter(
    ({ kind, fields }) => kind === 'values' && (fields === null || fields.some((field) => KNOWN_BY.has(field))),
  );
  if (!wanted.length) return;
  await tx.client.query(
    `insert into match_due (contact_id, run_id)
     select distinct on (n.contact_id) n.contact_id, n.run_id from unnest($1::bigint[], $2::int[]) with ordinality as n(contact_id, run_id, place)
     join run r on r.id = n.run_id join contact c on c.id = n.contact_id
     where r.kind not in ('merge', 'undo') and c.kind in ('person', 'organization') and exists (select 1 from match_model)
     order by n.contact_id, n.place desc
     on conflict (contact_id) do update set run_id = excluded.run_id`,
    [wanted.map(({ contactId }) => contactId), wanted.map(({ runId }) => runId)],
  );
}

interface Due {
  id: number;
  /** The run that changed it last. */
  runId: number;
}

async function readyDue({ pool }: Database, limit: number): Promise<Due[]> {
  const { rows } = await pool.query<Due>(
    `select d.contact_id as id, d.run_id as "runId" ${READY} order by d.contact_id limit $1`,
    [limit],
  );
  return rows;
}

/** Checks contacts against everybody and strikes them off. What is interrupted between the two is only checked again. */
async function checkThese(database: Database, due: readonly Due[]): Promise<Record<string, number>> {
  const ids = due.map(({ id }) => id);
  const { rows } = await database.pool.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and kind = 'organization' and state = 'live' limit $2`,
    [ids, MOST_ORGANIZATIONS],
  );
  for (const { id } of rows) await checkOrganization(database, id);
  const counts = await checkContacts(database, ids, (work) => inTransaction(database, work));
  // One that was changed again meanwhile, by another run, stays to be checked again.
  await database.pool.query(
    `delete from match_due d using unnest($1::bigint[], $2::int[]) as c(id, run_id)
     where d.contact_id = c.id and d.run_id = c.run_id`,
    [ids, due.map(({ runId }) => runId)],
  );
  return counts;
}

/** Few are checked at once; for many a run is started that everybody can see and stop. */
async function checkDue(database: Database): Promise<'done' | 'later'> {
  const due = await readyDue(database, AT_ONCE + 1);
  if (due.length > AT_ONCE) await startCheck(database);
  else if (due.length) await checkThese(database, due);
  const { rows } = await database.pool.query<{ waits: boolean }>('select exists (select 1 from match_due) as waits');
  return rows[0]?.waits ? 'later' : 'done';
}

/** Starts the check of everybody who waits for one, unless it is under way. */
async function startCheck(database: Database): Promise<void> {
  await inTransaction(database, async (tx) => {
    await tx.client.query('lock table match_due in share row exclusive mode');
    const { rows } = await tx.client.query<{ busy: boolean; title: string; kinds: number; n: number }>(
      `select exists (select 1 from run where kind = 'check' and state in ('queued', 'running')) as busy,
         count(distinct r.id)::int as kinds, min(r.title) as title, count(*)::int as n ${READY}`,
    );
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
    const left = await database.pool.query<{ n: number }>(`select count(*)::int as n ${READY}`);
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
    if (stopped) await tx.client.query('delete from match_due');
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
