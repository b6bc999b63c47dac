import type { OurPerson, SecondTake } from '@gray-loom/core/syncing';
import type { decodeRecord } from '../../../db/record-codec';
import { ROOTS } from '../../../book/statements/merged-into';
import type { Queryable } from '../../../db/connect';

/** Contacts and everybody who was merged into them. */
const MEMBERS = `with recursive down(root, id) as (
  select a, a from unnest($1::bigint[]) as w(a)
  union select d.root, c.id from contact c join down d on c.merged_into = d.id)`;

export const theirCursor = (client: Queryable, connectionId: number) =>
  client.query<{ theirs: string | null }>('select their_cursor as theirs from connection where id = $1', [
    connectionId,
  ]);

export const peopleAmong = (client: Queryable, ids: readonly number[], connectionId: number) =>
  client.query<{ id: number }>(
    `select id from contact where id = any($1::bigint[]) and kind = 'person'
       union select s.contact_id from sync_choice s where s.connection_id = $2 and s.choice = 'send'
         and not exists (select 1 from sync_link l where l.connection_id = $2 and l.contact_id = s.contact_id)`,
    [ids, connectionId],
  );

export const unfinishedLinks = (client: Queryable, connectionId: number) =>
  client.query<{ outside_id: string }>(
    `select outside_id from sync_link where connection_id = $1 and (dirty or intent is not null or state in ('making', 'fresh'))`,
    [connectionId],
  );

export const candidatesAsked = (client: Queryable, connectionId: number) =>
  client.query<{ id: number; there: string[] }>(
    `select c.id, array_agg(outside_id) as there from sync_link, unnest(candidates) as c(id)
       where connection_id = $1 and state = 'asking' group by c.id`,
    [connectionId],
  );

export const versionsOfLinks = (client: Queryable, connectionId: number) =>
  client.query<{ outside_id: string; version: string }>(
    `select outside_id, version from sync_link where connection_id = $1 and version <> ''`,
    [connectionId],
  );

/** What was said of the records of merged contacts, as long as the merge stands that it was said after. */
export const saidOfMerged = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number; take: SecondTake }>(
    `select c.id, m.take from merged_choice m join contact c on c.id = m.contact_id and c.last_run = m.merge_run
     where c.id = any($1::bigint[]) and c.merged_into is not null`,
    [contactIds],
  );

/** Links that wait for a place that is nobody's by now. */
export const waitingForFree = (client: Queryable, connectionId: number) =>
  client.query<{ outside_id: string }>(
    `select w.outside_id from sync_link w where w.connection_id = $1 and w.waits_for is not null and not exists (select 1 from sync_link h
       where h.connection_id = $1 and h.outside_id = w.waits_for and h.state in ('linked', 'making', 'asking')
         and h.contact_id <> w.contact_id)
     order by w.contact_id`,
    [connectionId],
  );

export const membersOf = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number }>(`${MEMBERS} select id from down`, [contactIds]);

export const contactsWithChoice = (client: Queryable, ids: readonly number[], connectionId: number) =>
  client.query<{
    asked: number;
    id: number;
    version: number;
    record: Parameters<typeof decodeRecord>[0];
    touched_at: Date;
    choice: OurPerson['choice'];
  }>(
    `${ROOTS}
       select u.asked, c.id, c.version, c.record, c.touched_at, s.choice from up u join contact c on c.id = u.id
       left join sync_choice s on s.connection_id = $2 and s.contact_id = c.id where c.merged_into is null`,
    [ids, connectionId],
  );

export const timesOfRuns = (client: Queryable, runIds: readonly number[]) =>
  client.query<{ id: number; at: Date }>('select id, created_at as at from run where id = any($1::int[])', [runIds]);

export const leaseStands = (client: Queryable, runId: number, holder: string) =>
  client.query(`select 1 from run where id = $1 and lease_by = $2 and state = 'running' for share`, [runId, holder]);

export const keepTheirCursor = (client: Queryable, connectionId: number, theirs: string | null) =>
  client.query('update connection set their_cursor = $2 where id = $1', [connectionId, theirs]);

/** Everybody, or only those whom the connection knows already. */
export const mayTakePart = (client: Queryable, connectionId: number, isAnybody: boolean) =>
  client.query<{ id: number }>(
    `select id from contact where state = 'live' and kind = 'person'
       and ($2 or id in (select contact_id from sync_choice where connection_id = $1)
            or id in (select contact_id from sync_link where connection_id = $1))`,
    [connectionId, isAnybody],
  );

/** Who meets a scope's condition and is not linked by it, and who is linked by it and does not meet it. */
export const scopeMoves = (
  client: Queryable,
  { where, values }: { where: string; values: readonly unknown[] },
  connectionId: number,
  scope: string,
) => {
  const at = values.length;
  const linked = `l.connection_id = $${at + 1} and l.scope = $${at + 2}`;
  return client.query<{ id: number }>(
    `with meets as materialized (select c.id from contact c where ${where})
     select m.id from meets m where not exists (select 1 from sync_link l where ${linked} and l.contact_id = m.id)
     union all
     select l.contact_id from sync_link l where ${linked} and not exists (select 1 from meets m where m.id = l.contact_id)`,
    [...values, connectionId, scope],
  );
};

/** When the oldest transaction began that may still write: what is written before that is seen by now. */
export const oldestWrite = (client: Queryable) =>
  client.query<{ at: Date }>(
    `select least(now(), min(xact_start)) as at from pg_stat_activity where datname = current_database() and xact_start is not null`,
  );

export const listsFrom = (client: Queryable, connectionId: number) =>
  client.query<{ at: Date | null }>('select lists_from as at from connection where id = $1', [connectionId]);

export const keepListsFrom = (client: Queryable, connectionId: number, at: Date | null) =>
  client.query('update connection set lists_from = $2 where id = $1', [connectionId, at]);

/** Everybody who entered one of these segments or left it since. */
export const movedInSegments = (client: Queryable, segments: readonly number[], from: Date) =>
  client.query<{ id: number }>(
    'select distinct contact_id as id from segment_event where segment_id = any($1::int[]) and at >= $2',
    [segments, from],
  );

export const segmentsOfPeople = (client: Queryable, segments: readonly number[], ids: readonly number[]) =>
  client.query<{ id: number; segment: number }>(
    `select contact_id as id, segment_id as segment from segment_member
     where contact_id = any($2::bigint[]) and segment_id = any($1::int[])`,
    [segments, ids],
  );
