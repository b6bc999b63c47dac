import type { ContactRecord } from '@gray-loom/core/model';
import type { GroupBand } from '@gray-loom/wire';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export interface LiveRow {
  id: number;
  version: number;
  record: ContactRecord;
  last_run: number;
  touched_at: Date;
}

/** How long a group stays with whoever has it on screen; looking again prolongs it. */
const LOOK_MINUTES = 2;

export const countGroups = (client: Queryable) =>
  client.query<{ state: 'open' | 'later'; band: GroupBand; n: number }>(
    `select state, band, count(*)::int as n from match_group where state in ('open', 'later') group by 1, 2`,
  );

export const countDecided = (client: Queryable) =>
  client.query<{
    n: number;
    lately: number;
  }>(`select count(*)::int as n, (count(*) filter (where r.created_at > now() - interval '10 minutes' and not r.detail ? 'batch'))::int as lately
     from match_group g left join run r on r.id = g.decided_run where g.state in ('merged', 'apart')`);

export const groupsLookedAt = (client: Queryable, accountId: number | null) =>
  client.query<{ id: number; name: string }>(
    `select g.id, a.name from match_group g join account a on a.id = g.looked_by
     where g.state in ('open', 'later') and g.looked_until > now() and g.looked_by is distinct from $1`,
    [accountId],
  );

export const lookAtGroup = (client: Queryable, groupId: number, accountId: number | null) =>
  client.query<{ was: number | null }>(
    `with own as (select id, looked_by from match_group where id = $1 for update)
       update match_group g set looked_by = $2, looked_until = now() + interval '${LOOK_MINUTES} minutes' from own
       where g.id = own.id and g.state in ('open', 'later')
         and (g.looked_until is null or g.looked_until < now() or g.looked_by = $2) returning own.looked_by as was`,
    [groupId, accountId],
  );

export const leaveOtherGroups = (client: Queryable, groupId: number, accountId: number | null) =>
  client.query(
    `update match_group set looked_by = null, looked_until = null where looked_by = $2 and id <> $1 and looked_until > now()`,
    [groupId, accountId],
  );

export const whoLooksAt = (client: Queryable, groupId: number) =>
  client.query<{ name: string }>(
    `select a.name from match_group g join account a on a.id = g.looked_by
       where g.id = $1 and g.state in ('open', 'later') and g.looked_until > now()`,
    [groupId],
  );

export const liveMembers = (client: Queryable, memberIds: readonly number[]) =>
  selectRecords<LiveRow>(
    client,
    `select id, version, record, last_run, touched_at from contact where id = any($1::bigint[]) and state = 'live' order by id`,
    [memberIds],
  );

export const whoDecidedRun = (client: Queryable, runId: number | null) =>
  client.query<{ name: string }>('select a.name from run r join account a on a.id = r.actor_id where r.id = $1', [
    runId,
  ]);

export const liveIds = (client: Queryable, memberIds: readonly number[]) =>
  client.query<{ id: number }>(`select id from contact where id = any($1::bigint[]) and state = 'live'`, [memberIds]);

/** Groups that somebody proposes to merge, or the one of an id, with who does. */
export const proposedGroups = (client: Queryable, groupId: number | null = null) =>
  client.query<{ id: number; name: string }>(
    `select g.id, a.name from match_group g join account a on a.id = g.proposed_by
     where g.state in ('open', 'later') and ($1::int is null or g.id = $1)`,
    [groupId],
  );
