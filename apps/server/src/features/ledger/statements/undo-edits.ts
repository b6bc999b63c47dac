import { type Operation } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';

export type LogRow = { contact_id: number; run_id: number; kind: string; changes: Omit<Operation, 'target'>[] | null };

export const contactsEdited = (client: Queryable, runId: number) =>
  client.query<{ id: number; version: number }>(
    'select contact_id as id, max(version) as version from operation where run_id = $1 group by contact_id limit 100',
    [runId],
  );

export const operationsFrom = (client: Queryable, contactId: number, version: number, exceptRun: number) =>
  client.query<LogRow>(
    `select o.contact_id, o.run_id, r.kind, o.changes from operation o join run r on r.id = o.run_id
       where o.contact_id = $1 and (o.version > $2 or o.run_id = $3) order by o.version`,
    [contactId, version, exceptRun],
  );
