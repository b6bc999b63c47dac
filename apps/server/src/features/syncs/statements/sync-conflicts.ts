import type { ConnectorKind } from '@gray-loom/wire';
import { type ContactRecord } from '@gray-loom/core/model';
import type { OutsideRecord } from '@gray-loom/core/syncing';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const contactsWithRoots = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{ id: number; record: ContactRecord; display_name: string; email: string; tel: string }>(
    client,
    `with recursive up(asked, id) as (select a, a from unnest($1::bigint[]) as w(a)
           union all select u.asked, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null)
         select u.asked as id, c.record, c.display_name, c.email, c.tel from up u join contact c on c.id = u.id and c.merged_into is null`,
    [ids],
  );

/** Of merged contacts that are asked about: their records in all tools in which the one they were merged into has one as well. */
export const recordsOfMerged = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{
    contact_id: number;
    connection_id: number;
    connection: string;
    look: number;
    tool: ConnectorKind;
    seen: OutsideRecord;
  }>(
    `select l.contact_id, n.id as connection_id, n.name as connection, n.look, n.kind as tool, l.seen
     from sync_link l join connection n on n.id = l.connection_id and n.state <> 'stopped' join contact c on c.id = l.contact_id
     where l.contact_id = any($1::bigint[]) and l.state = 'linked' and l.seen is not null and c.merged_into is not null
       and exists (select 1 from sync_link o join contact k on k.id = o.contact_id where o.connection_id = l.connection_id
         and o.state in ('linked', 'making') and o.outside_id <> l.outside_id
         and (o.contact_id = public.root_of(l.contact_id) or (k.merged_into is not null and public.root_of(k.id) = public.root_of(l.contact_id))))
     order by n.id`,
    [contactIds],
  );

export const countSyncQuestions = (client: Queryable) =>
  client.query<{ n: number }>(
    `select (select count(*) filter (where why <> 'twoThere') + count(distinct contact_id) filter (where why = 'twoThere')
         from sync_conflict)::int + (select count(*) from sync_link where state = 'asking')::int as n`,
  );

/** Questions who somebody is that have a likeliest contact, by how sure that is. */
export const questionsTogether = (client: Queryable) =>
  client.query<{
    connectionId: number;
    connection: string;
    look: number;
    tool: ConnectorKind;
    band: 'certain' | 'likely';
    count: number;
  }>(
    `select c.id as "connectionId", c.name as connection, c.look, c.kind as tool, l.band, count(*)::int as count
       from sync_link l join connection c on c.id = l.connection_id
       where l.state = 'asking' and l.band is not null group by c.id, l.band order by l.band, c.id`,
  );

/** Open questions of a band whose likeliest contact is live, with that one, and in step with nothing else over there. */
export const settleableQuestions = (client: Queryable, connectionId: number, band: string) =>
  client.query<{ outside_id: string; contact_id: number }>(
    `with recursive asked as (
         select outside_id, candidates[1] as id from sync_link
           where connection_id = $1 and state = 'asking' and band = $2 and cardinality(candidates) > 0),
       up(outside_id, id) as (
         select outside_id, id from asked
         union all select u.outside_id, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null),
       roots as (select u.outside_id, c.id from up u join contact c on c.id = u.id where c.merged_into is null and c.state = 'live')
     select min(r.outside_id) as outside_id, r.id as contact_id from roots r
       where not exists (select 1 from sync_link l where l.connection_id = $1 and l.contact_id = r.id and l.state in ('linked', 'making'))
       group by r.id having count(*) = 1 order by r.id`,
    [connectionId, band],
  );
