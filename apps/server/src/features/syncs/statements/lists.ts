import type { Queryable } from '../../../db/connect';

/** Links that are in step, with the contact that stands for each now, and the lists that its record was last seen in. */
const IN_STEP = `select case when c.merged_into is null then c.id else public.root_of(c.id) end as contact_id, l.outside_id,
    array(select lower(x) from json_array_elements_text(coalesce(l.seen->'labels', '[]'::json)) x) as labels
  from sync_link l join contact c on c.id = l.contact_id where l.connection_id = $1 and l.state = 'linked'`;

/** By list over there, in small letters, how many records were last seen in it. */
export const countsThere = (client: Queryable, connectionId: number) =>
  client.query<{ label: string; n: number }>(
    `select lower(x) as label, count(*)::int as n from sync_link l, json_array_elements_text(coalesce(l.seen->'labels', '[]'::json)) x
     where l.connection_id = $1 and l.version <> '' group by 1`,
    [connectionId],
  );

interface SegmentCounts {
  id: string;
  here: number;
  not_linked: number;
  only_here: number;
  only_there: number;
  last_at: Date | null;
}

/** How segments and the lists that they keep stand to each other. */
export const standingOfSegments = (
  client: Queryable,
  connectionId: number,
  lists: readonly { id: string; segment: number; label: string }[],
) =>
  client.query<SegmentCounts>(
    `with linked as materialized (${IN_STEP}), line as (
       select * from json_to_recordset($2::json) as x(id text, segment int, label text)),
     mine as (select n.id, count(*)::int as here, count(*) filter (where k.contact_id is null)::int as not_linked,
         count(*) filter (where k.contact_id is not null and not n.label = any(k.labels))::int as only_here
       from line n join segment_member m on m.segment_id = n.segment left join linked k on k.contact_id = m.contact_id group by n.id),
     theirs as (select n.id, count(*)::int as only_there from linked k cross join lateral unnest(k.labels) as u(label)
         join line n on n.label = u.label
         where not exists (select 1 from segment_member m where m.segment_id = n.segment and m.contact_id = k.contact_id) group by n.id)
     select n.id, coalesce(mine.here, 0) as here, coalesce(not_linked, 0) as not_linked, coalesce(only_here, 0) as only_here,
       coalesce(only_there, 0) as only_there, (select max(e.at) from segment_event e where e.segment_id = n.segment) as last_at
     from line n left join mine on mine.id = n.id left join theirs on theirs.id = n.id`,
    [connectionId, JSON.stringify(lists.map((one) => ({ ...one, label: one.label.toLowerCase() })))],
  );

/** How many meet a condition. */
export const countMeeting = (client: Queryable, { where, values }: { where: string; values: readonly unknown[] }) =>
  client.query<{ n: number }>(`select count(*)::int as n from contact c where ${where}`, [...values]);

/** Questions that are open, by the list that they are about. */
export const askedByLine = (client: Queryable, connectionId: number) =>
  client.query<{ line: string; n: number; at: Date }>(
    `select line, count(*)::int as n, max(created_at) as at from sync_conflict where connection_id = $1 and why = 'byHand' group by line`,
    [connectionId],
  );

/** The first people who are on one side of a list only. */
export const differencesOf = (
  client: Queryable,
  connectionId: number,
  { segment, label, limit }: { segment: number; label: string; limit: number },
) =>
  client.query<{ id: number; name: string; why: 'notLinked' | 'onlyHere' | 'onlyThere' }>(
    `with linked as materialized (${IN_STEP}), one as (
       select m.contact_id, case when k.contact_id is null then 'notLinked' else 'onlyHere' end as why
       from segment_member m left join linked k on k.contact_id = m.contact_id
       where m.segment_id = $2 and (k.contact_id is null or not $3 = any(k.labels))
       union all
       select k.contact_id, 'onlyThere' from linked k where $3 = any(k.labels)
         and not exists (select 1 from segment_member m where m.segment_id = $2 and m.contact_id = k.contact_id))
     select c.id, c.display_name as name, one.why from one join contact c on c.id = one.contact_id
     order by one.why desc, c.display_name, c.id limit $4`,
    [connectionId, segment, label.toLowerCase(), limit],
  );
