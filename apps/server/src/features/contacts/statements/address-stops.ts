import type { ContactRecord } from '@gray-loom/core/model';
import type { Channel } from '@gray-loom/core/writing';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

export interface EvidenceRow {
  id: number;
  contact_id: number | null;
  address_key: number | null;
  address: string;
  channel: Channel;
  state: 'allowed' | 'optedOut';
  how: string;
  stated_at: Date;
  run_id: number;
  by: string;
}

const EVIDENCE = `select e.id, e.contact_id, e.address_key, e.address, e.channel, e.state, e.how, e.stated_at, e.run_id,
    coalesce(a.name, t.name, '') as by
  from permission_evidence e join run r on r.id = e.run_id and r.undone_by is null
  left join account a on a.id = r.actor_id and r.kind not in ('sync', 'results') left join thread t on t.id = r.thread_id`;

/** What was said of addresses, the latest first. */
export const latestOfAddresses = (client: Queryable, before: number, limit: number) =>
  client.query<EvidenceRow>(
    `${EVIDENCE} where e.address_key is not null and ($1 = 0 or e.id < $1) order by e.id desc limit $2`,
    [before, limit],
  );

export const evidenceAbout = (client: Queryable, contactIds: readonly number[], keys: readonly string[]) =>
  client.query<EvidenceRow>(
    `${EVIDENCE} where e.address_key = any($2::bigint[]) or e.contact_id = any($1::bigint[]) order by e.stated_at desc, e.id desc`,
    [contactIds, keys],
  );

export const livePeople = (client: Queryable, ids: readonly number[], limit: number) =>
  selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where id = any($1::bigint[]) and state = 'live' order by id limit $2`,
    [ids, limit],
  );

export const insertForAddresses = (
  client: Queryable,
  runId: number,
  state: 'allowed' | 'optedOut',
  how: string,
  statedAt: string,
  rows: string,
) =>
  client.query(
    `insert into permission_evidence (address_key, address, channel, state, how, stated_at, run_id)
     select n.key, n.address, n.channel, $5, $2, $3, $1 from json_to_recordset($4::json) as n(key bigint, address text, channel text)`,
    [runId, how, statedAt, rows, state],
  );

export const peopleWithKeys = (client: Queryable, keys: readonly string[]) =>
  client.query<{ id: number }>('select distinct contact_id as id from contact_key where key = any($1::bigint[])', [
    keys,
  ]);

/** What tools hold of these contacts. */
export const stopsInTools = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ contact_id: number; connection_id: number; connection: string; channels: Channel[]; seen_at: Date }>(
    `select l.contact_id, c.id as connection_id, c.name as connection, coalesce(l.seen->'stopped', '[]') as channels, l.updated_at as seen_at
     from public.sync_link l join public.connection c on c.id = l.connection_id and c.state <> 'stopped'
     where l.contact_id = any($1::bigint[]) and l.state = 'linked' and c.capabilities->'keepsStops' <> '[]' order by c.id`,
    [contactIds],
  );
