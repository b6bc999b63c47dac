import { asc, eq, inArray } from 'drizzle-orm';
import { valuesOf, type ContactRecord } from '@gray-loom/core/model';
import { WHOLE_NAME, type OutsideRecord, type SyncLine } from '@gray-loom/core/syncing';
import type { ConflictEntry } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { connection, syncConflict, syncLink } from '../../db/schema';
import { threadsOf } from '../../book/run-threads';
import { loadCatalogue } from '../../book/picks';
import { nameThere } from './sync-changes';
import { valueText } from './sync-report';
import { contactsWithRoots } from './statements/sync-conflicts';

const MOST = 300;

/** Everything that a person has to decide: values that both sides changed, who somebody is, two records for one contact. */
export async function listConflicts(database: Database): Promise<ConflictEntry[]> {
  const connections = new Map((await database.db.select().from(connection)).map((row) => [row.id, row]));
  const catalogue = await loadCatalogue(database.db);
  const open = await database.db.select().from(syncConflict).orderBy(asc(syncConflict.id)).limit(MOST);
  const asking = await database.db.select().from(syncLink).where(eq(syncLink.state, 'asking')).limit(MOST);
  const links = open.length
    ? await database.db
        .select()
        .from(syncLink)
        .where(
          inArray(
            syncLink.outsideId,
            open.map(({ outsideId }) => outsideId),
          ),
        )
    : [];
  const ids = [
    ...open.map(({ contactId }) => contactId),
    ...asking.flatMap(({ candidates }) => candidates.map(Number)),
  ];
  const contacts = new Map((await contactsWithRoots(database.pool, ids)).map((row) => [row.id, row]));
  const threads = await threadsOf(
    database,
    [...contacts.values()].flatMap(({ record }) =>
      Object.values(record.f).flatMap((values) => values.map(({ run }) => run)),
    ),
  );
  const values = open.map((row): ConflictEntry => {
    const of = connections.get(row.connectionId);
    const line = of?.setup.lines.find(({ id }) => id === row.line);
    const record = contacts.get(row.contactId)?.record;
    const link = links.find((one) => one.connectionId === row.connectionId && one.outsideId === row.outsideId);
    const newest = line && record ? newestOf(record, line, threads) : null;
    return {
      key: String(row.id),
      kind: row.why === 'twoThere' ? 'two' : 'value',
      connectionId: row.connectionId,
      connection: of?.name ?? '',
      look: of?.look ?? 0,
      contactId: row.contactId,
      name: contacts.get(row.contactId)?.display_name ?? '',
      field: line ? (line.field === WHOLE_NAME ? 'Name' : catalogue.nameOf(line.field)) : '',
      line: row.line,
      several: Boolean(line && catalogue.find(line.field)?.several),
      why: row.why,
      ours: {
        text: row.ours.map(valueText),
        at: newest?.at ?? null,
        thread: newest?.thread ?? null,
        kind: newest?.kind ?? 'hand',
      },
      theirs: {
        text:
          row.why === 'twoThere'
            ? [nameThere(link?.seen ?? null, catalogue), ...contactLines(link?.seen)]
            : row.theirs.map(valueText),
        at: link?.seen?.changedAtMs ? new Date(link.seen.changedAtMs).toISOString() : null,
      },
      candidates: [],
      at: row.createdAt.toISOString(),
    };
  });
  const who = asking.map((row): ConflictEntry => ({
    key: `${row.connectionId}:${row.outsideId}`,
    kind: 'who',
    connectionId: row.connectionId,
    connection: connections.get(row.connectionId)?.name ?? '',
    look: connections.get(row.connectionId)?.look ?? 0,
    contactId: 0,
    name: nameThere(row.seen, catalogue),
    field: '',
    line: '',
    several: false,
    why: 'who',
    ours: { text: [], at: null, thread: null, kind: 'hand' },
    theirs: {
      text: contactLines(row.seen),
      at: row.seen?.changedAtMs ? new Date(row.seen.changedAtMs).toISOString() : null,
    },
    candidates: row.candidates.map(Number).flatMap((id) => {
      const contact = contacts.get(id);
      return contact ? [{ id, name: contact.display_name, email: contact.email, tel: contact.tel }] : [];
    }),
    at: row.updatedAt.toISOString(),
  }));
  return [...values, ...who];
}

function contactLines(seen: OutsideRecord | null | undefined): string[] {
  if (!seen) return [];
  return ['email', 'tel', 'org', 'adr'].flatMap((key) => (seen.fields[key] ?? []).map(valueText));
}

function newestOf(record: ContactRecord, line: SyncLine, threads: Awaited<ReturnType<typeof threadsOf>>) {
  const of = valuesOf(record, line.field)
    .map((value) => threads[value.run])
    .filter((thread) => thread !== undefined)
    .sort((a, b) => (a.at < b.at ? 1 : -1))[0];
  return of ? { at: of.at, kind: of.kind, thread: of.actor ? `${of.name}, ${of.actor}` : of.name } : null;
}
