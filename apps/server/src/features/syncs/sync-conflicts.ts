import { asc, eq, inArray } from 'drizzle-orm';
import { valuesOf, type ContactRecord } from '@gray-loom/core/model';
import { WHOLE_NAME, type OutsideRecord, type PlannedConflict, type SyncLine } from '@gray-loom/core/syncing';
import type { ConflictEntry, ConflictList } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { connection, syncConflict, syncLink } from '../../db/schema';
import { threadsOf } from '../../book/run-threads';
import { loadCatalogue } from '../../book/picks';
import { nameThere } from './sync-changes';
import { valueText } from './sync-report';
import { contactsWithRoots, countSyncQuestions, questionsTogether, recordsOfMerged } from './statements/sync-conflicts';

type LinkRow = typeof syncLink.$inferSelect;

/** Everything that a person has to decide: values that both sides changed, who somebody is, what becomes of a record. */
export async function listConflicts(database: Database, limit: number): Promise<ConflictList> {
  const [values, who, open, together] = await Promise.all([
    valueQuestions(database, limit),
    database.db.select().from(syncLink).where(eq(syncLink.state, 'asking')).limit(limit),
    countSyncQuestions(database.pool),
    questionsTogether(database.pool),
  ]);
  return {
    entries: [...values, ...(await whoQuestions(database, who))].slice(0, limit),
    total: open.rows[0]?.n ?? 0,
    together: together.rows,
  };
}

async function valueQuestions(database: Database, limit: number): Promise<ConflictEntry[]> {
  const connections = new Map((await database.db.select().from(connection)).map((row) => [row.id, row]));
  const catalogue = await loadCatalogue(database.db);
  const open = await database.db.select().from(syncConflict).orderBy(asc(syncConflict.id)).limit(limit);
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
  const found = await contactsWithRoots(
    database.pool,
    open.map(({ contactId }) => contactId),
  );
  const contacts = new Map(found.map((row) => [row.id, row]));
  const threads = await threadsOf(
    database,
    [...contacts.values()].flatMap(({ record }) =>
      Object.values(record.f).flatMap((values) => values.map(({ run }) => run)),
    ),
  );
  const merged = open.filter(({ why }) => why === 'twoThere');
  const { rows: records } = merged.length
    ? await recordsOfMerged(
        database.pool,
        merged.map(({ contactId }) => contactId),
      )
    : { rows: [] };
  // Of a merged contact one question is asked, whatever the number of tools.
  const asked = open.filter(
    (row) => merged.find(({ contactId }) => contactId === row.contactId) === row || row.why !== 'twoThere',
  );
  return asked.map((row): ConflictEntry => {
    const of = connections.get(row.connectionId);
    const line = of?.setup.lines.find(({ id }) => id === row.line);
    const record = contacts.get(row.contactId)?.record;
    const link = links.find((one) => one.connectionId === row.connectionId && one.outsideId === row.outsideId);
    const newest = line && record ? newestOf(record, line, threads) : null;
    return {
      key: String(row.id),
      kind: KINDS[row.why] ?? 'value',
      connectionId: row.connectionId,
      connection: of?.name ?? '',
      look: of?.look ?? 0,
      tool: of?.kind ?? 'addressBook',
      contactId: row.contactId,
      name: contacts.get(row.contactId)?.display_name ?? '',
      field: line
        ? line.field === WHOLE_NAME
          ? 'Name'
          : catalogue.nameOf(line.field)
        : (of?.setup.lists?.find(({ id }) => id === row.line)?.label ?? ''),
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
      also:
        row.why === 'twoThere'
          ? records
              .filter((one) => one.contact_id === row.contactId && one.connection_id !== row.connectionId)
              .map(({ connection: name, look, tool, seen }) => ({
                connection: name,
                look,
                tool,
                text: [nameThere(seen, catalogue), ...contactLines(seen)],
              }))
          : [],
      at: row.createdAt.toISOString(),
    };
  });
}

const KINDS: Partial<Record<PlannedConflict['why'], ConflictEntry['kind']>> = {
  twoThere: 'two',
  removal: 'removal',
  byHand: 'list',
};

/** Questions who somebody over there is, with everybody who it may be. */
export async function whoQuestions(database: Database, asking: readonly LinkRow[]): Promise<ConflictEntry[]> {
  if (!asking.length) return [];
  const connections = new Map((await database.db.select().from(connection)).map((row) => [row.id, row]));
  const catalogue = await loadCatalogue(database.db);
  const found = await contactsWithRoots(
    database.pool,
    asking.flatMap(({ candidates }) => candidates.map(Number)),
  );
  const contacts = new Map(found.map((row) => [row.id, row]));
  return asking.map((row): ConflictEntry => ({
    key: `${row.connectionId}:${row.outsideId}`,
    kind: 'who',
    connectionId: row.connectionId,
    connection: connections.get(row.connectionId)?.name ?? '',
    look: connections.get(row.connectionId)?.look ?? 0,
    tool: connections.get(row.connectionId)?.kind ?? 'addressBook',
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
    also: [],
    at: row.updatedAt.toISOString(),
  }));
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
