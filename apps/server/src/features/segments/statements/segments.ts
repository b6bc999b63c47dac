import type { ContactKind } from '@gray-loom/core/model';
import type { Condition } from '@gray-loom/core/segments';
import type { Queryable } from '../../../db/connect';
import type { EventCause } from '../../../db/schema';

export interface SegmentRow {
  id: number;
  name: string;
  description: string;
  kind: ContactKind;
  condition: Condition;
  account_id: number | null;
  made_by: number | null;
  by: string | null;
  changed_at: Date;
  members: number;
  reviewed_at: Date | null;
  reviewed_for: string | null;
}

const COLUMNS = `s.id, s.name, s.description, s.kind, s.condition, s.account_id, s.made_by, a.name as by, s.changed_at, s.members, s.reviewed_at,
  s.reviewed_for::text as reviewed_for`;

/** Everybody's segments, and those of one account. */
export const segmentsFor = (client: Queryable, accountId: number | null) =>
  client.query<SegmentRow>(
    `select ${COLUMNS} from segment s left join account a on a.id = s.made_by
     where s.account_id is null or s.account_id = $1 order by lower(s.name)`,
    [accountId],
  );

export const allSegments = (client: Queryable) =>
  client.query<SegmentRow>(`select ${COLUMNS} from segment s left join account a on a.id = s.made_by order by s.id`);

export const segmentOf = (client: Queryable, id: number) =>
  client.query<SegmentRow>(`select ${COLUMNS} from segment s left join account a on a.id = s.made_by where s.id = $1`, [
    id,
  ]);

export const segmentNamed = (client: Queryable, name: string) =>
  client.query<{ id: number; kind: ContactKind }>('select id, kind from segment where lower(name) = lower($1)', [name]);

/** Another word for every state of the segments: it changes when one is made, changed or deleted. */
export const stampOf = (client: Queryable) =>
  client.query<{ stamp: string }>(
    `select count(*) || '.' || coalesce(max(id), 0) || '.' || coalesce(sum(extract(epoch from changed_at)), 0)
       || '.' || count(*) filter (where reviewed_at is null) as stamp from segment`,
  );

/** One writer of members at a time, so that none works by members that another one is changing. */
export const lockMembers = (client: Queryable) => client.query('select pg_advisory_xact_lock(4311)');

/** Lists over there that are kept by a segment. */
export const listsOf = (client: Queryable, id: number) =>
  client.query<{ connection: string; list: string }>(
    `select c.name as connection, l->>'label' as list from public.connection c, jsonb_array_elements(c.setup->'lists') l
     where c.state <> 'stopped' and l->>'direction' = 'out' and (l->>'segment')::int = $1`,
    [id],
  );

/** Takes everything away that is known of who was in a segment. */
export async function dropMembers(client: Queryable, id: number): Promise<void> {
  await client.query('delete from public.segment_member where segment_id = $1', [id]);
  await client.query('delete from public.segment_event where segment_id = $1', [id]);
}

/** How many members of each segment whoever asks may see. */
export const membersSeen = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; n: number }>(
    'select segment_id as id, count(*)::int as n from segment_member where segment_id = any($1::int[]) group by segment_id',
    [ids],
  );

/** Who entered and left in the last days. */
export const movesSince = (client: Queryable, ids: readonly number[], days: number) =>
  client.query<{ id: number; entered: number; left: number }>(
    `select segment_id as id, count(*) filter (where entered)::int as entered, count(*) filter (where not entered)::int as left
     from segment_event where segment_id = any($1::int[]) and at > now() - make_interval(days => $2) and cause <> 'condition' group by segment_id`,
    [ids, days],
  );

export const countsOfDays = (client: Queryable, ids: readonly number[], days: number) =>
  client.query<{ id: number; day: string; n: number }>(
    `select segment_id as id, day::text, n from segment_count where segment_id = any($1::int[]) and day > current_date - $2::int order by day`,
    [ids, days],
  );

/** Who entered and left, newest first; whoever the making or changing of the segment itself brought in or put out stands apart. */
export const eventsOf = (client: Queryable, id: number, before: number | null, limit: number) =>
  client.query<{
    id: number;
    entered: boolean;
    cause: EventCause;
    contact_id: number;
    name: string;
    run_id: number | null;
    run: string | null;
    at: Date;
  }>(
    `select e.id, e.entered, e.cause, e.contact_id, c.display_name as name, e.run_id, r.title as run, e.at
     from segment_event e join public.contact c on c.id = e.contact_id left join public.run r on r.id = e.run_id
     where e.segment_id = $1 and e.cause <> 'condition' and ($2::bigint is null or e.id < $2) order by e.id desc limit $3`,
    [id, before, limit],
  );

export const markForReview = (client: Queryable, ids: readonly number[]) =>
  client.query('update segment set reviewed_at = null where id = any($1::int[])', [ids]);

export const connectionNames = (client: Queryable) =>
  client.query<{ id: number; name: string; canCallNext: boolean }>(
    `select id, name, state = 'on' and coalesce((capabilities->>'canCallNext')::boolean, false) as "canCallNext" from connection order by name`,
  );

export const threadNames = (client: Queryable) =>
  client.query<{ id: number; name: string; kind: string }>(
    'select id, name, kind from thread t where exists (select 1 from run r where r.thread_id = t.id) order by kind, name limit 500',
  );

/** The latest imports that still stand. */
export const importNames = (client: Queryable) =>
  client.query<{ id: number; name: string }>(
    `select id, title || ', ' || to_char(created_at, 'FMDD Mon YYYY') as name from run
     where kind = 'import' and undone_by is null and detail->>'ofRun' is null order by id desc limit 200`,
  );

/** Everybody who has or had an account. */
export const colleagueNames = (client: Queryable) =>
  client.query<{ id: number; name: string }>('select id, name from public.account order by lower(name), id');
