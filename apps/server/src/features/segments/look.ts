import {
  allOf,
  blanksOf,
  isBlank,
  testsIn,
  withAnswers,
  withTests,
  type Condition,
  type NumberSpan,
  type Test,
  type TestValue,
} from '@gray-loom/core/segments';
import type { SegmentLook, SegmentLookRequest } from '@gray-loom/wire';
import { seesPart } from '../../db/actor';
import type { Database } from '../../db/connect';
import { contactPage, countConditions, PlaceMarks, readyCondition, type ReadyFilter } from '../contacts';
import { refuse } from './refusals';
import { checkedCondition, requireSegment } from './segments';
import { countsOf, nearest, sampledCounts, sizeOfBook } from './statements/look';

/** People shown while a segment is built. */
const SHOWN = 8;
const NEAR = 12;
/** Contacts of a sample; fewer are counted as they are. */
const SAMPLE = 4000;

/** Where in a condition the tests stand that are counted alone, with the blanks filled. */
function testsToCount(condition: Condition, answers: Record<string, TestValue>): Condition[] {
  return testsIn(condition).map((test) => withAnswers(test, answers));
}

/** What a condition finds: how many, by each test alone, the first of them, and who is just beside. */
export async function lookAtCondition(database: Database, request: SegmentLookRequest): Promise<SegmentLook> {
  const asked = await checkedCondition(database, request.condition);
  for (const answer of Object.values(request.answers))
    if (isBlank(answer)) throw refuse.condition({ code: 'value', at: [] });
  const condition = await checkedCondition(database, withAnswers(asked, request.answers));
  if (request.of !== null) await requireSegment(database, request.of);
  const within = request.of === null ? [] : [request.of];
  const { pool } = database;
  const base = { find: '', kind: request.kind, deleted: false };
  const ready: ReadyFilter = { ...base, ...(await readyCondition(pool, condition, { within })) };
  const alone = await Promise.all(
    testsToCount(asked, request.answers).map(async (one): Promise<ReadyFilter> => ({
      ...base,
      ...(await readyCondition(pool, one, { within })),
    })),
  );
  const counts = await countTogether(database, [ready, ...alone], request.isQuick);
  const [total = 0, ...tests] = counts.counts;
  if (request.isQuick) return { total, isEstimate: counts.isEstimate, tests, rows: [], near: [] };
  const page = await contactPage(database, new PlaceMarks(), {
    ...base,
    where: JSON.stringify(ready.condition),
    sort: 'family',
    at: 0,
    limit: SHOWN,
    fields: '',
  });
  return {
    total,
    isEstimate: false,
    tests,
    rows: page.rows,
    near: await nearFits(database, asked, request, within),
  };
}

/** Counts several conditions in one look over the facts; a quick look takes a sample of a large book. */
async function countTogether(
  { pool, actor }: Database,
  filters: readonly ReadyFilter[],
  isQuick: boolean,
): Promise<{ counts: number[]; isEstimate: boolean }> {
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const parts = filters.map((filter) => countConditions(filter, add));
  const [first] = parts;
  if (!first) return { counts: [], isEstimate: false };
  const readsContact = parts.some(({ from }) => from.includes('contact c'));
  const statement = { sqls: parts.map(({ sql }) => sql), who: first.who, readsContact, values };
  const size = isQuick ? ((await sizeOfBook(pool)).rows[0]?.n ?? 0) : 0;
  if (size > SAMPLE * 2) {
    const share = SAMPLE / size;
    const { rows } = await sampledCounts(pool, { ...statement, isPart: seesPart(actor) }, share * 100);
    const { seen = 0, counts = [] } = rows[0] ?? {};
    const factor = seen ? size / seen : 0;
    return { counts: counts.map((n) => Math.round(n * factor)), isEstimate: true };
  }
  const { rows } = await countsOf(pool, statement);
  return { counts: rows[0]?.counts ?? [], isEstimate: false };
}

/** Whoever meets everything but a blank that was answered with a number, by how far they are from it. */
async function nearFits(
  { pool }: Database,
  asked: Condition,
  { answers, kind }: SegmentLookRequest,
  within: readonly number[],
): Promise<SegmentLook['near']> {
  const [blank] = blanksOf(asked).filter(({ ask, test }) => numberOf(test, answers[ask]) !== null);
  if (!blank) return [];
  const n = numberOf(blank.test, answers[blank.ask]) ?? 0;
  const others = withTests(asked, (test) =>
    isBlank(test.value) && test.value.ask === blank.ask ? { field: test.field, op: 'present' } : test,
  );
  const missed: Condition = { ...blank.test, value: answers[blank.ask] as TestValue, not: true };
  const condition = withAnswers(allOf(others, missed), answers);
  const values: unknown[] = [];
  const add = (value: unknown) => `$${values.push(value)}`;
  const filter = { find: '', kind, deleted: false, ...(await readyCondition(pool, condition, { within })) };
  const parts = countConditions(filter, add);
  const { rows } = await nearest(pool, { ...parts, values }, blank.test, n, NEAR);
  return rows;
}

/** The one number that a test is answered with; null of what is no number. */
function numberOf({ op, not }: Test, value: TestValue | undefined): number | null {
  if (not || value === undefined) return null;
  if (op === 'holds') return value as number;
  if (op !== 'number' && op !== 'overlaps') return null;
  const { from, to } = value as NumberSpan;
  return from ?? to ?? null;
}
