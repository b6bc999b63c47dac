import type { Queryable } from '../../../db/connect';

/**
 * What hangs on a contact that is deleted waits for nobody. A scalar question stays one look into a small index for each entry; `not exists`
 * and `not in` go through all deleted contacts first, which are many once a large import was taken back.
 */
const OF_THE_LIVING = `(select true from public.contact c where c.id = holder_id and c.state in ('deleted', 'erased')) is null`;

export interface DueRow {
  tasks: number;
  late: number;
  enquiries: number;
  appointments: number;
  task_ids: number[];
  enquiry_ids: number[];
  appointment_ids: number[];
}

/**
 * What waits, in one question: open tasks up to a moment and those that are due at no time, the longest overdue first; open enquiries, the
 * oldest first; appointments from one moment to the other. How many there are, and the first of each. `$1` is the account whose they are;
 * null is everybody's.
 */
export const dueOf = (
  client: Queryable,
  accountId: number | null,
  { from, to, limit }: { from: string; to: string; limit: number },
) =>
  client.query<DueRow>(
    `with open as materialized (
       select id, kind, at from activity
       where is_open and not gone and ($1::int is null or who = $1) and ${OF_THE_LIVING}
         and (kind = 'enquiry' or (kind = 'task' and (at is null or at < $3::timestamptz)))),
     booked as materialized (
       select id, at from activity
       where kind = 'appointment' and not gone and at >= $2::timestamptz and at < $3::timestamptz
         and ($1::int is null or who = $1 or record->'colleagues' @> to_jsonb($1::int)) and ${OF_THE_LIVING})
     select (select count(*)::int from open where kind = 'task') as tasks,
       (select count(*)::int from open where kind = 'task' and at < $2::timestamptz) as late,
       (select count(*)::int from open where kind = 'enquiry') as enquiries,
       (select count(*)::int from booked) as appointments,
       to_json(array(select id from open where kind = 'task' order by at nulls last, id limit $4)) as task_ids,
       to_json(array(select id from open where kind = 'enquiry' order by at, id limit $4)) as enquiry_ids,
       to_json(array(select id from booked order by at, id limit $4)) as appointment_ids`,
    [accountId, from, to, limit],
  );

/** Days of the year that are thought of; each has an index of its own (schema: contact_facts). */
const DAYS_OF = [
  { what: 'birthday', key: 'bday' },
  { what: 'anniversary', key: 'anniversary' },
];

/** People who have a day of the year between two (MM-DD), in either field; `owner` is a name, or null for everybody's. */
export const peopleWithDays = (
  client: Queryable,
  ranges: readonly { from: string; to: string }[],
  owner: string | null,
) =>
  client.query<{ id: number; name: string; what: 'birthday' | 'anniversary'; date: string }>(
    `select c.id, c.display_name as name, d.what, d.date
     from unnest($1::text[], $2::text[]) r(from_day, to_day)
       cross join lateral (${DAYS_OF.map(
         ({ what, key }) =>
           `select f.contact_id, '${what}' as what, f.facts->>'${key}' as date from contact_facts f
            where f.who = 1 and f.facts ? '${key}' and right(f.facts->>'${key}', 5) collate "C" between r.from_day and r.to_day`,
       ).join(' union all ')}) d
       join contact c on c.id = d.contact_id
     where d.date ~ '^([0-9]{4}|-)-[0-9]{2}-[0-9]{2}$' and ($3::text is null or (c.owner = $3 and c.owner <> ''))
     order by c.sort_family, c.id limit 400`,
    [ranges.map(({ from }) => from), ranges.map(({ to }) => to), owner],
  );

/**
 * What an account is to be reminded of now: its open tasks that have a time, from half a day ago to a quarter of an hour ahead, and its
 * appointments that begin within that quarter or began within the last.
 */
export const remindersOf = (client: Queryable, accountId: number, now: string) =>
  client.query<{ id: number }>(
    `select id from activity
     where not gone and ${OF_THE_LIVING} and length(record->>'at') > 10 and at < $2::timestamptz + interval '15 minutes'
       and ((kind = 'task' and is_open and who = $1 and at > $2::timestamptz - interval '12 hours')
         or (kind = 'appointment' and (who = $1 or record->'colleagues' @> to_jsonb($1::int)) and at > $2::timestamptz - interval '15 minutes'))
     order by at, id limit 20`,
    [accountId, now],
  );
