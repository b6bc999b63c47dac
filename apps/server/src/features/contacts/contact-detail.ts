import { hasRole } from '../../db/actor';
import { runsIn, threadsOf } from '../../book/run-threads';
import type { ContactDetail, HistoryEntry } from '@gray-loom/wire';
import { displayNameOf, letterLine, salutation } from '@gray-loom/core/fields';
import { firstText, kindOf, type ContactRecord, type Operation } from '@gray-loom/core/model';
import type { Database } from '../../db/connect';
import { refuseContact } from '../../book/refusals';
import { refuse } from './refusals';
import { selectRecords } from '../../db/record-codec';
import { householdOf } from '../duplicates';
import { permissionsOf } from './permissions';
import { organizationOf, peopleOf, relationsOf, withNames } from '../../book/related-contacts';

interface ContactRow {
  id: number;
  version: number;
  state: ContactDetail['state'];
  merged_into: number | null;
  completeness: number;
  area: string;
  record: ContactRecord;
}

/** One contact in full. Ids of contacts that were merged away lead to the one that took them in. */
export async function contactDetail(database: Database, id: number): Promise<ContactDetail> {
  const found = await selectRecords<ContactRow>(
    database.pool,
    'select id, version, state, merged_into, completeness, area, record from contact where id = $1',
    [id],
  );
  const row = found[0];
  if (!row) throw refuseContact.noSuchContact();
  const into = row.merged_into
    ? await database.pool.query<{ id: number; display_name: string }>(
        'select id, display_name from contact where id = $1',
        [row.merged_into],
      )
    : null;
  const group = await database.pool.query<{ id: number }>(
    `select id from match_group where state = 'open' and $1 = any(member_ids) order by bits desc limit 1`,
    [id],
  );
  const { relations, partner } = await relationsOf(database, row.id, row.record);
  const kind = kindOf(row.record);
  if (kind === 'opportunity') throw refuse.opportunity({ opportunityId: id });
  const home = kind === 'person' ? await householdOf(database, row.id) : null;
  const own = (field: string) => firstText(row.record, field);
  return {
    id: row.id,
    kind,
    area: row.area,
    // What somebody wrote for the contact itself stands first, then the household it is kept in, then a partner.
    letterLine: own('letterLine') || home?.line || letterLine(row.record, partner),
    salutation: own('salutation') || home?.greeting || salutation(row.record, partner),
    household: home && { id: home.id, name: home.name, named: home.named, members: home.members },
    ...relations,
    organizationId: kind === 'person' ? await organizationOf(database, row.record) : null,
    people: kind === 'organization' ? await peopleOf(database, row.record) : [],
    permissions: await permissionsOf(database, row.id, row.record),
    version: row.version,
    name: displayNameOf(row.record),
    completeness: row.completeness,
    state: row.state,
    mergedInto: into?.rows[0] ? { id: into.rows[0].id, name: into.rows[0].display_name } : null,
    record: row.record,
    threads: await threadsOf(database, runsIn(row.record)),
    groupId: group.rows[0]?.id ?? null,
  };
}

/** What happened to one contact, newest first. */
export async function contactHistory(database: Database, id: number): Promise<HistoryEntry[]> {
  const { rows } = await database.pool.query<{
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
  const named = await withNames(
    database,
    rows.flatMap((row) => (row.changes ?? []).flatMap(({ before, after }) => [before, after])),
  );
  const mayAct = hasRole(database.actor, 'editor');
  return rows.map((row) => ({
    runId: row.run_id,
    kind: row.kind,
    title: row.title,
    thread: { kind: row.thread_kind, name: row.thread_name },
    actor: row.actor,
    at: row.at.toISOString(),
    changes:
      row.changes?.map(({ field, before, after }) => ({ field, before: named(before), after: named(after) })) ?? null,
    sourceRow: row.source_row,
    undone: row.undone_by !== null,
    undoable: mayAct && row.undone_by === null && ['edit', 'merge', 'delete', 'restore', 'create'].includes(row.kind),
  }));
}
