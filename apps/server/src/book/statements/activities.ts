import type { ActivityKind } from '@gray-loom/core/activity';
import type { StoredActivity } from '../../db/schema';
import type { Queryable } from '../../db/connect';

/** Columns that are derived from the record, with their types; all but the identity of the row. */
const DERIVED = {
  kind: 'text',
  at: 'timestamptz',
  who: 'int',
  is_open: 'boolean',
  gone: 'boolean',
  what: 'text',
  quantity: 'float8',
  amount: 'float8',
  currency: 'text',
  outside_id: 'text',
  record: 'jsonb',
} as const;
const NAMES = Object.keys(DERIVED);
const TYPES = Object.entries(DERIVED).map(([name, type]) => `${name} ${type}`);

/** Takes rows as one JSON text. A contact that was merged meanwhile has whoever took it in as the holder. */
export const insertActivities = (client: Queryable, runId: number, rows: string) =>
  client.query<{ id: number; holder_id: number }>(
    `with made as (
       insert into public.activity (contact_id, holder_id, run_id, source_row, ${NAMES.join(', ')})
       select n.contact_id, coalesce(public.root_of(n.contact_id), n.contact_id), $1, n.source_row, ${NAMES.map((name) => `n.${name}`).join(', ')}
         from json_to_recordset($2::json) as n(place int, contact_id bigint, source_row int, ${TYPES.join(', ')}) order by n.place
       returning id, holder_id),
     noted as (insert into public.activity_step (activity_id, version, run_id, before) select id, 1, $1, null from made)
     select id, holder_id from made order by id`,
    [runId, rows],
  );

export interface ActivityRow {
  id: number;
  version: number;
  contact_id: number;
  holder_id: number;
  kind: ActivityKind;
  run_id: number;
  record: StoredActivity;
}

const ROW = 'id, version, contact_id, holder_id, kind, run_id, record';

export const lockActivities = (client: Queryable, ids: readonly number[]) =>
  client.query<ActivityRow>(`select ${ROW} from activity where id = any($1::bigint[]) order by id for update`, [ids]);

/** Changes rows that are under lock, and notes how they were. */
export const updateActivities = (client: Queryable, runId: number, rows: string) =>
  client.query(
    `with n as (select * from json_to_recordset($2::json) as n(id bigint, version int, before jsonb, ${TYPES.join(', ')})),
       noted as (insert into public.activity_step (activity_id, version, run_id, before) select id, version, $1, before from n)
     update public.activity a set version = n.version, ${NAMES.map((name) => `${name} = n.${name}`).join(', ')} from n where a.id = n.id`,
    [runId, rows],
  );

/** Gives the activities of contacts, and of all who were merged into them, to whoever these are now. */
export const followHolders = (client: Queryable, contactIds: readonly number[]) =>
  client.query(
    `with recursive below(id) as (
       select unnest($1::bigint[]) union select c.id from below b join public.contact c on c.merged_into = b.id)
     update public.activity a set holder_id = public.root_of(a.contact_id)
     from below b where a.contact_id = b.id and a.holder_id <> public.root_of(a.contact_id)`,
    [contactIds],
  );

/** The next activities that a run made or changed, each with what its last step by that run left and what was before its first. */
export const stepsOfRun = (client: Queryable, runId: number, afterId: number, limit: number) =>
  client.query<{ id: number; made: boolean; before: StoredActivity | null; after: StoredActivity | null }>(
    `select s.id, s.first = 1 as made,
       (select before from public.activity_step b where b.activity_id = s.id and b.version = s.first) as before,
       (select before from public.activity_step n where n.activity_id = s.id and n.version = s.last + 1) as after
     from (select activity_id as id, min(version) as first, max(version) as last from public.activity_step
       where run_id = $1 and activity_id > $2 group by 1 order by 1 limit $3) s order by 1`,
    [runId, afterId, limit],
  );

export const countStepsOfRun = (client: Queryable, runId: number) =>
  client.query<{ n: number }>(
    'select count(distinct activity_id)::int as n from public.activity_step where run_id = $1',
    [runId],
  );

/** What happened with contacts, in the order of the contacts and then of time; `who` is a name. */
export const activitiesOfContacts = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number; holder_id: number; record: StoredActivity; who: string | null }>(
    `select a.id, a.holder_id, a.record, w.name as who from activity a left join public.account w on w.id = a.who
     where a.holder_id = any($1::bigint[]) and not a.gone order by a.holder_id, a.at, a.id`,
    [contactIds],
  );
