import { type LiveRow } from '../match-board';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const setRunContactAndTitle = (client: Queryable, runId: number, contactId: number, title: string) =>
  client.query('update run set contact_id = $2, title = $3 where id = $1', [runId, contactId, title]);

export const whoChangedLast = (client: Queryable, id: number) =>
  client.query<{ name: string | null }>(
    `select a.name from operation o join run r on r.id = o.run_id left join account a on a.id = r.actor_id
           where o.contact_id = $1 order by o.version desc limit 1`,
    [id],
  );

export const membersToCompare = (client: Queryable, ids: readonly number[]) =>
  selectRecords<LiveRow>(
    client,
    `select id, version, record, last_run, touched_at from contact where id = any($1::bigint[])`,
    [ids],
  );
