import { inArray } from 'drizzle-orm';
import { isOneOf } from '@gray-loom/core/segments';
import type { ListLine } from '@gray-loom/core/syncing';
import type { ListDifference, ListStanding } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { segment } from '../../db/schema';
import { contactConditions, readyCondition } from '../contacts';
import { requireConnection } from './connections';
import { refuse } from './refusals';
import { askedByLine, countsThere, countMeeting, differencesOf, standingOfSegments } from './statements/lists';

/** People who are on one side of a list only that are told. */
const TOLD = 50;

const linesOf = async (
  database: Database,
  connectionId: number,
): Promise<{ lines: ListLine[]; known: Set<string> }> => {
  const { setup, capabilities } = await requireConnection(database, connectionId);
  return { lines: setup.lists ?? [], known: new Set(capabilities.knownLabels.map((label) => label.toLowerCase())) };
};

async function peopleTagged({ pool }: Database, tag: string): Promise<number> {
  const ready = await readyCondition(pool, isOneOf('tags', tag));
  const { rows } = await countMeeting(pool, contactConditions({ find: '', kind: 'person', deleted: false, ...ready }));
  return rows[0]?.n ?? 0;
}

/** How the lists of a connection stand to the segments and tags here. */
export async function listStandings(database: Database, connectionId: number): Promise<ListStanding[]> {
  const { lines, known } = await linesOf(database, connectionId);
  if (!lines.length) return [];
  const { pool, db } = database;
  const kept = lines.filter(({ direction }) => direction === 'out');
  const tags = lines.flatMap(({ direction, tag }) => (direction === 'in' ? [tag] : []));
  const [there, segments, tagged, asked, named] = await Promise.all([
    countsThere(pool, connectionId),
    standingOfSegments(pool, connectionId, kept),
    Promise.all(tags.map((tag) => peopleTagged(database, tag))),
    askedByLine(pool, connectionId),
    db
      .select({ id: segment.id, name: segment.name })
      .from(segment)
      .where(
        inArray(
          segment.id,
          kept.map((one) => one.segment),
        ),
      ),
  ]);
  const thereBy = new Map(there.rows.map(({ label, n }) => [label, n]));
  const countsBy = new Map(segments.rows.map((row) => [row.id, row]));
  const taggedBy = new Map(tags.map((tag, i) => [tag, tagged[i] ?? 0]));
  const askedBy = new Map(asked.rows.map((row) => [row.line, row]));
  const names = new Map(named.map(({ id, name }) => [id, name]));
  return lines.map(({ id, direction, segment: segmentId, tag, label }): ListStanding => {
    const counts = countsBy.get(id);
    const open = askedBy.get(id);
    const there = thereBy.get(label.toLowerCase()) ?? 0;
    return {
      id,
      direction,
      segment: segmentId,
      name: direction === 'in' ? tag : (names.get(segmentId) ?? ''),
      label,
      isThere: known.has(label.toLowerCase()) || there > 0,
      here: direction === 'in' ? (taggedBy.get(tag) ?? 0) : (counts?.here ?? 0),
      there,
      notLinked: counts?.not_linked ?? 0,
      differs: (counts?.only_here ?? 0) + (counts?.only_there ?? 0),
      asked: open?.n ?? 0,
      lastAt: (counts?.last_at ?? open?.at ?? null)?.toISOString() ?? null,
    };
  });
}

/** Who is on one side of a list only, and why. */
export async function listDifferences(database: Database, connectionId: number, id: string): Promise<ListDifference[]> {
  const { lines } = await linesOf(database, connectionId);
  const line = lines.find((one) => one.id === id && one.direction === 'out');
  if (!line) throw refuse.noSuchList();
  const { rows } = await differencesOf(database.pool, connectionId, {
    segment: line.segment,
    label: line.label,
    limit: TOLD,
  });
  return rows.map(({ id: contactId, name, why }) => ({ contactId, name, why }));
}
