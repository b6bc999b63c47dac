import { hasRole, type Actor } from '../../db/actor';
import type { RunContact, RunPage, RunSummary, TapeState } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { refuse } from './refusals';
import { loadCatalogue } from '../../book/picks';
import type { RunKinds } from '../../runs/kind';

interface Row {
  id: number;
  kind: string;
  state: RunSummary['state'];
  title: string;
  thread_kind: RunSummary['thread']['kind'];
  thread_name: string;
  actor: string | null;
  contact_id: number | null;
  contact_name: string | null;
  progress: { done: number; total: number };
  counts: Record<string, number>;
  error: string | null;
  undo_of: number | null;
  undone_by: number | null;
  intake_id: number | null;
  connection_id: number | null;
  is_trial: boolean;
  is_braked: boolean;
  created_at: Date;
  finished_at: Date | null;
}

const SELECT = `select r.id, r.kind, r.state, r.title, t.kind as thread_kind, t.name as thread_name, a.name as actor,
  r.contact_id, c.display_name as contact_name, r.progress, r.counts, r.error, r.undo_of, r.undone_by,
  (r.detail->>'intakeId')::int as intake_id, (r.detail->>'connectionId')::int as connection_id,
  coalesce((r.detail->>'trial')::boolean, false) as is_trial, r.kind = 'sync' and r.state = 'paused'
     and r.detail ? 'reasons' as is_braked, r.created_at, r.finished_at
  from run r join thread t on t.id = r.thread_id left join account a on a.id = r.actor_id left join contact c on c.id = r.contact_id`;

/** Passes of a sync that found nothing to do, and trials, which write nothing. */
const IDLE = `(r.kind = 'trial' or coalesce((r.detail->>'trial')::boolean, false)
  or (r.kind = 'sync' and r.state = 'done' and r.detail ? 'connectionId'
    and not exists (select 1 from jsonb_each_text(r.counts) c
       where c.key in ('madeHere', 'madeThere', 'changedHere', 'changedThere', 'linked', 'asked', 'conflicts', 'removedThere', 'goneThere',
          'failed') and c.value <> '0')))`;

function summaryOf(kinds: RunKinds, actor: Actor, row: Row): RunSummary {
  // What somebody may not do is not offered.
  const mayAct = hasRole(actor, 'editor');
  const kind = kinds.find(row.kind);
  const isOpen = ['queued', 'running', 'paused'].includes(row.state);
  return {
    id: row.id,
    kind: row.kind,
    state: row.state,
    title: row.title,
    thread: { kind: row.thread_kind, name: row.thread_name },
    actor: row.actor,
    contactId: row.contact_id,
    contactName: row.contact_name,
    progress: row.progress,
    counts: row.counts,
    error: row.error,
    undoOf: row.undo_of,
    undoneBy: row.undone_by,
    undoable:
      mayAct &&
      row.undone_by === null &&
      !!kind?.undo &&
      !row.is_trial &&
      (row.connection_id === null || (row.counts.madeHere ?? 0) + (row.counts.changedHere ?? 0) > 0) &&
      !isOpen,
    // What the brake holds is decided where its plan is shown.
    pausable: mayAct && kind?.work?.pauses === true && !row.is_braked && isOpen,
    stoppable: mayAct && isOpen && kind?.work?.stops !== 'never',
    braked: row.is_braked,
    words: kinds.sentence(row),
    doing: kind?.doing ?? '',
    intakeId: row.intake_id,
    connectionId: row.connection_id,
    createdAt: row.created_at.toISOString(),
    finishedAt: row.finished_at?.toISOString() ?? null,
  };
}

/** The ledger, newest first. What wrote nothing is left out unless its kind is asked for. */
export async function listRuns(
  { pool, actor }: Database,
  kinds: RunKinds,
  before: number | null,
  kind: string,
  limit: number,
): Promise<RunPage> {
  const { rows } = await pool.query<Row>(
    `${SELECT} where ($1::int is null or r.id < $1) and (case when $2 = '' then not ${IDLE} else r.kind = $2 end) order by r.id desc limit $3`,
    [before, kind, limit + 1],
  );
  const shown = rows.slice(0, limit);
  return {
    runs: shown.map((row) => summaryOf(kinds, actor, row)),
    next: rows.length > limit ? (shown[shown.length - 1]?.id ?? null) : null,
  };
}

export async function runSummary({ pool, actor }: Database, kinds: RunKinds, id: number): Promise<RunSummary> {
  const { rows } = await pool.query<Row>(`${SELECT} where r.id = $1`, [id]);
  if (!rows[0]) throw refuse.noSuchRun();
  return summaryOf(kinds, actor, rows[0]);
}

/** What the tape shows: work in progress, and the latest finished run that changed something. */
export async function tapeState({ pool, actor }: Database, kinds: RunKinds): Promise<TapeState> {
  const running = await pool.query<Row>(
    `${SELECT} where r.state in ('queued', 'running', 'paused') order by r.id limit 5`,
  );
  const latest = await pool.query<Row>(
    `${SELECT} where r.state in ('done', 'failed', 'stopped') and r.kind <> all($1::text[]) and not ${IDLE}
     order by r.finished_at desc nulls last limit 1`,
    [kinds.which(({ quiet }) => quiet === true)],
  );
  return {
    running: running.rows.map((row) => summaryOf(kinds, actor, row)),
    latest: latest.rows[0] ? summaryOf(kinds, actor, latest.rows[0]) : null,
  };
}

/** The contacts a run touched, a page of them. */
export async function runContacts(database: Database, id: number, after: number, limit: number): Promise<RunContact[]> {
  const catalogue = await loadCatalogue(database.db);
  const { rows } = await database.pool.query<{
    contact_id: number;
    kind: RunContact['kind'];
    name: string;
    created: boolean;
    fields: string[] | null;
  }>(
    `select o.contact_id, c.kind, c.display_name as name, bool_or(o.changes is null) as created,
       array_agg(distinct ch->>'field') filter (where ch is not null) as fields
     from operation o join contact c on c.id = o.contact_id left join lateral jsonb_array_elements(o.changes) ch on true
     where o.run_id = $1 and o.contact_id > $2 group by o.contact_id, c.kind, c.display_name order by o.contact_id limit $3`,
    [id, after, limit],
  );
  return rows.map((row) => ({
    contactId: row.contact_id,
    kind: row.kind,
    name: row.name,
    created: row.created,
    fields: (row.fields ?? []).map((field) => catalogue.nameOf(field.replace(/^also\./, ''))),
  }));
}
