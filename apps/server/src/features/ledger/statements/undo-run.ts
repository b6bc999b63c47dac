import { type ContactRecord, type Operation } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const operationsOfRun = (client: Queryable, runId: number, contactIds: readonly number[]) =>
  client.query<{
    contact_id: number;
    version: number;
    changes: Omit<Operation, 'target'>[] | null;
  }>(
    'select contact_id, version, changes from operation where run_id = $1 and contact_id = any($2::bigint[]) order by contact_id, version',
    [runId, contactIds],
  );

/** What was done to contacts after a version, but for what some runs did. */
export const operationsAfter = (
  client: Queryable,
  contactIds: readonly number[],
  versions: readonly number[],
  exceptRuns: readonly number[],
) =>
  client.query<{ contact_id: number; changes: Omit<Operation, 'target'>[] | null }>(
    `select o.contact_id, o.changes from operation o join unnest($1::bigint[], $2::int[]) as m(contact_id, version) on m.contact_id = o.contact_id
     where o.version > m.version and o.run_id <> all($3::int[]) order by o.contact_id, o.version`,
    [contactIds, versions, exceptRuns],
  );

export const operationsBefore = (
  client: Queryable,
  contactIds: readonly number[],
  versions: readonly number[],
  runId: number,
) =>
  client.query<{
    contact_id: number;
    undone: boolean;
    changes: Omit<Operation, 'target'>[] | null;
  }>(
    `with asked as (select * from unnest($1::bigint[], $2::int[]) as a(contact_id, version)),
       mixed as (
         select a.* from asked a where exists (
           select 1 from operation o join run r on r.id = o.run_id
           where o.contact_id = a.contact_id and o.version < a.version and o.run_id <> $3 and r.undone_by <> $3))
     select o.contact_id, o.changes,
       (with recursive up(undo_of, undone_by, steps) as (
          select r.undo_of, r.undone_by, 0
          union all select p.undo_of, p.undone_by, up.steps + 1 from up join run p on p.id = up.undo_of)
        select bool_or(coalesce(undone_by <> $3, false)) from up where steps % 2 = 0) as undone
     from mixed m
     join operation o on o.contact_id = m.contact_id and o.version < m.version join run r on r.id = o.run_id
     order by o.contact_id, o.version`,
    [contactIds, versions, runId],
  );

export const nextContacts = (client: Queryable, runId: number, afterId: number, limit: number) =>
  client.query<{ contact_id: number }>(
    'select distinct contact_id from operation where run_id = $1 and contact_id > $2 order by contact_id limit $3',
    [runId, afterId, limit],
  );

export const shareStopsOf = (client: Queryable, runId: number, contactIds: readonly number[]) =>
  client.query<{ id: number }>(
    `with recursive up(id, taker) as (
       select id, merged_into from contact where id = any($2::bigint[]) and merged_into is not null
       union select u.id, c.merged_into from up u join contact c on c.id = u.taker where c.merged_into is not null)
     insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select u.id, e.channel, e.state, e.how, e.stated_at, e.run_id
     from up u join permission_evidence e on e.contact_id = u.taker and e.state = 'optedOut'
     where e.txid >= (select min(txid) from operation where run_id = $1 and contact_id = u.id)
       and not exists (select 1 from permission_evidence own where own.contact_id = u.id and own.channel = e.channel
         and own.run_id = e.run_id and own.stated_at = e.stated_at)
     returning contact_id as id`,
    [runId, contactIds],
  );

/** Contacts of a run in the order of their ids, after one of them. */
export const recordsOfRun = (client: Queryable, runId: number, after: number, limit: number) =>
  selectRecords<{ id: number; version: number; record: ContactRecord; display_name: string }>(
    client,
    `select id, version, record, display_name from contact where id in (select distinct contact_id
         from operation where run_id = $1 and contact_id > $2 order by contact_id limit $3) order by id`,
    [runId, after, limit],
  );

/** Runs that go back with an import and stand: those that let held rows of it in, and the one that gave its people out. The latest first. */
export const runsOfImport = (client: Queryable, runId: number) =>
  client.query<{ id: number }>(
    `select id from run where undone_by is null and state not in ('queued', 'running')
       and (kind = 'import' and (detail->>'ofRun')::int = $1 or kind = 'handOver' and (detail->'change'->>'ofRun')::int = $1)
     order by id desc`,
    [runId],
  );
