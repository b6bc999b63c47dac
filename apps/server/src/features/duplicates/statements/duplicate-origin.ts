import type { Queryable } from '../../../db/connect';

export const WEEKS = 26;

const THREADS = 25;

/** Of every group that is surely or likely one person, all records but the one that was here first. */
const COPIES = `
  with member as (
    select g.id as group_id, unnest(g.member_ids) as contact_id from match_group g
    where g.state in ('open', 'later', 'merged') and g.band in ('certain', 'likely')
  ), ranked as (
    select c.created_run, c.created_at, row_number() over (partition by m.group_id order by c.created_at, c.id) as nth
    from member m join contact c on c.id = m.contact_id
  ), copy as (select r.thread_id, k.created_at from ranked k join run r on r.id = k.created_run where k.nth > 1)`;

export const copiesByWeek = (client: Queryable) =>
  client.query<{
    start: Date;
    kind: string;
    n: number;
  }>(`${COPIES} select date_trunc('week', copy.created_at) as start, t.kind, count(*)::int as n from copy join thread t on t.id = copy.thread_id
       where copy.created_at > date_trunc('week', now()) - make_interval(weeks => ${WEEKS - 1}) group by 1, 2`);

export const copiesByThread = (client: Queryable) =>
  client.query<{
    id: number;
    kind: string;
    name: string;
    copies: number;
    brought: number;
  }>(`${COPIES}, counted as (select thread_id, count(*)::int as copies from copy group by 1 order by 2 desc limit ${THREADS})
       select t.id, t.kind, t.name, k.copies,
         (select count(*)::int from contact c join run r on r.id = c.created_run where r.thread_id = t.id and c.kind = 'person') as brought
       from counted k join thread t on t.id = k.thread_id order by k.copies desc, t.id`);
