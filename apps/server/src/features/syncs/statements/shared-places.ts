import type { Queryable } from '../../../db/connect';

export interface SharerRow {
  place: string;
  contact_id: number;
  name: string;
  has: boolean;
  /** Whether a person is asked who it is that is at the place. */
  asked: boolean;
}

/** Places over there that several people share: who has the record, and who waits, the first places by name. */
export const sharersOf = (client: Queryable, connectionId: number, limit: number) =>
  client.query<SharerRow>(
    `with place as (select distinct waits_for as place from sync_link where connection_id = $1 and waits_for is not null
         order by 1 limit $2),
       one as (select p.place, l.contact_id, false as has from place p
           join sync_link l on l.connection_id = $1 and l.waits_for = p.place
         union all
         select p.place, l.contact_id, true from place p
           join sync_link l on l.connection_id = $1 and l.outside_id = p.place and l.state in ('linked', 'making'))
     select o.place, c.id as contact_id, c.display_name as name, o.has, exists (select 1 from sync_link q
         where q.connection_id = $1 and q.outside_id = o.place and q.state = 'asking') as asked
       from one o
       join contact f on f.id = o.contact_id
       join contact c on c.id = case when f.merged_into is null then f.id else public.root_of(f.id) end
     order by o.place, o.has desc, c.id`,
    [connectionId, limit],
  );

export const countShared = (client: Queryable, connectionId: number) =>
  client.query<{ n: number }>(
    'select count(distinct waits_for)::int as n from sync_link where connection_id = $1 and waits_for is not null',
    [connectionId],
  );
