import type { RunContact, RunSummary } from '@gray-loom/wire';
import type { Queryable } from '../../../db/connect';
import type { LeftNote } from '../../../runs/statements/append-left';
import type { RunWait } from '../../../db/schema';

export interface Row {
  id: number;
  kind: string;
  state: RunSummary['state'];
  title: string;
  thread_kind: RunSummary['thread']['kind'];
  thread_name: string;
  actor: string | null;
  actor_id: number | null;
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
  waits: RunWait | null;
  /** Title of the run that it waits for. */
  waits_for: string | null;
  detail: Record<string, unknown>;
}

const SELECT = `select r.id, r.kind, r.state, r.title, t.kind as thread_kind, t.name as thread_name, a.name as actor, r.actor_id,
  r.contact_id, c.display_name as contact_name, r.progress, r.counts, r.error, r.undo_of, r.undone_by,
  (r.detail->>'intakeId')::int as intake_id, (r.detail->>'connectionId')::int as connection_id,
  coalesce((r.detail->>'trial')::boolean, false) as is_trial, r.kind = 'sync' and r.state = 'paused'
     and r.detail ? 'reasons' as is_braked, r.created_at, r.finished_at, r.waits,
  case when r.state = 'queued' then r.detail else '{}' end as detail,
  (select w.title from run w where w.id = (r.waits->>'forRun')::int) as waits_for
  from run r join thread t on t.id = r.thread_id left join account a on a.id = r.actor_id left join contact c on c.id = r.contact_id`;

/** Passes of a sync that found nothing to do, and trials, which write nothing. */
const IDLE = `(r.kind = 'trial' or coalesce((r.detail->>'trial')::boolean, false)
  or (r.kind = 'sync' and r.state = 'done' and r.detail ? 'connectionId'
    and not exists (select 1 from jsonb_each_text(r.counts) c
       where c.key in ('madeHere', 'madeThere', 'changedHere', 'changedThere', 'linked', 'asked', 'conflicts', 'removedThere', 'goneThere',
          'failed') and c.value <> '0')))`;

export const runsBefore = (client: Queryable, before: number | null, kind: string, limit: number) =>
  client.query<Row>(
    `${SELECT} where ($1::int is null or r.id < $1) and (case when $2 = '' then not ${IDLE} else r.kind = $2 end) order by r.id desc limit $3`,
    [before, kind, limit],
  );

export const runById = (client: Queryable, id: number) => client.query<Row>(`${SELECT} where r.id = $1`, [id]);

export const openRuns = (client: Queryable) =>
  client.query<Row>(`${SELECT} where r.state in ('queued', 'running', 'paused') order by r.id limit 5`);

export const leftByRun = (client: Queryable, runId: number) =>
  client.query<{ left: LeftNote[] }>(`select coalesce(detail->'left', '[]') as left from run where id = $1`, [runId]);

export const namesOfLeft = (client: Queryable, contactIds: readonly number[], groupIds: readonly number[]) =>
  client.query<{ of: 'contact' | 'group'; id: number; name: string }>(
    `select 'contact' as of, id, display_name as name from contact where id = any($1::bigint[])
     union all select 'group', id, name from match_group where id = any($2::int[])`,
    [contactIds, groupIds],
  );

/** Runs that are at work. */
export const runsAtWork = (client: Queryable) =>
  client.query<{ id: number; kind: string; title: string; detail: Record<string, unknown> }>(
    `select id, kind, title, detail from run where state = 'running' order by id`,
  );

export const endedRuns = (client: Queryable, quietKinds: readonly string[]) =>
  client.query<Row>(
    `${SELECT} where r.state in ('done', 'failed', 'stopped') and r.kind <> all($1::text[]) and not ${IDLE}
     order by r.finished_at desc nulls last limit 1`,
    [quietKinds],
  );

export const contactsOfRun = (client: Queryable, runId: number, after: number, limit: number) =>
  client.query<{
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
    [runId, after, limit],
  );

/** Contacts that a run touched outside the remit of whoever asks. */
export const countElsewhere = (client: Queryable, runId: number) =>
  client.query<{ n: number }>(
    `select count(distinct o.contact_id)::int as n from public.operation o
      where o.run_id = $1 and not exists (select 1 from contact c where c.id = o.contact_id)`,
    [runId],
  );
