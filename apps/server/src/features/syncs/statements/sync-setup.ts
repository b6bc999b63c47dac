import type { Queryable } from '../../../db/connect';

/** Changes of one value by several connections, within a day, after which it counts as fought over where the same few values come again. */
const FLIPS = 6;
/** As many count as fought over whatever the values are: one that grows with each change never comes again. */
const RUNAWAY = 20;

export const fieldsGoingBackAndForth = (client: Queryable, connectionId: number, since: Date) =>
  client.query<{ field: string; others: string[] }>(
    `select field, array_agg(distinct other) as others from (
       select s.field, s.contact_id, array_agg(distinct c.name) filter (where c.id <> $1) as names
       from sync_change s join connection c on c.id = s.connection_id and c.state <> 'stopped'
       where s.side = 'here' and s.kind = 'change' and s.at > greatest(now() - interval '1 day', $2::timestamptz, c.setup_at)
       group by s.field, s.contact_id
       having count(*) >= ${FLIPS} and (count(distinct s.after::text) * 2 <= count(*) or count(*) >= ${RUNAWAY})
         and count(distinct s.connection_id) > 1 and bool_or(s.connection_id = $1)) flips, unnest(names) as other
     group by field`,
    [connectionId, since],
  );
