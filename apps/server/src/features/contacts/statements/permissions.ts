import { type Channel, type Evidence } from '@gray-loom/core/writing';
import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

/** Contacts and those that were merged into them: what was said to one was said by the same person. */
const MERGED_INTO = `with recursive taken(root, id) as (
  select id, id from unnest($1::bigint[]) as asked(id)
  union select t.root, c.id from contact c join taken t on c.merged_into = t.id)`;

export const evidenceOf = (client: Queryable, contactIds: readonly number[], addressKeys: readonly string[]) =>
  client.query<Evidence & { root: number | null; address_key: number | null }>(
    `${MERGED_INTO}
     select t.root, null as address_key, e.channel, e.state, extract(epoch from e.stated_at) * 1000 as "statedAtMs"
     from taken t join permission_evidence e on e.contact_id = t.id join run r on r.id = e.run_id and r.undone_by is null
     union all
     select null, e.address_key, e.channel, e.state, extract(epoch from e.stated_at) * 1000
     from permission_evidence e join run r on r.id = e.run_id and r.undone_by is null where e.address_key = any($2::bigint[])`,
    [contactIds, addressKeys],
  );

export const everybodyMergedInto = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ id: number }>(`${MERGED_INTO} select id from taken`, [contactIds]);

export const contactsByKey = (client: Queryable, addressKey: string) =>
  client.query<{ id: number }>('select contact_id as id from contact_key where key = $1', [addressKey]);

export const addressesWereStopped = (client: Queryable) =>
  client.query('select 1 from permission_evidence where address_key is not null limit 1');

export const latestEvidence = (client: Queryable, contactIds: readonly number[], addressKeys: readonly string[]) =>
  client.query<{
    contact_id: number | null;
    address_key: number | null;
    channel: Channel;
    state: string;
  }>(
    `${MERGED_INTO}
     select distinct on (contact_id, address_key, channel) contact_id, address_key, channel, state from (
       select t.root as contact_id, null::bigint as address_key, e.channel, e.state, e.stated_at
       from taken t join permission_evidence e on e.contact_id = t.id join run r on r.id = e.run_id
       where r.undone_by is null
       union all
       select null, address_key, channel, state, stated_at from permission_evidence where address_key = any($2::bigint[])
     ) said
     order by contact_id, address_key, channel, stated_at desc, (state = 'optedOut') desc`,
    [contactIds, addressKeys],
  );

/**
 * Keeps what rows of a file say of permissions. What was said in the same words before is not said twice; an allowing word without
 * a day never lifts a stop; with `onlyNews` a word without a day that changes nothing is left out.
 */
export const insertSaid = (client: Queryable, runId: number, said: string, onlyNews: boolean) =>
  client.query<{ id: number }>(
    `insert into permission_evidence (contact_id, channel, state, how, stated_at, run_id)
     select distinct s.contact_id, s.channel, s.state, s.how, coalesce(to_timestamp(s.at / 1000), r.created_at), r.id
     from json_to_recordset($2::json) as s(contact_id bigint, channel text, state text, how text, at double precision)
     join run r on r.id = $1
     where not exists (
         select 1 from permission_evidence e join run o on o.id = e.run_id and o.undone_by is null
         where e.contact_id = s.contact_id and e.channel = s.channel and e.state = s.state and e.how = s.how
           and (s.at is null or e.stated_at = to_timestamp(s.at / 1000)))
       and not (s.at is null and s.state = 'allowed' and exists (
         select 1 from permission_evidence e join run o on o.id = e.run_id and o.undone_by is null
         where e.channel = s.channel and e.state = 'optedOut' and e.run_id <> r.id
           and (e.contact_id = s.contact_id or e.contact_id in (select id from contact where merged_into = s.contact_id))))
       and not ($3 and s.at is null and s.state is not distinct from (
         select e.state from permission_evidence e join run o on o.id = e.run_id and o.undone_by is null
         where e.contact_id = s.contact_id and e.channel = s.channel
         order by e.stated_at desc, (e.state = 'optedOut') desc limit 1))
     returning contact_id as id`,
    [runId, said, onlyNews],
  );

/** Everybody who has an address of which something was said for one of these channels. */
export const contactsOfSaidAddresses = (client: Queryable, channels: readonly Channel[]) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select c.id, c.record from public.contact c where c.merged_into is null and c.id in (
       select k.contact_id from public.permission_evidence e join public.contact_key k on k.key = e.address_key
       where e.channel = any($1::text[]))`,
    [channels],
  );
