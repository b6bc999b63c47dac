import type { Facts } from '@gray-loom/core/segments';
import type { Queryable } from '../../../db/connect';
import type { EventCause, FactsWho } from '../../../db/schema';

/** Contacts with what conditions look at. */
export const factsOfContacts = (client: Queryable, ids: readonly number[]) =>
  client.query<{
    id: number;
    who: FactsWho;
    facts: Facts;
    created_ms: number;
    changed_ms: number;
    completeness: number;
    area: string;
  }>({
    name: 'facts-of-contacts',
    text: `select f.contact_id as id, f.who, f.facts, extract(epoch from c.created_at)::float8 * 1000 as created_ms,
       extract(epoch from c.touched_at)::float8 * 1000 as changed_ms, c.completeness, c.area
     from public.contact_facts f join public.contact c on c.id = f.contact_id where f.contact_id = any($1::bigint[])`,
    values: [ids],
  });

/** In which of these segments these contacts are. */
export const membersAmong = (client: Queryable, segmentIds: readonly number[], contactIds: readonly number[]) =>
  client.query<{ segment_id: number; contact_id: number }>({
    name: 'members-among',
    text: `select segment_id, contact_id from public.segment_member
     where contact_id = any($1::bigint[]) and segment_id = any($2::int[])`,
    values: [contactIds, segmentIds],
  });

export interface Move {
  segmentId: number;
  contactId: number;
  entered: boolean;
  changeId: string;
  runId: number;
}

/** Writes who entered and who left, with an event for each, and how many there are then. */
export const writeMoves = (client: Queryable, moves: readonly Move[]) =>
  client.query(
    `with move as materialized (
       select * from unnest($1::int[], $2::bigint[], $3::boolean[], $4::text[], $5::int[]) as m(segment_id, contact_id, entered, change_id, run_id)),
     come as (insert into public.segment_member (segment_id, contact_id) select segment_id, contact_id from move where entered),
     gone as (delete from public.segment_member m using move v
       where not v.entered and m.segment_id = v.segment_id and m.contact_id = v.contact_id),
     noted as (insert into public.segment_event (segment_id, contact_id, entered, cause, change_id, run_id)
       select segment_id, contact_id, entered, 'change', change_id, run_id from move)
     update segment s set members = s.members + v.n
     from (select segment_id, sum(case when entered then 1 else -1 end)::int as n from move group by segment_id) v where s.id = v.segment_id`,
    [
      moves.map(({ segmentId }) => segmentId),
      moves.map(({ contactId }) => contactId),
      moves.map(({ entered }) => entered),
      moves.map(({ changeId }) => changeId),
      moves.map(({ runId }) => runId),
    ],
  );

/**
 * Holds everybody against a condition: who enters, who leaves, with their events. Who is in it now is laid aside first: reading that
 * on several processors is only possible where nothing else is written.
 */
export async function reviewMembers(
  client: Queryable,
  { from, who, sql, values }: { from: string; who: string; sql: string; values: readonly unknown[] },
  { id, cause, day }: { id: number; cause: EventCause; day: string },
): Promise<{ entered: number; left: number }> {
  await client.query('drop table if exists pg_temp.now_in');
  await client.query(
    `create temp table now_in on commit drop as select f.contact_id from ${from} where ${who} and (${sql})`,
    [...values],
  );
  await client.query('analyze pg_temp.now_in');
  const { rows } = await client.query<{ entered: number; left: number }>(
    // Joined in full by a hash, and taken out by a list, whatever is known of the table: its figures lag behind while segments fill.
    `with moved as materialized (
       select n.contact_id as enters, m.contact_id as leaves from pg_temp.now_in n
         full join (select contact_id from public.segment_member where segment_id = $1::int) m on m.contact_id = n.contact_id
       where n.contact_id is null or m.contact_id is null),
     come as (insert into public.segment_member (segment_id, contact_id)
       select $1::int, enters from moved where enters is not null returning contact_id),
     gone as (delete from public.segment_member
       where segment_id = $1::int and contact_id = any (array(select leaves from moved where leaves is not null)) returning contact_id),
     noted as (insert into public.segment_event (segment_id, contact_id, entered, cause)
       select $1::int, contact_id, true, $2 from come union all select $1::int, contact_id, false, $2 from gone),
     kept as (update public.segment set members = members + (select count(*)::int from come) - (select count(*)::int from gone),
       reviewed_at = now(), reviewed_for = $3::date where id = $1::int)
     select (select count(*)::int from come) as entered, (select count(*)::int from gone) as left`,
    [id, cause, day],
  );
  return rows[0] ?? { entered: 0, left: 0 };
}

/** Which of these contacts meet a condition. */
export const meetingAmong = (
  client: Queryable,
  { from, who, sql, values }: { from: string; who: string; sql: string; values: readonly unknown[] },
  ids: readonly number[],
) =>
  client.query<{ id: number }>(
    `select f.contact_id as id from ${from} where ${who} and f.contact_id = any($${values.length + 1}::bigint[]) and (${sql})`,
    [...values, ids],
  );

/** Keeps how many are in each segment today. */
export const keepCounts = (client: Queryable, day: string) =>
  client.query(
    `insert into segment_count (segment_id, day, n) select id, $1::date, members from segment where reviewed_at is not null
     on conflict (segment_id, day) do update set n = excluded.n where segment_count.n <> excluded.n`,
    [day],
  );
