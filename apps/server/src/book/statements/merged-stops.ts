import type { Channel } from '@gray-loom/core/writing';
import type { Queryable } from '../../db/connect';

/** Of records that are or would be one (`asked`), by channel, the latest word said of each; and of a channel that is closed the last stop. */
const STOPS = `taken(keep, root, id) as (
     select keep, root, root from asked
     union select t.keep, t.root, c.id from contact c join taken t on c.merged_into = t.id),
   latest as (
     select distinct on (t.root, e.channel) t.keep, t.root, e.channel, e.state, e.stated_at
     from taken t join permission_evidence e on e.contact_id = t.id
     join run r on r.id = e.run_id and r.undone_by is null
     order by t.root, e.channel, e.stated_at desc, (e.state = 'optedOut') desc),
   closed as (
     select keep, channel, max(stated_at) as at from latest where state = 'optedOut' group by keep, channel),
   stops as (
     select s.*, (select max(l.stated_at) from latest l where l.keep = s.keep and l.channel = s.channel and l.state = 'allowed'
       and l.stated_at > s.at) as allowed_at from closed s)`;

/**
 * A merge lifts no stop: where one of its records is closed for a channel by the person's own word and another one allowed it later, the
 * stop is said of the record that stays, as of now. Goes with the merge when that is taken back. Run before the records are merged.
 * @param groups the record that stays, and each of those that are merged, itself among them
 */
export const keepStops = (
  client: Queryable,
  runId: number,
  groups: readonly { keepId: number; ids: readonly number[] }[],
) =>
  client.query(
    `with recursive asked(keep, root) as (select * from unnest($2::bigint[], $3::bigint[])), ${STOPS}
     insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select s.keep, s.channel, 'optedOut',
       'One of the merged records said stop on ' || to_char(s.at, 'FMDD FMMonth YYYY') || '; a merge lifts no stop', now(), $1
     from stops s where s.allowed_at is not null`,
    [runId, groups.flatMap(({ keepId, ids }) => ids.map(() => keepId)), groups.flatMap(({ ids }) => [...ids])],
  );

/** Stops of one of these records that another one lifted later, which a merge of them keeps. */
export const stopsKept = (client: Queryable, ids: readonly number[]) =>
  client.query<{ channel: Channel; at: Date; allowed_at: Date }>(
    `with recursive asked(keep, root) as (select 0::bigint, * from unnest($1::bigint[])), ${STOPS}
     select channel, at, allowed_at from stops where allowed_at is not null order by channel`,
    [ids],
  );
