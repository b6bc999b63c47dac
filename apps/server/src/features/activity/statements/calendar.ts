import type { StoredActivity } from '../../../db/schema';
import type { Queryable } from '../../../db/connect';

export interface CalendarRow {
  id: number;
  version: number;
  name: string;
  record: StoredActivity;
}

export const accountOfCalendar = (client: Queryable, hash: string) =>
  client.query<{ id: number }>('select id from account where calendar_hash = $1 and retired_at is null', [hash]);

/** Appointments of an account from three months back on, and its open tasks that have a day. */
export const entriesForCalendar = (client: Queryable, accountId: number) =>
  client.query<CalendarRow>(
    `select a.id, a.version, c.display_name as name, a.record from activity a join contact c on c.id = a.holder_id
     where not a.gone and c.state not in ('deleted', 'erased') and a.at > now() - interval '92 days'
       and (a.kind = 'appointment' and (a.who = $1 or a.record->'colleagues' @> to_jsonb($1::int)) or a.kind = 'task' and a.is_open and a.who = $1)
     order by a.at, a.id limit 2000`,
    [accountId],
  );
