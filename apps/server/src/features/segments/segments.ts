import { isDeepStrictEqual } from 'node:util';
import { eq, sql } from 'drizzle-orm';
import type { ContactKind } from '@gray-loom/core/model';
import { checkFields, isOneOf, readCondition, retiredIn, testsIn, type Condition } from '@gray-loom/core/segments';
import type { SegmentChange, SegmentChoices, SegmentEvents, SegmentRequest, SegmentSummary } from '@gray-loom/wire';
import { loadCatalogue } from '../../book/picks';
import { askForReview } from '../../book/statements/renamed-picks';
import { touchSettings } from '../../book/touch-settings';
import { accountIdOf, hasRole, seesPart } from '../../db/actor';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { segment } from '../../db/schema';
import { tell } from '../../feed/events';
import { Refusal } from '../../http/refusal';
import { wholeCondition } from '../contacts';
import { refuse } from './refusals';
import {
  allSegments,
  connectionNames,
  countsOfDays,
  eventsOf,
  dropMembers,
  listsOf,
  colleagueNames,
  importNames,
  lockMembers,
  markForReview,
  membersSeen,
  movesSince,
  segmentNamed,
  segmentOf,
  segmentsFor,
  threadNames,
  type SegmentRow,
} from './statements/segments';

const DAYS_OF_MOVES = 30;
const DAYS_OF_COURSE = 60;

/** A segment by its name, whatever its case. */
export async function findSegment({ pool }: Database, name: string): Promise<{ id: number; kind: ContactKind } | null> {
  return (await segmentNamed(pool, name)).rows[0] ?? null;
}

/** A condition that came from outside, held to the fields there are. */
export async function checkedCondition({ db }: Pick<Database, 'db'>, given: unknown): Promise<Condition> {
  const read = readCondition(given);
  if (!read.ok) throw refuse.condition(read.error);
  const checked = checkFields(read.value, await loadCatalogue(db));
  if (!checked.ok) throw refuse.condition(checked.error);
  return checked.value;
}

/** What stands in a segment's way, in words. */
async function problemOf(
  database: Database,
  { id, condition }: SegmentRow,
  catalogue: Awaited<ReturnType<typeof loadCatalogue>>,
): Promise<string> {
  const fields = checkFields(condition, catalogue);
  if (!fields.ok) return 'It asks for a field that is not there any more, so that part of it finds nobody.';
  try {
    await wholeCondition(database.pool, condition, [id]);
  } catch (error) {
    if (error instanceof Refusal) return error.words;
    throw error;
  }
  const retired = retiredIn(condition, catalogue).map(({ name }) => name);
  return retired.length ? `It asks for ${retired.join(', ')}, which is retired; what is there counts on.` : '';
}

async function summarised(database: Database, rows: readonly SegmentRow[]): Promise<SegmentSummary[]> {
  const { pool, actor } = database;
  const ids = rows.map(({ id }) => id);
  const isPart = seesPart(actor);
  const [seen, moves, days, catalogue] = await Promise.all([
    isPart ? membersSeen(pool, ids) : null,
    movesSince(pool, ids, DAYS_OF_MOVES),
    // Of a part of the book no course is kept.
    isPart ? null : countsOfDays(pool, ids, DAYS_OF_COURSE),
    loadCatalogue(database.db),
  ]);
  const mine = accountIdOf(actor);
  return Promise.all(
    rows.map(async (row): Promise<SegmentSummary> => {
      const moved = moves.rows.find(({ id }) => id === row.id);
      const members = seen ? (seen.rows.find(({ id }) => id === row.id)?.n ?? 0) : row.members;
      return {
        id: row.id,
        name: row.name,
        description: row.description,
        kind: row.kind,
        condition: row.condition,
        isShared: row.account_id === null,
        isMine: mine !== null && row.made_by === mine,
        by: row.by ?? '',
        changedAt: row.changed_at.toISOString(),
        members: row.reviewed_at ? members : null,
        isPart,
        entered: moved?.entered ?? 0,
        left: moved?.left ?? 0,
        days: days?.rows.filter(({ id }) => id === row.id).map(({ day, n }) => ({ day, n })) ?? [],
        problem: await problemOf(database, row, catalogue),
      };
    }),
  );
}

/** Everybody's segments and one's own, by name. */
export async function listSegments(database: Database): Promise<SegmentSummary[]> {
  return summarised(database, (await segmentsFor(database.pool, accountIdOf(database.actor))).rows);
}

/** What conditions refer to by number. */
export async function segmentChoices(database: Database): Promise<SegmentChoices> {
  const { pool, actor } = database;
  const [segments, connections, threads, runs, colleagues] = await Promise.all([
    segmentsFor(pool, accountIdOf(actor)),
    connectionNames(pool),
    threadNames(pool),
    importNames(pool),
    colleagueNames(pool),
  ]);
  return {
    segments: segments.rows.map(({ id, name, kind }) => ({ id, name, kind })),
    connections: connections.rows,
    threads: threads.rows,
    runs: runs.rows,
    colleagues: colleagues.rows,
  };
}

/** A segment that whoever asks may see. */
export async function requireSegment(database: Pick<Database, 'pool' | 'actor'>, id: number): Promise<SegmentRow> {
  const [row] = (await segmentOf(database.pool, id)).rows;
  if (!row || (row.account_id !== null && row.account_id !== accountIdOf(database.actor))) throw refuse.noSuchSegment();
  return row;
}

export async function segmentDetail(database: Database, id: number): Promise<SegmentSummary> {
  const [summary] = await summarised(database, [await requireSegment(database, id)]);
  if (!summary) throw refuse.noSuchSegment();
  return summary;
}

async function refuseTaken(tx: Tx, name: string, id: number | null): Promise<void> {
  const [taken] = (await segmentNamed(tx.client, name)).rows;
  if (taken && taken.id !== id) throw refuse.nameTaken({ name });
}

/** Keeps a condition under a name; who is in it is worked out behind. */
export async function makeSegment(database: Database, request: SegmentRequest): Promise<number> {
  const condition = await checkedCondition(database, request.condition);
  return inTransaction(database, async (tx) => {
    await refuseTaken(tx, request.name, null);
    // What asks for itself is found before it is kept.
    await wholeCondition(tx.client, condition);
    const accountId = accountIdOf(database.actor);
    const [made] = await tx.db
      .insert(segment)
      .values({
        name: request.name,
        description: request.description,
        kind: request.kind,
        condition,
        accountId: request.isShared ? null : accountId,
        madeBy: accountId,
      })
      .returning({ id: segment.id });
    await askForReview(tx.client);
    await tell(tx.client, { topic: 'segments' });
    return made?.id ?? 0;
  });
}

/** Keeps a segment that finds everybody an import brought or touched; where its name is taken, with a number behind it. */
export async function keepImportSegment(tx: Tx, name: string, runId: number): Promise<void> {
  let free = name;
  for (let n = 2; (await segmentNamed(tx.client, free)).rows.length; n++) free = `${name} (${n})`;
  await tx.db.insert(segment).values({
    name: free,
    condition: isOneOf('@run', String(runId)),
    madeBy: accountIdOf(tx.actor),
    runId,
  });
  await askForReview(tx.client);
  await tell(tx.client, { topic: 'segments' });
}

/** A segment is changed by whoever made it, and by an administrator. */
function refuseOthers({ actor }: Database, row: SegmentRow): void {
  if (!hasRole(actor, 'administrator') && row.made_by !== accountIdOf(actor))
    throw refuse.notYours({ by: row.by ?? 'Somebody else' });
}

/** Segments that ask for one, directly or by another. */
async function askingFor(tx: Tx, id: number): Promise<SegmentRow[]> {
  const { rows } = await allSegments(tx.client);
  const asking = new Set([id]);
  for (let grown = true; grown;) {
    grown = false;
    for (const row of rows)
      if (!asking.has(row.id) && segmentsIn(row.condition).some((one) => asking.has(one))) grown = !!asking.add(row.id);
  }
  return rows.filter((row) => row.id !== id && asking.has(row.id));
}

const segmentsIn = (condition: Condition): number[] =>
  testsIn(condition).flatMap(({ field, value }) =>
    field === '@segment' && Array.isArray(value) ? value.map(Number) : [],
  );

export async function changeSegment(database: Database, id: number, change: SegmentChange): Promise<void> {
  const condition = change.condition === undefined ? undefined : await checkedCondition(database, change.condition);
  await inTransaction(database, async (tx) => {
    const row = await requireSegment(database, id);
    refuseOthers(database, row);
    if (change.name !== undefined) await refuseTaken(tx, change.name, id);
    if (condition) await wholeCondition(tx.client, condition, [id]);
    const isOther = condition !== undefined && !isDeepStrictEqual(condition, row.condition);
    await tx.db
      .update(segment)
      .set({
        ...(change.name === undefined ? {} : { name: change.name }),
        ...(change.description === undefined ? {} : { description: change.description }),
        ...(condition ? { condition } : {}),
        ...(change.isShared === undefined ? {} : { accountId: change.isShared ? null : row.made_by }),
        changedAt: sql`clock_timestamp()`,
      })
      .where(eq(segment.id, id));
    if (isOther) {
      // Whoever asks for it means other people from now on, too.
      await markForReview(tx.client, [id, ...(await askingFor(tx, id)).map((one) => one.id)]);
      await askForReview(tx.client);
    }
    await tell(tx.client, { topic: 'segments' });
  });
}

export async function dropSegment(database: Database, id: number): Promise<void> {
  await inTransaction(database, async (tx) => {
    const row = await requireSegment(database, id);
    refuseOthers(database, row);
    const [asking] = await askingFor(tx, id);
    if (asking) throw refuse.askedFor({ by: asking.name });
    const { rhythms } = await touchSettings(tx.client);
    if (rhythms.some((one) => 'segmentId' in one && one.segmentId === id)) throw refuse.hasRhythm();
    const { rows: lists } = await listsOf(tx.client, id);
    if (lists[0]) throw refuse.isList(lists[0]);
    await lockMembers(tx.client);
    await dropMembers(tx.client, id);
    await tx.db.delete(segment).where(eq(segment.id, id));
    await tell(tx.client, { topic: 'segments' });
  });
}

/** Who entered and left, newest first. */
export async function segmentEvents(
  database: Database,
  id: number,
  { before, limit }: { before?: number | undefined; limit: number },
): Promise<SegmentEvents> {
  await requireSegment(database, id);
  const { rows } = await eventsOf(database.pool, id, before ?? null, limit + 1);
  return {
    events: rows.slice(0, limit).map((row) => ({
      id: row.id,
      entered: row.entered,
      cause: row.cause,
      contactId: row.contact_id,
      name: row.name,
      runId: row.run_id,
      run: row.run ?? '',
      at: row.at.toISOString(),
    })),
    more: rows.length > limit,
  };
}
