import { hasRole } from '../../db/actor';
import { runsIn, threadsOf } from '../../book/run-threads';
import type { ContactDetail, HistoryEntry } from '@gray-loom/wire';
import { displayNameOf, EQUAL_WEIGHTS, letterLine, missingOf, salutation, type Weights } from '@gray-loom/core/fields';
import { firstText, kindOf } from '@gray-loom/core/model';
import { COMPLETENESS } from '../../book/statements/derivation';
import { settingOf } from '../../book/statements/settings';
import type { Database } from '../../db/connect';
import { refuseContact } from '../../book/refusals';
import { refuse } from './refusals';
import { householdOf } from '../duplicates';
import { permissionsOf } from './permissions';
import { organizationOf, peopleOf, relationsOf, withNames } from '../../book/related-contacts';
import { contactById, nameOfContact, groupOfContact, historyOf } from './statements/contact-detail';

/** One contact in full. Ids of contacts that were merged away lead to the one that took them in. */
export async function contactDetail(database: Database, id: number): Promise<ContactDetail> {
  const found = await contactById(database.pool, id);
  const row = found[0];
  if (!row) throw refuseContact.noSuchContact();
  const into = row.merged_into ? await nameOfContact(database.pool, row.merged_into) : null;
  const group = await groupOfContact(database.pool, id);
  const { relations, partner } = await relationsOf(database, row.id, row.record);
  const kind = kindOf(row.record);
  if (kind === 'opportunity') throw refuse.opportunity({ opportunityId: id });
  const home = kind === 'person' ? await householdOf(database, row.id) : null;
  const weights = (await settingOf<Weights>(database.pool, COMPLETENESS)) ?? EQUAL_WEIGHTS;
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
    addNext: missingOf(kind, (key) => (row.record.f[key]?.length ?? 0) > 0, weights),
    state: row.state,
    mergedInto: into?.rows[0] ? { id: into.rows[0].id, name: into.rows[0].display_name } : null,
    record: row.record,
    threads: await threadsOf(database, runsIn(row.record)),
    groupId: group.rows[0]?.id ?? null,
  };
}

/** What happened to one contact, newest first. */
export async function contactHistory(database: Database, id: number): Promise<HistoryEntry[]> {
  const { rows } = await historyOf(database.pool, id);
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
