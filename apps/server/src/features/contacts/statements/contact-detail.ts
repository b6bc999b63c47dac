import type { ContactDetail, HistoryEntry } from '@gray-loom/wire';
import { type ContactRecord, type Operation } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

interface ContactRow {
  id: number;
  version: number;
  state: ContactDetail['state'];
  merged_into: number | null;
  completeness: number;
  area: string;
  record: ContactRecord;
}

export const contactById = (client: Queryable, id: number) =>
  selectRecords<ContactRow>(
    client,
    'select id, version, state, merged_into, completeness, area, record from contact where id = $1',
    [id],
  );

export const nameOfContact = (client: Queryable, id: number) =>
  client.query<{ id: number; display_name: string }>('select id, display_name from contact where id = $1', [id]);

export const groupOfContact = (client: Queryable, id: number) =>
  client.query<{ id: number }>(
    `select id from match_group where state = 'open' and $1 = any(member_ids) order by bits desc limit 1`,
    [id],
  );

export const historyOf = (client: Queryable, id: number) =>
  client.query<{
    run_id: number;
    kind: string;
    title: string;
    thread_kind: HistoryEntry['thread']['kind'];
    thread_name: string;
    actor: string | null;
    at: Date;
    changes: Omit<Operation, 'target'>[] | null;
    source_row: number | null;
    undone_by: number | null;
  }>(
    `select o.run_id, r.kind, r.title, t.kind as thread_kind, t.name as thread_name, a.name as actor, r.created_at as at,
       o.changes, o.source_row, r.undone_by
     from operation o join run r on r.id = o.run_id join thread t on t.id = r.thread_id left join account a on a.id = r.actor_id
     where o.contact_id = $1 order by o.version desc limit 200`,
    [id],
  );
