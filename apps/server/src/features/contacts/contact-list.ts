import { showValue } from '@gray-loom/core/fields';
import type { Value } from '@gray-loom/core/model';
import { seesPart } from '../../db/actor';
import type { Database } from '../../db/connect';
import type { ContactListRow, ContactPage, ContactPageRequest, PermissionChannel } from '@gray-loom/wire';
import { stopsOf } from './permissions';
import {
  countOf,
  extraOf,
  FIND_LIMIT,
  NEAR,
  rowsOf,
  sortedSource,
  textsToLookAt,
  walkedSource,
  type Count,
  type Row,
} from './statements/contact-list';
import type { PlaceMarks } from './place-marks';

const MAY_BE_STOPPED_AT = 14;
/** Rows passed over one by one within a remit, where each stands for many of others. */
const NEAR_WITHIN = 100;

function showAll(field: string, values: Value[] | null): string {
  return [...(values ?? [])]
    .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.slot - b.slot)
    .map((value) => showValue(field, value))
    .join('; ');
}

function toListRow(
  row: Row,
  extra: readonly string[],
  stops: ReadonlyMap<number, PermissionChannel[]>,
): ContactListRow {
  const [id, name, givenFirst, email, tel, organization, stage, source, owner, area, tags, completeness, ...more] = row;
  const [lastThread, touchedAt, , extraValues] = more;
  return {
    id,
    name,
    givenFirst,
    email,
    tel,
    organization,
    stage,
    source,
    owner,
    area,
    tags,
    completeness,
    stops: stops.get(id) ?? [],
    extra: Object.fromEntries(extra.map((field, i) => [field, showAll(field, extraValues?.[i] ?? null)])),
    lastThread,
    touchedAt: new Date(touchedAt).toISOString(),
  };
}

/** One page of contacts from any place in the list: the nearest place mark leads there, so depth costs next to nothing. */
export async function contactPage(
  database: Pick<Database, 'pool' | 'actor'>,
  marks: PlaceMarks,
  request: ContactPageRequest,
): Promise<ContactPage> {
  const { pool } = database;
  const near =
    request.at < (seesPart(database.actor) ? NEAR_WITHIN : NEAR)
      ? null
      : await marks.before(database, request, request.at);
  const sought = request.find !== '' && !near && request.sort !== 'touched';
  const texts = await textsToLookAt(pool, request);
  let page = sought ? await rowsOf(pool, request, sortedSource(request, texts)) : null;
  let count: Count | null = page ? { total: page.total ?? 0, totalIsLeast: false } : null;
  if (count && count.total > FIND_LIMIT) count = { total: FIND_LIMIT, totalIsLeast: true };
  if (!page || count?.totalIsLeast) {
    const source = walkedSource(request, near, texts);
    const [walked, counted] = await Promise.all([
      rowsOf(pool, request, source),
      count ?? (source.total ? null : countOf(pool, request, texts)),
    ]);
    page = walked;
    count = counted ?? { total: page.total ?? 0, totalIsLeast: false };
  }
  count ??= await countOf(pool, request, texts);
  const { rows } = page;
  const stops = await stopsOf(
    { pool },
    rows.filter((row) => row[MAY_BE_STOPPED_AT]).map(([id, , , email, tel]) => ({ id, email, tel })),
  );
  const extra = extraOf(request);
  const end = request.at + rows.length;
  const whole = rows.length === request.limit;
  return {
    at: request.at,
    rows: rows.map((row) => toListRow(row, extra, stops)),
    total: whole ? Math.max(count.total, end) : count.totalIsLeast ? end : count.total,
    totalIsLeast: count.totalIsLeast && whole,
  };
}
