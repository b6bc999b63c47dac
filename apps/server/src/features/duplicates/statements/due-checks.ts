import type { Queryable } from '../../../db/connect';

/** Organizations are few; beyond so many at a time a scan is faster. */
const MOST_ORGANIZATIONS = 20;

/** Contacts whose run is over, so that all it brought is there to be compared. */
const READY = `from match_due d join run r on r.id = d.run_id where r.state not in ('queued', 'running')`;

export interface Due {
  id: number;
  /** The run that changed it last. */
  runId: number;
}

export const insertDue = (client: Queryable, contactIds: readonly number[], runIds: readonly number[]) =>
  client.query(
    `insert into match_due (contact_id, run_id)
     select distinct on (n.contact_id) n.contact_id, n.run_id from unnest($1::bigint[], $2::int[]) with ordinality as n(contact_id, run_id, place)
     join run r on r.id = n.run_id join contact c on c.id = n.contact_id
     where r.kind not in ('merge', 'undo') and c.kind in ('person', 'organization') and exists (select 1 from match_model)
     order by n.contact_id, n.place desc
     on conflict (contact_id) do update set run_id = excluded.run_id`,
    [contactIds, runIds],
  );

export const selectReadyDue = (client: Queryable, limit: number) =>
  client.query<Due>(`select d.contact_id as id, d.run_id as "runId" ${READY} order by d.contact_id limit $1`, [limit]);

export const organizationsAmong = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and kind = 'organization' and state = 'live' limit $2`,
    [ids, MOST_ORGANIZATIONS],
  );

export const deleteDue = (client: Queryable, ids: readonly number[], runIds: readonly number[]) =>
  client.query(
    `delete from match_due d using unnest($1::bigint[], $2::int[]) as c(id, run_id)
     where d.contact_id = c.id and d.run_id = c.run_id`,
    [ids, runIds],
  );

export const isAnybodyDue = (client: Queryable) =>
  client.query<{ waits: boolean }>('select exists (select 1 from match_due) as waits');

export const lockDue = (client: Queryable) => client.query('lock table match_due in share row exclusive mode');

export const dueState = (client: Queryable) =>
  client.query<{
    busy: boolean;
    title: string;
    kinds: number;
    n: number;
  }>(`select exists (select 1 from run where kind = 'check' and state in ('queued', 'running')) as busy,
         count(distinct r.id)::int as kinds, min(r.title) as title, count(*)::int as n ${READY}`);

export const countReadyDue = (client: Queryable) => client.query<{ n: number }>(`select count(*)::int as n ${READY}`);

export const deleteAllDue = (client: Queryable) => client.query('delete from match_due');
