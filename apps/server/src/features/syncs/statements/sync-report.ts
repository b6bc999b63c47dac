import { type OutsideRecord, type OutsideValue } from '@gray-loom/core/syncing';
import type { Queryable } from '../../../db/connect';

export interface ChangeRow {
  id: number;
  run_id: number;
  connection: string;
  outside_id: string;
  contact_id: number;
  name: string;
  side: 'here' | 'there';
  field: string;
  kind: string;
  before: OutsideValue[];
  after: OutsideValue[];
  at: Date;
}

const COLUMNS = `s.id, s.run_id, c.name as connection, s.outside_id, s.contact_id, s.name, s.side, s.field, s.kind, s.before, s.after, s.at`;

export const pageOfChanges = (
  client: Queryable,
  runId: number,
  side: string,
  kind: string,
  after: number,
  limit: number,
  where: string,
) =>
  client.query<ChangeRow>(
    `select ${COLUMNS} from sync_change s join connection c on c.id = s.connection_id where ${where} and s.id > $4 order by s.id limit $5`,
    [runId, side, kind, after, limit],
  );

export const countChanges = (client: Queryable, runId: number, side: string, kind: string, where: string) =>
  client.query<{ n: number }>(`select count(*)::int as n from sync_change s where ${where}`, [runId, side, kind]);

export const changesAfter = (client: Queryable, runId: number, after: number) =>
  client.query<ChangeRow>(
    `select ${COLUMNS} from sync_change s join connection c on c.id = s.connection_id where s.run_id = $1 and s.id > $2 order by s.id limit 1000`,
    [runId, after],
  );

export const changesOfContact = (
  client: Queryable,
  connectionId: number,
  contactId: number,
  mergedIds: readonly number[],
) =>
  client.query<ChangeRow>(
    `select ${COLUMNS} from sync_change s join connection c on c.id = s.connection_id
       join run r on r.id = s.run_id and not coalesce((r.detail->>'trial')::boolean, false) and r.state <> 'paused'
       where s.connection_id = $1 and (s.contact_id = $2 or s.contact_id = any($3::bigint[])) order by s.id desc limit 50`,
    [connectionId, contactId, mergedIds],
  );

export const nthInStep = (client: Queryable, connectionId: number, nth: number) =>
  client.query<{ outside_id: string; contact_id: number; seen: OutsideRecord }>(
    `select outside_id, contact_id, seen from sync_link where connection_id = $1 and state = 'linked'
       and seen is not null order by length(seen::text) desc, outside_id offset $2 limit 1`,
    [connectionId, nth],
  );
