import type { Channel } from '@gray-loom/core/writing';
import type { Queryable } from '../../../db/connect';

/**
 * Contacts in step with a tool that keeps stops, whose permissions changed since its last whole pass; with what it is known to hold. More
 * than are late: whoever may be called again is among them. What a tool does not take is told for itself.
 */
export const permissionsSincePass = (client: Queryable, limit: number) =>
  client.query<{ connection_id: number; contact_id: number; keeps: Channel[]; there: Channel[]; since: Date }>(
    `select n.id as connection_id, l.contact_id, n.capabilities->'keepsStops' as keeps,
       coalesce((l.seen->'stopped')::jsonb, '[]') as there, min(f.at) as since
     from connection n
       join feed_consumer p on p.name = 'sync:' || n.id
       join change f on f.kind = 'permission' and (f.txid, f.seq) >= (p.txid, p.seq)
       cross join lateral unnest(f.contacts) as t(contact_id)
       join sync_link l on l.connection_id = n.id and l.contact_id = t.contact_id and l.state = 'linked'
     where n.state = 'on' and n.capabilities->'keepsStops' <> '[]' and l.not_taken is null
       and not coalesce((l.seen->'stopped')::jsonb, '[]') @> (n.capabilities->'keepsStops')
     group by n.id, l.connection_id, l.outside_id order by since limit $1`,
    [limit],
  );

/** Whether carrying stops over failed lately, so that it is not tried again at once. */
export const triedLately = (client: Queryable, connectionId: number, minutes: number) =>
  client.query(
    `select 1 from run where kind = 'sync' and detail->>'stops' = 'true' and (detail->>'connectionId')::int = $1
       and state in ('failed', 'stopped') and created_at > now() - make_interval(mins => $2) limit 1`,
    [connectionId, minutes],
  );
